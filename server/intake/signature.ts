import { Webhook } from "standardwebhooks";
import { sameText } from "../same-text.ts";

/** How far a delivery's own time may lie from ours (ms), by the Standard Webhooks recommendation. */
const TOLERANCE = 300_000;
/** While a secret changes a delivery may carry several; nobody needs more than these. */
const MOST_SIGNATURES = 8;

/**
 * Whether a delivery carries a valid Standard Webhooks signature, made within five minutes of one of
 * `clocks` (epoch ms). Rehearsal has two: the world outside does not move with the desk's clock.
 */
export function isSigned(
  secret: string,
  raw: Buffer,
  headers: Readonly<Record<string, string>>,
  clocks: readonly number[],
): boolean {
  const id = headers["webhook-id"];
  const stamp = Number(headers["webhook-timestamp"]);
  const given = headers["webhook-signature"];
  if (!id || !given || !Number.isInteger(stamp)) return false;
  if (!clocks.some((now) => Math.abs(now - stamp * 1000) <= TOLERANCE)) return false;
  const expected = new Webhook(secret).sign(id, new Date(stamp * 1000), raw.toString("utf8"));
  return given.split(" ", MOST_SIGNATURES).some((one) => sameText(one, expected));
}

import { createHash } from "node:crypto";
import { ALERTS } from "../../core/policy/alerts.ts";
import type { AlertAbout } from "../../core/vocabulary.ts";
import type { Parcel } from "../channels/channel.ts";
import type { OutboxRow } from "../db/schema.ts";

/** From so many on, alerts of one moment for one person go as one message. */
const MANY = 3;
/** So many go one by one within a minute (ms); what comes on top waits for its end and goes as one. */
const ONE_BY_ONE = 3;
const MINUTE = 60_000;
/** So many of them are told whole; the others are counted. */
const TOLD = 8;

/** What is somebody's to take, or to call at once, is theirs alone and waits for nothing. */
const ALONE: ReadonlySet<string> = new Set<AlertAbout>(["hand-off", "standby", "nudge"]);

type Row = Pick<OutboxRow, "id" | "channel" | "toAddress" | "purpose" | "attempts" | "createdAt" | "nextAt">;

/** Whether an alert may go with others: not what is somebody's alone, no short text, and nothing that failed once already. */
export const goesWithOthers = ({ channel, purpose, attempts }: Row): boolean =>
  purpose in ALERTS && !ALONE.has(purpose) && channel !== "text" && attempts === 0;

/** Of alerts that are due, those that go in one message with the first: only itself when they are few. */
export function goingWith<T extends Row>(first: T, due: readonly T[]): readonly T[] {
  const held = first.nextAt > first.createdAt;
  const alike = due.filter(
    (row) =>
      row.channel === first.channel &&
      row.toAddress === first.toAddress &&
      row.nextAt === first.nextAt &&
      // What was held overnight says so; what is urgent was not.
      (!held || row.createdAt < row.nextAt) &&
      goesWithOthers(row),
  );
  return alike.length >= MANY ? alike : [first];
}

/**
 * How many messages each address has had lately: a person whose chat fills by the minute reads none of it. Kept in memory:
 * after a restart somebody may get a few more, one by one.
 */
export class Lately {
  readonly #sent = new Map<string, number[]>();

  /** When the next alert for an address may go (epoch ms): now, or when the minute is over that has had enough of them. */
  nextFor({ channel, toAddress }: Row, now: number): number {
    const sent = this.#since(`${channel} ${toAddress}`, now);
    return sent.length < ONE_BY_ONE ? now : sent[0]! + MINUTE;
  }

  went({ channel, toAddress }: Row, now: number): void {
    const key = `${channel} ${toAddress}`;
    this.#sent.set(key, [...this.#since(key, now), now]);
  }

  #since(key: string, now: number): readonly number[] {
    // A clock that was set back has had nothing yet.
    const sent = (this.#sent.get(key) ?? []).filter((at) => at > now - MINUTE && at <= now);
    if (sent.length === 0) this.#sent.delete(key);
    return sent;
  }
}

/** Several alerts as one message, each with its own link in its words; `list` is where the rest of many stands. */
export function digest(parcels: readonly Parcel[], list: string): Parcel {
  const [first] = parcels;
  const heading = `${parcels.length} things for you`;
  const more = parcels.length - TOLD;
  const ids = createHash("sha256")
    .update(parcels.map((p) => p.id).join(" "))
    .digest("base64url");
  return {
    ...first!,
    key: `digest:${first!.channel}:${first!.toAddress}:${ids.slice(0, 24)}`,
    subject: first!.channel === "email" ? heading : null,
    body: [
      `*${heading}*`,
      ...parcels.slice(0, TOLD).map((p) => p.body),
      ...(more > 0 ? [`and ${more} more: ${list}`] : []),
    ].join("\n\n"),
    html: null,
    url: null,
  };
}

import { createHmac } from "node:crypto";
import { sameText } from "../same-text.ts";

/** Fields our own form adds: a signed time of opening, and one no person sees. */
export const TOKEN = "kb_token";
export const HONEYPOT = "kb_website";

const IF_A_PERSON = "Take it in as it is if it is a person’s.";

/** A person takes at least so long (ms) from opening a form to sending it. */
const LEAST = 2_500;
/** From one address so many forms a minute are looked at as they are; more are held back. */
const HELD_FROM = 12;
const MINUTE = 60_000;
/** So many addresses are remembered at once; when there are more, those not heard of for a minute go. */
const REMEMBERED = 10_000;

/**
 * Keeps robots from filling the desk, without asking anybody else who they are: a field people don't see, a least
 * time, and a rate per address. Only what comes from a browser is asked; a company's own server has no browser.
 */
export class Guard {
  readonly #secret: string;
  readonly #now: () => number;
  readonly #recent = new Map<string, number[]>();

  /** `now` is the machine's own time: it is people's seconds that are measured. */
  constructor(secret: string, now: () => number) {
    this.#secret = secret;
    this.#now = now;
  }

  #sign(key: string, at: number): string {
    return createHmac("sha256", this.#secret).update(`${key} ${at}`).digest("base64url").slice(0, 22);
  }

  /** A token that says when the form was opened. */
  token(sourceKey: string): string {
    const at = this.#now();
    return `${at.toString(36)}.${this.#sign(sourceKey, at)}`;
  }

  /** Why a form sent from `address` waits in quarantine for a person to look at it; null when it does not. */
  judge(
    sourceKey: string,
    fields: Readonly<Record<string, string>>,
    address: string,
    fromBrowser: boolean,
  ): string | null {
    const token = fields[TOKEN];
    if (!token && !fromBrowser && !fields[HONEYPOT]) return null;
    const count = this.#count(address);
    if (fields[HONEYPOT])
      return `It looks like a robot's: the field people don't see was filled in. ${IF_A_PERSON}`;
    if (count > HELD_FROM)
      return `It came with more than ${HELD_FROM - 1} others within a minute from one address. ${IF_A_PERSON}`;
    if (!token) return null;
    const [time = "", signature = ""] = token.split(".");
    const at = Number.parseInt(time, 36);
    if (!sameText(signature, this.#sign(sourceKey, at)))
      return `It carries a form's token that is none of ours. ${IF_A_PERSON}`;
    if (this.#now() - at < LEAST)
      return `The form was sent faster than a person can fill it in. ${IF_A_PERSON}`;
    return null;
  }

  #count(address: string): number {
    const now = this.#now();
    const recent = (this.#recent.get(address) ?? []).filter((t) => t > now - MINUTE);
    recent.push(now);
    const before = recent.length > HELD_FROM ? recent.slice(-HELD_FROM - 1) : recent;
    // Moved to the end: the map is in the order in which addresses were heard of last.
    this.#recent.delete(address);
    this.#recent.set(address, before);
    for (const [key, times] of this.#recent) {
      if (this.#recent.size <= REMEMBERED && times.at(-1)! >= now - MINUTE) break;
      this.#recent.delete(key);
    }
    return recent.length;
  }
}

import { createHmac } from "node:crypto";

/** Fields our own form adds: a signed time of opening, and one no person sees. */
export const TOKEN = "kb_token";
export const HONEYPOT = "kb_website";

const IF_A_PERSON = "Replay it if it is a person's.";

/** Whether a reason of the quarantine is that it looked like a robot's: only somebody who has looked may replay it. */
export function isHeldBack(reason: string | null): boolean {
  return reason?.endsWith(IF_A_PERSON) ?? false;
}

/** A person takes at least so long (ms) from opening a form to sending it. */
const LEAST = 2_500;
/** From one address so many forms a minute are looked at as they are; more are held back; very many refused. */
const HELD_FROM = 12;
const REFUSED_FROM = 60;
const MINUTE = 60_000;

export type Verdict =
  | { readonly kind: "fine" }
  /** Kept in quarantine: a person decides. */
  | { readonly kind: "held"; readonly reason: string }
  /** Not even kept: somebody is flooding the door. */
  | { readonly kind: "refused"; readonly retrySeconds: number };

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

  /** What to do with a form sent from `address`. */
  judge(
    sourceKey: string,
    fields: Readonly<Record<string, string>>,
    address: string,
    fromBrowser: boolean,
  ): Verdict {
    const token = fields[TOKEN];
    if (!token && !fromBrowser && !fields[HONEYPOT]) return { kind: "fine" };
    const count = this.#count(address);
    if (count > REFUSED_FROM) return { kind: "refused", retrySeconds: 60 };
    if (fields[HONEYPOT])
      return {
        kind: "held",
        reason: `It looks like a robot's: the field people don't see was filled in. ${IF_A_PERSON}`,
      };
    if (count > HELD_FROM)
      return {
        kind: "held",
        reason: `It came with ${count - 1} others within a minute from one address. ${IF_A_PERSON}`,
      };
    if (token) {
      const [time = "", signature = ""] = token.split(".");
      const at = Number.parseInt(time, 36);
      if (signature !== this.#sign(sourceKey, at))
        return {
          kind: "held",
          reason: `It carries a form's token that is none of ours. ${IF_A_PERSON}`,
        };
      if (this.#now() - at < LEAST)
        return {
          kind: "held",
          reason: `The form was sent faster than a person can fill it in. ${IF_A_PERSON}`,
        };
    }
    return { kind: "fine" };
  }

  #count(address: string): number {
    const now = this.#now();
    const recent = (this.#recent.get(address) ?? []).filter((t) => t > now - MINUTE);
    recent.push(now);
    this.#recent.set(address, recent.slice(-REFUSED_FROM - 1));
    // Nobody's address is kept longer than it matters.
    if (this.#recent.size > 10_000)
      for (const [key, times] of this.#recent) if (times.at(-1)! < now - MINUTE) this.#recent.delete(key);
    return recent.length;
  }
}

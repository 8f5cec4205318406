import { Webhook } from "standardwebhooks";
import type { KeptValues } from "../db/kept.ts";
import type { Sealer } from "../db/sealer.ts";

/** So long (ms) a secret that was replaced still signs beside the new one: time to enter that at the other side. */
export const BOTH_FOR = 24 * 3_600_000;

const nameOf = (hookId: string) => `hook:${hookId}`;
const beforeOf = (hookId: string) => `hook-before:${hookId}`;
const untilOf = (hookId: string) => `hook-before-until:${hookId}`;

/** A secret as Standard Webhooks writes it. */
export const newSecret = (): string =>
  `whsec_${Buffer.from(crypto.getRandomValues(new Uint8Array(24))).toString("base64")}`;

/** The secrets other systems check us by: kept sealed, and two of them valid while one is being replaced. */
export class HookSecrets {
  readonly #kept: KeptValues;
  readonly #sealer: Sealer;
  readonly #now: () => number;
  /** Opened once: unsealing costs more than signing. */
  readonly #open = new Map<string, Webhook>();

  constructor(kept: KeptValues, sealer: Sealer, now: () => number) {
    this.#kept = kept;
    this.#sealer = sealer;
    this.#now = now;
  }

  has(hookId: string): boolean {
    return this.#kept.secret(nameOf(hookId)) !== null;
  }

  /** Until when a secret that was replaced still signs (epoch ms); null when there is none. */
  bothUntil(hookId: string): number | null {
    const until = this.#kept.counter(untilOf(hookId)) ?? 0;
    return until > this.#now() && this.#kept.secret(beforeOf(hookId)) !== null ? until : null;
  }

  keep(hookId: string, secret: string): void {
    this.#kept.keepSecret(nameOf(hookId), this.#sealer.seal(secret));
  }

  /** Put a new secret in the place of the one in use, which signs too for a day. Gives the new one. */
  rotate(hookId: string): string {
    const before = this.#kept.secret(nameOf(hookId));
    if (before !== null) {
      this.#kept.keepSecret(beforeOf(hookId), before);
      this.#kept.setCounter(untilOf(hookId), this.#now() + BOTH_FOR);
    }
    const secret = newSecret();
    this.keep(hookId, secret);
    return secret;
  }

  /** The secret that was replaced signs no more. */
  endRotation(hookId: string): void {
    this.#kept.dropSecret(beforeOf(hookId));
  }

  /** The signatures of a body, one for each secret in use, as the header has them; null without a secret that can be read. */
  sign(hookId: string, id: string, at: Date, body: string): string | null {
    const sealed = [
      this.#kept.secret(nameOf(hookId)),
      this.bothUntil(hookId) === null ? null : this.#kept.secret(beforeOf(hookId)),
    ];
    const signed = sealed.flatMap((one) => (one === null ? [] : (this.#by(one)?.sign(id, at, body) ?? [])));
    return signed.length > 0 ? signed.join(" ") : null;
  }

  #by(sealed: string): Webhook | null {
    const known = this.#open.get(sealed);
    if (known) return known;
    const secret = this.#sealer.open(sealed);
    if (!secret) return null;
    if (this.#open.size > 200) this.#open.clear();
    const made = new Webhook(secret);
    this.#open.set(sealed, made);
    return made;
  }
}

import { RateLimiterMemory } from "rate-limiter-flexible";

/** Wrong passwords an account takes within so many seconds before it is shut for as long, from anywhere new. */
const WRONG = { points: 10, duration: 900 };
/** Mails with a link for a new password, per account. */
const RESETS = { points: 3, duration: 3_600 };
/** From how many places somebody is remembered to have signed in. */
const MOST_KNOWN = 5_000;

/**
 * Limits by account, beside those by address: whoever has many addresses tries no more passwords. Where somebody has
 * signed in before they are counted for themselves, so that a stranger who guesses does not shut them out.
 */
export class SignInLimits {
  readonly #wrong = new RateLimiterMemory(WRONG);
  readonly #resets = new RateLimiterMemory(RESETS);
  readonly #known = new Set<string>();

  #key(email: string, network: string): string {
    const from = `${email} ${network}`;
    return this.#known.has(from) ? from : email;
  }

  /** Seconds to wait before this account may be tried again from there; 0 when it may be now. */
  async wait(email: string, network: string): Promise<number> {
    const state = await this.#wrong.get(this.#key(email, network));
    return state && state.remainingPoints <= 0 ? Math.ceil(state.msBeforeNext / 1000) : 0;
  }

  /** A password was right or wrong. */
  async tried(email: string, network: string, right: boolean): Promise<void> {
    const key = this.#key(email, network);
    if (!right) {
      await this.#wrong.consume(key).catch(() => {});
      return;
    }
    await this.#wrong.delete(key);
    if (this.#known.size >= MOST_KNOWN) this.#known.clear();
    this.#known.add(`${email} ${network}`);
  }

  /** Whether one more link for a new password may be sent to this account now. */
  async mayReset(email: string): Promise<boolean> {
    return this.#resets.consume(email).then(
      () => true,
      () => false,
    );
  }
}

import { RateLimiterMemory } from "rate-limiter-flexible";

/** Over so many seconds the calls of a key are counted. */
const WINDOW = 60;

/** How a key stands with its calls. */
export interface CallLimit {
  readonly allowed: boolean;
  /** As answers say it. Source: draft-ietf-httpapi-ratelimit-headers (`RateLimit-Policy`, `RateLimit`) and RFC 9110, 10.2.3 (`Retry-After`). */
  readonly headers: Readonly<Record<string, string>>;
}

/** How many calls a program may make with one key: enough for any that works, and no more than the desk bears beside its people. */
export class CallLimits {
  readonly #limiter: RateLimiterMemory;
  readonly #most: number;

  /** `most` in a minute. */
  constructor(most: number) {
    this.#most = most;
    this.#limiter = new RateLimiterMemory({ points: most, duration: WINDOW });
  }

  /** Count a call of a key. Never rejects. */
  async count(keyId: string): Promise<CallLimit> {
    const state = await this.#limiter.consume(keyId).then(
      (left) => ({ left: left.remainingPoints, ms: left.msBeforeNext, allowed: true }),
      (refused: { msBeforeNext: number }) => ({ left: 0, ms: refused.msBeforeNext, allowed: false }),
    );
    const seconds = Math.max(1, Math.ceil(state.ms / 1000));
    return {
      allowed: state.allowed,
      headers: {
        "ratelimit-policy": `"key";q=${this.#most};w=${WINDOW}`,
        ratelimit: `"key";r=${state.left};t=${seconds}`,
        ...(!state.allowed && { "retry-after": String(seconds) }),
      },
    };
  }
}

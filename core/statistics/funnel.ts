/** What chance alone leaves likely of a count: outside of 95 % one looks, outside of 99.8 % it is hardly chance. */
export interface Limits {
  readonly expected: number;
  readonly low95: number;
  readonly high95: number;
  readonly low998: number;
  readonly high998: number;
}

/** From so many on the distribution of the count is as good as normal. */
const NORMAL_FROM = 600;
const [Z95, Z998] = [1.959_964, 3.090_232];

/**
 * The limits of how many of some come to something by chance, when each has a chance of its own (0 to 1): the count is
 * Poisson-binomial, reckoned exactly up to 600, and by its mean and variance above. Inside of both limits of a pair lies at
 * least what it says.
 *
 * Source: control limits as Spiegelhalter 2005 draws them for comparing providers; the distribution by its definition (Wang
 * 1993). Without any it is all zero. Never throws.
 */
export function limitsOf(chances: readonly number[]): Limits {
  const expected = chances.reduce((sum, p) => sum + p, 0);
  const n = chances.length;
  if (n >= NORMAL_FROM) {
    const deviation = Math.sqrt(chances.reduce((sum, p) => sum + p * (1 - p), 0));
    const at = (z: number) => Math.min(n, Math.max(0, expected + z * deviation));
    return { expected, low95: at(-Z95), high95: at(Z95), low998: at(-Z998), high998: at(Z998) };
  }
  const likely = new Float64Array(n + 1);
  likely[0] = 1;
  chances.forEach((p, i) => {
    for (let k = i + 1; k > 0; k--) likely[k] = likely[k]! * (1 - p) + likely[k - 1]! * p;
    likely[0]! *= 1 - p;
  });
  return {
    expected,
    low95: below(likely, 0.025),
    high95: n - below(likely.toReversed(), 0.025),
    low998: below(likely, 0.001),
    high998: n - below(likely.toReversed(), 0.001),
  };
}

/** The greatest count below which there lies no more than `tail`. */
function below(likely: Float64Array, tail: number): number {
  let sum = 0;
  for (let k = 0; k < likely.length; k++) {
    sum += likely[k]!;
    if (sum > tail) return k;
  }
  return likely.length - 1;
}

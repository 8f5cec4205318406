import jstat from "jstat";

/**
 * The exact 95 % interval of what is expected where `count` were counted, Poisson (Garwood 1936, by chi-squared). Never
 * throws.
 */
export function poissonInterval(count: number): { readonly low: number; readonly high: number } {
  return {
    low: count === 0 ? 0 : jstat.chisquare.inv(0.025, 2 * count) / 2,
    high: jstat.chisquare.inv(0.975, 2 * (count + 1)) / 2,
  };
}

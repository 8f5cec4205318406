/** z of a two-sided 95 % interval. */
const Z = 1.959_964;

/**
 * The Wilson score interval of a share, 95 %: where the true share lies when `hits` of `all` were seen.
 * Source: Wilson 1927; checked against Newcombe 1998. Without cases it is everything, 0 to 1.
 */
export function wilson(hits: number, all: number): { readonly low: number; readonly high: number } {
  if (all === 0) return { low: 0, high: 1 };
  const p = hits / all;
  const z2 = Z * Z;
  const middle = p + z2 / (2 * all);
  const reach = Z * Math.sqrt((p * (1 - p)) / all + z2 / (4 * all * all));
  const under = 1 + z2 / all;
  return { low: Math.max(0, (middle - reach) / under), high: Math.min(1, (middle + reach) / under) };
}

/**
 * The 95 % interval of the difference of two shares, a − b: Newcombe’s hybrid of two Wilson intervals.
 * Source: Newcombe 1998 (method 10). Never throws.
 */
export function wilsonDifference(
  a: { readonly hits: number; readonly all: number },
  b: { readonly hits: number; readonly all: number },
): { readonly difference: number; readonly low: number; readonly high: number } {
  const p = a.all === 0 ? 0 : a.hits / a.all;
  const q = b.all === 0 ? 0 : b.hits / b.all;
  const one = wilson(a.hits, a.all);
  const other = wilson(b.hits, b.all);
  return {
    difference: p - q,
    low: Math.max(-1, p - q - Math.hypot(p - one.low, other.high - q)),
    high: Math.min(1, p - q + Math.hypot(one.high - p, q - other.low)),
  };
}

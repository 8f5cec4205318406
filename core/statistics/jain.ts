/**
 * Jain's index of how evenly something is spread (Jain, Chiu, Hawe 1984): 1 when all have the same, k/n when k of n
 * share it equally. Shares are what each has over what each should have; null when nobody should have any.
 */
export function jainIndex(shares: readonly number[]): number | null {
  if (shares.length === 0) return null;
  const sum = shares.reduce((a, b) => a + b, 0);
  const squares = shares.reduce((a, b) => a + b * b, 0);
  return squares === 0 ? 1 : (sum * sum) / (shares.length * squares);
}

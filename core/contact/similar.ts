/**
 * Jaro–Winkler similarity of two strings, 0 (nothing alike) to 1 (equal), with Winkler's prefix scale 0.1 over
 * at most four characters. Symmetric. Source: Winkler 1990, by its published examples.
 */
export function jaroWinkler(a: string, b: string): number {
  const base = jaro(a, b);
  let prefix = 0;
  while (prefix < 4 && prefix < a.length && a[prefix] === b[prefix]) prefix++;
  return base + prefix * 0.1 * (1 - base);
}

function jaro(a: string, b: string): number {
  if (a === b) return 1;
  if (a.length === 0 || b.length === 0) return 0;
  const reach = Math.max(0, Math.floor(Math.max(a.length, b.length) / 2) - 1);
  const taken = new Uint8Array(b.length);
  const found: string[] = [];
  for (let i = 0; i < a.length; i++) {
    const to = Math.min(b.length - 1, i + reach);
    for (let j = Math.max(0, i - reach); j <= to; j++) {
      if (taken[j] || a[i] !== b[j]) continue;
      taken[j] = 1;
      found.push(a[i]!);
      break;
    }
  }
  const m = found.length;
  if (m === 0) return 0;
  let moved = 0;
  let k = 0;
  for (let j = 0; j < b.length; j++) if (taken[j] && b[j] !== found[k++]) moved++;
  return (m / a.length + m / b.length + (m - moved / 2) / m) / 3;
}

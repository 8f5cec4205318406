import { timingSafeEqual } from "node:crypto";

/** Whether two texts are the same, in a time that tells nothing of where they differ: for signatures and keys. */
export function sameText(a: string, b: string): boolean {
  const [x, y] = [Buffer.from(a), Buffer.from(b)];
  return x.length === y.length && timingSafeEqual(x, y);
}

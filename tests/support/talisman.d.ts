declare module "talisman/metrics/jaro-winkler" {
  /** Similarity of two strings, 0 to 1. */
  export default function jaroWinkler(a: string, b: string): number;
}

declare module "talisman/metrics/jaro-winkler" {
  /** Similarity of two strings, 0 to 1. */
  export default function jaroWinkler(a: string, b: string): number;
}

declare module "talisman/metrics/damerau-levenshtein" {
  /** How many typing errors two strings are apart. */
  export default function damerauLevenshtein(a: string, b: string): number;
}

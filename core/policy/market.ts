export interface Product {
  readonly key: string;
  readonly name: string;
  /** Typical value of one sale, in the company's currency. */
  readonly value: number;
  readonly alsoCalled: readonly string[];
}

export interface Territory {
  readonly key: string;
  readonly name: string;
  readonly zone: string;
  readonly country: "US" | "CA";
  readonly language: string;
  readonly areaCodes: readonly string[];
  /** Beginnings of postal codes, upper case without spaces. */
  readonly postalPrefixes: readonly string[];
}

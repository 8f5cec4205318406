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
  /** ISO 3166-1 alpha-2. */
  readonly country: string;
  /** What is spoken there, unless a lead says otherwise: ISO 639-1. */
  readonly language: string;
  /** As they are dialled there, with a leading 0 or without. */
  readonly areaCodes: readonly string[];
  /** Beginnings of postal codes, upper case without spaces. */
  readonly postalPrefixes: readonly string[];
}

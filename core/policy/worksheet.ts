/** What is typed into a worksheet, or taken from the lead. */
export interface WorksheetInput {
  readonly key: string;
  readonly name: string;
  readonly type: "number" | "money" | "percent";
  /** The fact it is filled in from: `value`, or a number of the company's own, as `own.key`. */
  readonly from?: string | null | undefined;
  /** What stands there when nothing is known, as a decimal. */
  readonly usual?: string | null | undefined;
}

/** One line: its amount by a formula over inputs and the lines before it. */
export interface WorksheetLine {
  readonly key: string;
  readonly name: string;
  readonly formula: string;
  /** Whether it stands on the document, or is only reckoned with. */
  readonly shown: boolean;
  /** Rounded to whole multiples of this, as a decimal; to the smallest coin where nothing is said. */
  readonly roundTo?: string | null | undefined;
}

/** What stands on the company's documents beside figures. */
export interface DocumentLayout {
  readonly paper: "LETTER" | "A4";
  /** Who sends it, under the company's name: lines of address, numbers. */
  readonly sender: string;
  /** At the foot of each page. */
  readonly footer: string;
}

export const PLAIN_LAYOUT: DocumentLayout = { paper: "LETTER", sender: "", footer: "" };

/** How an estimate is reckoned. */
export interface Worksheet {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  /** The product it is for; any when null. */
  readonly product: string | null;
  readonly inputs: readonly WorksheetInput[];
  readonly lines: readonly WorksheetLine[];
  /** The line that is the price before tax. */
  readonly total: string;
  /** Percent, as a decimal; `0` for none. */
  readonly tax: string;
  readonly taxName: string;
  /** Days the price holds. */
  readonly validDays: number;
  /** What stands under the lines. */
  readonly terms: string;
}

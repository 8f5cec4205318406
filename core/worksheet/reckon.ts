import Decimal from "decimal.js";
import { decimalsOf, type Minor, nearestMinor } from "../money/money.ts";
import type { Worksheet, WorksheetInput } from "../policy/worksheet.ts";
import { reckon, toMultiple } from "./formula.ts";

/** One line of an estimate; amounts in the smallest unit of its currency. */
export interface EstimateLine {
  readonly key: string;
  readonly name: string;
  readonly amount: Minor;
  readonly shown: boolean;
}

/** What a worksheet comes to. `net` is the price before tax, `total` what is to be paid. */
export interface Reckoned {
  readonly lines: readonly EstimateLine[];
  readonly inputs: readonly { readonly key: string; readonly name: string; readonly value: string }[];
  readonly net: Minor;
  readonly tax: Minor;
  readonly total: Minor;
}

export interface WorksheetFault {
  /** `inputs.area`, `lines.price`. */
  readonly path: string;
  readonly message: string;
  /** Where in a formula, counting from 0. */
  readonly at?: number;
}

export type Outcome =
  | ({ readonly ok: true } & Reckoned)
  | { readonly ok: false; readonly faults: readonly WorksheetFault[] };

/** A written number as a decimal: `140,000`, `$ 1 200.50`, `65%`; null when it is none. */
export function readDecimal(written: string | number): Decimal | null {
  const bare = String(written)
    .trim()
    .replace(/^[$€£]|[$€£%]$|[\s\u00a0'’]/g, "")
    .replace(/,(?=\d{3}(\D|$))/g, "");
  return /^-?\d{1,13}(\.\d{1,10})?$/.test(bare) ? new Decimal(bare) : null;
}

/** What an input means in formulas: a percentage is its hundredth. */
const meant = ({ type }: WorksheetInput, value: Decimal) => (type === "percent" ? value.div(100) : value);

/**
 * Work a worksheet out. Inputs are taken as they are written; lines are reckoned in order, each by the inputs and the
 * lines above it, rounded where they say so, and what later lines see is the rounded amount: the figures on the document
 * add up. Never throws; every fault names its input or line.
 */
export function workOut(
  sheet: Worksheet,
  written: Readonly<Record<string, string | number>>,
  currency: string,
): Outcome {
  const faults: WorksheetFault[] = [];
  const known: Record<string, Decimal> = {};
  const inputs: { key: string; name: string; value: string }[] = [];
  for (const input of sheet.inputs) {
    const text = String(written[input.key] ?? input.usual ?? "").trim();
    const value = text ? readDecimal(text) : null;
    if (!value)
      faults.push({
        path: `inputs.${input.key}`,
        message: text
          ? `${input.name}: “${text.slice(0, 40)}” is not a number.`
          : `${input.name} is missing.`,
      });
    else {
      known[input.key] = meant(input, value);
      inputs.push({ key: input.key, name: input.name, value: value.toString() });
    }
  }
  if (faults.length > 0) return { ok: false, faults };
  const lines: EstimateLine[] = [];
  for (const { key, name, formula, shown, roundTo } of sheet.lines) {
    const result = reckon(formula, known);
    if (!result.ok) {
      faults.push({ path: `lines.${key}`, message: `${name}: ${result.message}`, at: result.at });
      continue;
    }
    const multiple = roundTo ? readDecimal(roundTo) : null;
    const rounded = multiple?.gte("0.0001")
      ? toMultiple(result.value, multiple, Decimal.ROUND_HALF_UP)
      : result.value;
    const amount = nearestMinor(rounded, currency);
    // A line that is not shown is an amount between: it keeps what it has beyond the smallest coin.
    known[key] = shown ? new Decimal(amount).div(scale(currency)) : rounded;
    lines.push({ key, name, amount, shown });
  }
  if (faults.length > 0) return { ok: false, faults };
  const net = lines.find((l) => l.key === sheet.total)?.amount ?? lines.at(-1)?.amount ?? 0;
  const percent = readDecimal(sheet.tax) ?? new Decimal(0);
  const tax = nearestMinor(new Decimal(net).div(scale(currency)).times(percent).div(100), currency);
  return { ok: true, lines, inputs, net, tax, total: net + tax };
}

const scale = (currency: string) => new Decimal(10).pow(decimalsOf(currency));

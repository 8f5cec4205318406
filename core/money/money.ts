import Decimal from "decimal.js";

/** Sums are kept in the currency's smallest unit, as whole numbers: cents, or yen. */
export type Minor = number;

/** The largest sum that is taken (major units): far above any deal, far below where whole numbers end. */
export const MOST = 1e12;

const known = new Map<string, number>();

/** How many decimals a currency has, by ISO 4217 as the platform knows it: 2 for USD, 0 for JPY, 3 for KWD. */
export function decimalsOf(currency: string): number {
  let decimals = known.get(currency);
  if (decimals === undefined) {
    decimals =
      new Intl.NumberFormat("en", { style: "currency", currency }).resolvedOptions().maximumFractionDigits ??
      2;
    known.set(currency, decimals);
  }
  return decimals;
}

/**
 * A sum as people and programs write it, `41000.50`, in the smallest unit; null when it is no sum, is larger than
 * {@link MOST}, or has more decimals than the currency. Never throws.
 */
export function toMinor(amount: number | string, currency: string): Minor | null {
  const text = String(amount).trim();
  if (!/^-?\d{1,15}(\.\d{1,15})?$/.test(text)) return null;
  const minor = new Decimal(text).times(new Decimal(10).pow(decimalsOf(currency)));
  return minor.isInteger() && minor.abs().lte(MOST * 10 ** decimalsOf(currency)) ? minor.toNumber() : null;
}

/** A kept sum in the currency's whole unit, as it is written on the wire: 4100050 is 41000.5. */
export const fromMinor = (minor: Minor, currency: string): number =>
  new Decimal(minor).div(new Decimal(10).pow(decimalsOf(currency))).toNumber();

/** The nearest kept sum to an amount that may have any decimals: half a unit is rounded away from zero. */
export const nearestMinor = (amount: Decimal.Value, currency: string): Minor =>
  new Decimal(amount)
    .times(new Decimal(10).pow(decimalsOf(currency)))
    .toDecimalPlaces(0, Decimal.ROUND_HALF_UP)
    // Nothing is nothing, whichever way it was taken off.
    .plus(0)
    .toNumber();

const sayers = new Map<string, Intl.NumberFormat>();

/** A kept sum as people read it: `$41,000`, and `$41,000.50` where there are parts. */
export function sayMoney(minor: Minor, currency: string): string {
  const whole = minor % 10 ** decimalsOf(currency) === 0;
  const key = `${currency}${whole}`;
  let sayer = sayers.get(key);
  if (!sayer) {
    sayer = new Intl.NumberFormat("en-US", {
      style: "currency",
      currency,
      ...(whole && { minimumFractionDigits: 0, maximumFractionDigits: 0 }),
    });
    sayers.set(key, sayer);
  }
  return sayer.format(fromMinor(minor, currency));
}

import { getCountryCallingCode, isSupportedCountry } from "libphonenumber-js";
import type { E164 } from "../contact/phone.ts";
import type { Territory } from "../policy/market.ts";

/** Territories by what a postal code or a number begins with. */
interface Index {
  readonly byPost: Beginnings;
  readonly byPhone: Beginnings;
}

interface Beginnings {
  readonly of: ReadonlyMap<string, Territory>;
  /** Lengths that occur, the longest first: what says more of a place counts before what says less. */
  readonly lengths: readonly number[];
}

const indexes = new WeakMap<readonly Territory[], Index>();

function beginnings(entries: readonly (readonly [string, Territory])[]): Beginnings {
  const of = new Map<string, Territory>();
  // Where two claim the same, the first on the list has it.
  for (const [beginning, territory] of entries)
    if (beginning && !of.has(beginning)) of.set(beginning, territory);
  const lengths = [...new Set([...of.keys()].map((b) => b.length))].sort((a, b) => b - a);
  return { of, lengths };
}

/** How numbers of an area begin in E.164: `+1303`, or `+649` for what is written 09 at home. */
export function areaBeginning(country: string, area: string): string | null {
  return isSupportedCountry(country)
    ? `+${getCountryCallingCode(country)}${area.replace(/\D/g, "").replace(/^0+/, "")}`
    : null;
}

function indexOf(territories: readonly Territory[]): Index {
  const known = indexes.get(territories);
  if (known) return known;
  const index = {
    byPost: beginnings(territories.flatMap((t) => t.postalPrefixes.map((p) => [p, t] as const))),
    byPhone: beginnings(
      territories.flatMap((t) => t.areaCodes.map((a) => [areaBeginning(t.country, a) ?? "", t] as const)),
    ),
  };
  indexes.set(territories, index);
  return index;
}

function longest({ of, lengths }: Beginnings, text: string): Territory | null {
  for (const length of lengths) {
    const found = length <= text.length && of.get(text.slice(0, length));
    if (found) return found;
  }
  return null;
}

/**
 * The sales territory by the longest known beginning of the postal code (upper case, no spaces), else of a phone
 * number; null when neither tells.
 */
export function findTerritory(
  territories: readonly Territory[],
  postalCode: string | null,
  phones: readonly E164[],
): Territory | null {
  const { byPost, byPhone } = indexOf(territories);
  const found = postalCode ? longest(byPost, postalCode) : null;
  if (found) return found;
  for (const phone of phones) {
    const there = longest(byPhone, phone);
    if (there) return there;
  }
  return null;
}

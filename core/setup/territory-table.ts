import { isSupportedCountry } from "libphonenumber-js";
import { headersOf, peekTable, rowFields, writeTable } from "../import/table.ts";
import type { Territory } from "../policy/market.ts";
import { isZone } from "../time/zone.ts";
import { isLanguage } from "./change-company.ts";

/** The most rows a table of territories has. */
const MOST_ROWS = 1_000;

/** What a column is taken for, by its heading. */
const COLUMNS: readonly [RegExp, keyof Territory][] = [
  [/^(name|territory|region)$/, "name"],
  [/^(country)$/, "country"],
  [/^(zone|time ?zone)$/, "zone"],
  [/^(language)$/, "language"],
  [/^(area ?codes?)$/, "areaCodes"],
  [/^(postal|postcode|zip|post)/, "postalPrefixes"],
];

export interface TerritoryTable {
  readonly territories: readonly Territory[];
  /** Rows that can't be used, counted from the heading as 1, each with what is wrong in words. */
  readonly wrong: readonly { readonly row: number; readonly said: string }[];
}

const list = (text: string | undefined) => (text ?? "").split(/[\s,;|]+/).filter(Boolean);

/**
 * Territories from a table with a heading: name, country (two letters), zone (IANA), language, area codes, and what
 * postal codes begin with; the last two parted by blanks. What a row leaves out is as in `usual`. Rows of the same name
 * are one territory. A table is read as far as `PEEKED` characters. Never throws.
 */
export function readTerritories(
  table: string,
  usual: Pick<Territory, "country" | "zone" | "language">,
): TerritoryTable {
  const { headers, rows: all } = peekTable(table, MOST_ROWS + 1);
  const rows = all.slice(0, MOST_ROWS);
  const meaning = new Map(
    headersOf(headers).flatMap((h) => {
      const found = COLUMNS.find(([pattern]) => pattern.test(h.trim().toLowerCase()));
      return found ? [[found[1], h] as const] : [];
    }),
  );
  if (!meaning.has("name"))
    return {
      territories: [],
      wrong: [{ row: 1, said: "The heading names no column “name”. It may be missing its first line." }],
    };
  const byName = new Map<string, Territory>();
  const wrong: { row: number; said: string }[] = [];
  if (all.length > MOST_ROWS)
    wrong.push({
      row: MOST_ROWS + 2,
      said: "It and what follows were not read: bring them as another table.",
    });
  for (const [i, cells] of rows.entries()) {
    const fields = rowFields(headers, cells);
    const of = (key: keyof Territory) => fields[meaning.get(key) ?? ""];
    const name = of("name") ?? "";
    const country = of("country")?.toUpperCase() ?? usual.country;
    const zone = of("zone") ?? usual.zone;
    const language = of("language")?.toLowerCase() ?? usual.language;
    const said = !name
      ? "It has no name."
      : !isSupportedCountry(country)
        ? `“${country}” is no country: two letters, as NZ.`
        : !isZone(zone)
          ? `“${zone}” is no zone: as Pacific/Auckland.`
          : isLanguage(language)
            ? null
            : `“${language}” is no language: two letters, as en.`;
    if (said) {
      wrong.push({ row: i + 2, said });
      continue;
    }
    const before = byName.get(name.toLowerCase());
    byName.set(name.toLowerCase(), {
      key: "",
      name: before?.name ?? name,
      country,
      zone,
      language,
      areaCodes: [...new Set([...(before?.areaCodes ?? []), ...list(of("areaCodes"))])],
      postalPrefixes: [
        ...new Set([...(before?.postalPrefixes ?? []), ...list(of("postalPrefixes")?.toUpperCase())]),
      ],
    });
  }
  return { territories: [...byName.values()], wrong };
}

/** The territories as such a table. */
export function writeTerritories(territories: readonly Territory[]): string {
  return writeTable(
    ["name", "country", "zone", "language", "area codes", "postal codes"],
    territories.map((t) => [
      t.name,
      t.country,
      t.zone,
      t.language,
      t.areaCodes.join(" "),
      t.postalPrefixes.join(" "),
    ]),
  );
}

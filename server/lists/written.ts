import { contactCard } from "../../core/book/card.ts";
import { writeTable } from "../../core/import/table.ts";
import { called } from "../../core/lead/called.ts";
import type { Lead } from "../../core/lead/lead.ts";
import { cellsOf, listColumns, valuesOf } from "../../core/words/columns.ts";
import type { Engine } from "../engine/engine.ts";
import type { Listed, Listing } from "../read/listing.ts";

/** As what a list of leads leaves the house. */
export const FORMATS = {
  csv: { name: "CSV table", type: "text/csv; charset=utf-8" },
  json: { name: "JSON", type: "application/json" },
  vcf: { name: "vCards", type: "text/vcard; charset=utf-8" },
} as const;
export type Format = keyof typeof FORMATS;

/** So many leads one file has at most. */
const MOST = 50_000;

export interface Written {
  readonly text: string;
  readonly count: number;
  /** Whether there were more than a file holds. */
  readonly cut: boolean;
}

interface Asked {
  readonly listed: Listed;
  readonly columns: readonly string[];
}

/** A lead as vCard 4.0, by what is known of it. */
function leadCard(lead: Lead, host: string, at: string): string {
  const company = lead.company === null ? null : { name: lead.company };
  const contact = {
    id: lead.id,
    name: called(lead),
    role: null,
    emails: lead.emails,
    phones: lead.phones,
    address: null,
    language: lead.facts.language,
  };
  return contactCard(contact, company, { host, at });
}

/** The leads of a list as a file, at most `most` of them; while it is gathered the desk goes on. */
export async function written(
  desk: Engine,
  listing: Listing,
  { listed, columns }: Asked,
  format: Format,
  most = MOST,
): Promise<Written> {
  const { setup, clock, links } = desk;
  const now = clock.now();
  const leads: Lead[] = [];
  let cut = false;
  for await (const lead of listing.all(listed)) {
    cut = leads.length === most;
    if (cut) break;
    leads.push(lead);
  }
  const count = leads.length;
  if (format === "vcf") {
    const at = new Date(now).toISOString().replace(/[-:]|\.\d+/g, "");
    const { host } = new URL(links.page("/"));
    return { text: leads.map((lead) => leadCard(lead, host, at)).join(""), count, cut };
  }
  if (format === "json") {
    const items = leads.map((lead) => ({ id: lead.id, ...valuesOf(lead, columns, setup, now) }));
    return {
      text: `${JSON.stringify({ at: new Date(now).toISOString(), items, cut }, null, 1)}\n`,
      count,
      cut,
    };
  }
  const names = new Map(listColumns(setup).map((c) => [c.key, c.name]));
  const head = columns.map((key) => names.get(key) ?? key);
  const rows = leads.map((lead) => {
    const cells = cellsOf(lead, columns, setup, now);
    return columns.map((key) => cells[key] ?? "");
  });
  return { text: writeTable(head, rows), count, cut };
}

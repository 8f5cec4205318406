import type { z } from "zod";
import { peekTable, rowFields } from "../../core/import/table.ts";
import { fromMinor, toMinor } from "../../core/money/money.ts";
import type { Setup } from "../../core/policy/setup.ts";
import { nameOf } from "../../core/policy/setup.ts";
import { type Problem, refuse } from "../../core/refusal.ts";
import type { Desk } from "../../server/desk.ts";
import { SpendRow, type SpendTable } from "../wire/figure-schemas.ts";

type Row = z.output<typeof SpendRow>;

/** So many rows of a table are read. */
const MOST_ROWS = 5_000;
/** So many problems of a table are told. */
const MOST_PROBLEMS = 20;

/** What was entered, the latest months first. */
export function keptSpend(desk: Desk): SpendTable {
  const { setup, spend } = desk;
  return {
    currency: setup.policies.company.currency,
    rows: spend.all().map(({ campaign, amount, at, by, ...row }) => ({
      ...row,
      ...(campaign && { campaign }),
      amount: fromMinor(amount, row.currency),
      source: setup.sources.find((s) => s.id === row.sourceId)?.name ?? `${row.sourceId} (no longer here)`,
      by: nameOf(setup, by),
      at: new Date(at).toISOString(),
    })),
  };
}

/** Keep what was entered, all of it or nothing; gives why not. */
export function saveSpend(desk: Desk, by: string, rows: readonly Row[]): Problem | null {
  const kept: { sourceId: string; campaign: string; month: string; amount: number; currency: string }[] = [];
  for (const [i, { sourceId, campaign = "", month, amount, currency }] of rows.entries()) {
    const path = `rows.${i}`;
    if (!sourceOf(desk.setup, sourceId))
      return refuse(
        "no-source",
        422,
        "No such source",
        `${path}.sourceId: there is no source “${sourceId}”.`,
        `${path}.sourceId`,
      ).problem;
    const minor = toMinor(amount, currency);
    if (minor === null)
      return refuse(
        "invalid",
        422,
        "No such amount",
        `${path}.amount: give an amount in ${currency} with no more decimals than it has.`,
        `${path}.amount`,
      ).problem;
    kept.push({ sourceId, campaign: campaign.trim(), month, amount: minor, currency });
  }
  desk.spend.keep(kept, by);
  return null;
}

const sourceOf = ({ sources }: Setup, written: string) => {
  const plain = written.trim().toLowerCase();
  return sources.find((s) => [s.id, s.key, s.name].some((name) => name.toLowerCase() === plain));
};

/** The rows of a table, and what is wrong with it by line. */
export function readSpend(desk: Desk, text: string): { readonly rows: Row[]; readonly problems: string[] } {
  const { headers, rows } = peekTable(text, MOST_ROWS + 1);
  const problems: string[] = [];
  const missing = ["source", "month", "amount"].filter(
    (h) => !headers.some((own) => own.toLowerCase() === h),
  );
  if (missing.length > 0)
    return {
      rows: [],
      problems: [`The table has no column “${missing.join("”, “")}”. Its first line names them.`],
    };
  if (rows.length > MOST_ROWS) return { rows: [], problems: ["5,000 lines are the most at once."] };
  const read: Row[] = [];
  for (const [i, row] of rows.entries()) {
    const fields = Object.fromEntries(
      Object.entries(rowFields(headers, row)).map(([name, value]) => [name.toLowerCase(), value.trim()]),
    );
    const source = sourceOf(desk.setup, fields.source ?? "");
    const checked = SpendRow.safeParse({
      sourceId: source?.id ?? "",
      campaign: fields.campaign || undefined,
      month: (fields.month ?? "").slice(0, 7),
      amount: Number((fields.amount ?? "").replace(/,/g, "")),
      currency: (fields.currency || desk.setup.policies.company.currency).toUpperCase(),
    });
    const line = `Line ${i + 2}`;
    if (!source) problems.push(`${line}, source: there is no source “${fields.source ?? ""}”.`);
    else if (!checked.success)
      problems.push(
        `${line}, ${checked.error.issues[0]!.path.join(".")}: ${checked.error.issues[0]!.message}`,
      );
    else if (toMinor(checked.data.amount, checked.data.currency) === null)
      problems.push(
        `${line}, amount: give an amount with no more decimals than ${checked.data.currency} has.`,
      );
    else read.push(checked.data);
    if (problems.length >= MOST_PROBLEMS) break;
  }
  return { rows: read, problems };
}

import { Temporal } from "temporal-polyfill";
import type { LetterPartKey } from "../../policy/letter.ts";
import type { EffortTold } from "../figures/effort.ts";
import type { PeopleTold } from "../figures/people.ts";
import type { ResponseAsked, ResponseTold } from "../figures/response.ts";
import type { Attribution, SourceGrouping, SourcesTold } from "../figures/sources.ts";
import type { Span } from "../figures/span.ts";
import { type StaffingAsked, type StaffingTold, USUAL_GOAL } from "../figures/staffing.ts";
import {
  costPart,
  effortPart,
  type LetterPart,
  offersPart,
  peoplePart,
  responsePart,
  sourcesPart,
  staffingPart,
} from "./parts.ts";

/** The weekly letter of figures: which days it tells of, what it asks, and how it is written. */

type Ask<A extends Span, T> = (asked: Omit<A, "now">) => Promise<T>;

/** Where a letter gets its figures from, as things stand now. */
export interface FigureAsks {
  readonly response: Ask<ResponseAsked, ResponseTold>;
  readonly effort: Ask<Span, EffortTold>;
  readonly sources: Ask<
    Span & { readonly by: SourceGrouping; readonly attribution: Attribution },
    SourcesTold
  >;
  readonly people: Ask<Span, PeopleTold>;
  readonly staffing: Ask<StaffingAsked, StaffingTold>;
}

type Days = Omit<Span, "now">;

/** The days a letter tells of. Times are epoch ms. */
export interface LetterDays {
  /** The seven days before the day it is written, the seven before them, and both. */
  readonly week: Days;
  readonly before: Days;
  readonly both: Days;
  /** Eight weeks up to then. */
  readonly eight: Days;
  /** The last whole month, and its name: `October 2026`. */
  readonly month: Days & { readonly name: string };
  /** `Mon 23 to Sun 29 November 2026`. */
  readonly said: string;
}

/** The days a letter that is written at a time tells of, on the desk's clock. */
export function daysOf(now: number, zone: string): LetterDays {
  const today = Temporal.Instant.fromEpochMilliseconds(now).toZonedDateTimeISO(zone).toPlainDate();
  const at = (date: Temporal.PlainDate) => date.toZonedDateTime(zone).epochMilliseconds;
  const back = (days: number) => at(today.subtract({ days }));
  const thisMonth = today.with({ day: 1 });
  const lastMonth = thisMonth.subtract({ months: 1 });
  const [first, last] = [today.subtract({ days: 7 }), today.subtract({ days: 1 })];
  const day = (date: Temporal.PlainDate, parts: Intl.DateTimeFormatOptions) =>
    date.toLocaleString("en-GB", { weekday: "short", day: "numeric", ...parts }).replace(",", "");
  const isOneMonth = first.month === last.month;
  return {
    week: { from: back(7), to: back(0) },
    before: { from: back(14), to: back(7) },
    both: { from: back(14), to: back(0) },
    eight: { from: back(56), to: back(0) },
    month: {
      from: at(lastMonth),
      to: at(thisMonth),
      name: lastMonth.toLocaleString("en-GB", { month: "long", year: "numeric" }),
    },
    said: `${day(first, isOneMonth ? {} : { month: "long" })} to ${day(last, { month: "long", year: "numeric" })}`,
  };
}

/** The parts that were chosen, in their order. Rejects where the figures can't be told. */
export function letterParts(
  chosen: readonly LetterPartKey[],
  ask: FigureAsks,
  { week, before, both, eight, month }: LetterDays,
): Promise<(LetterPart & { readonly key: LetterPartKey })[]> {
  const times = { clock: "desk", until: "try", by: null } as const;
  const bySource = { by: "source", attribution: "first" } as const;
  const tell: Readonly<Record<LetterPartKey, () => Promise<LetterPart>>> = {
    response: async () => responsePart(await ask.response({ ...both, ...times, split: week.from })),
    offers: async () => offersPart((await ask.response({ ...week, ...times, split: null })).offers),
    sources: async () =>
      sourcesPart(await ask.sources({ ...week, ...bySource }), await ask.sources({ ...before, ...bySource })),
    cost: async () => costPart(await ask.sources({ ...month, ...bySource }), month.name),
    people: async () => peoplePart(await ask.people(eight)),
    effort: async () => effortPart(await ask.effort(eight)),
    staffing: async () =>
      staffingPart(await ask.staffing({ ...eight, ...USUAL_GOAL, seconds: null, more: [] })),
  };
  return Promise.all(chosen.map(async (key) => ({ key, ...(await tell[key]()) })));
}

/** Words as CommonMark shows them, whatever stands in them. */
export const plainly = (words: string): string =>
  words.replace(/\s+/g, " ").replace(/[!-/:-@[-`{-~]/g, "\\$&");

/**
 * A letter as CommonMark with tables: what the mail is made of, as HTML and as text. `picture` gives the address of a part's
 * chart, null where it has none; `linkTo` that of a page.
 */
export function letterMarkdown(
  parts: readonly (LetterPart & { readonly key: LetterPartKey })[],
  title: string,
  picture: (key: LetterPartKey) => string | null,
  linkTo: (page: string) => string,
): string {
  const row = (cells: readonly string[]) => `| ${cells.map(plainly).join(" | ")} |`;
  return [
    `# ${plainly(title)}`,
    ...parts.flatMap(({ key, heading, said, chart, table, page }) => {
      const at = chart && picture(key);
      return [
        `## ${plainly(heading)}`,
        `${said.map(plainly).join(" ")}${at ? `\n![${plainly(chart.said)}](${at})` : ""}`,
        ...(table
          ? [
              [row(table.head), `|${table.head.map(() => " --- |").join("")}`, ...table.rows.map(row)].join(
                "\n",
              ),
            ]
          : []),
        `[See it whole](${linkTo(page)})`,
      ];
    }),
  ].join("\n\n");
}

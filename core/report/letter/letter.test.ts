import fc from "fast-check";
import { DateTime } from "luxon";
import { describe, expect, it } from "vitest";
import { tarnholt } from "../../../demo/tarnholt.ts";
import { account, offerOf, tryOf } from "../../../tests/support/accounts.ts";
import { atDesk, DAY, HOUR, MIN } from "../../../tests/support/memory.ts";
import { letterHtml, letterText } from "../../message/letter.ts";
import { LETTER_PART_KEYS } from "../../policy/letter.ts";
import type { Account, OfferAccount, TryAccount } from "../account.ts";
import { tellEffort } from "../figures/effort.ts";
import { tellPeople } from "../figures/people.ts";
import { tellResponse } from "../figures/response.ts";
import { type Spend, tellSources } from "../figures/sources.ts";
import type { Span } from "../figures/span.ts";
import { tellStaffing } from "../figures/staffing.ts";
import { daysOf, type FigureAsks, letterMarkdown, letterParts } from "./letter.ts";

const ZONE = "America/Denver";
const MONDAY = atDesk("2026-03-02T08:00:00");

interface Record {
  readonly accounts?: readonly Account[];
  readonly tries?: readonly TryAccount[];
  readonly offers?: readonly OfferAccount[];
  readonly spend?: readonly Spend[];
}

/** Figures over a few accounts, as the desk tells them over its record. */
function asks({ accounts = [], tries = [], offers = [], spend = [] }: Record, setup = tarnholt): FigureAsks {
  const at = <A>(asked: A) => ({ ...asked, now: MONDAY });
  const came = ({ from, to }: Omit<Span, "now">) => accounts.filter((a) => from <= a.came && a.came < to);
  const of = <T extends { readonly at: number }>(some: readonly T[], { from, to }: Omit<Span, "now">) =>
    some.filter((o) => from <= o.at && o.at < to);
  return {
    response: async (asked) => tellResponse(came(asked), of(offers, asked), at(asked), setup),
    effort: async (asked) => tellEffort(came(asked), tries, () => null, at(asked), setup),
    sources: async (asked) => tellSources(came(asked), () => null, spend, at(asked), setup),
    people: async (asked) =>
      tellPeople(
        came(asked),
        of(offers, asked),
        () => false,
        () => 0,
        at(asked),
        setup,
      ),
    staffing: async (asked) => tellStaffing(came(asked), tries, at(asked), setup),
  };
}

const write = async (record: Record, setup = tarnholt, parts = LETTER_PART_KEYS) => {
  const told = await letterParts(parts, asks(record, setup), daysOf(MONDAY, ZONE));
  return { told, of: (key: string) => told.find((p) => p.key === key)! };
};

/** So many leads that came some days before, tried after so many minutes. */
const leads = (count: number, daysBefore: number, minutes: number) =>
  Array.from({ length: count }, (_, i) => {
    const came = MONDAY - daysBefore * DAY + 4 * HOUR + i * MIN;
    return account({
      came,
      dueAt: came + 5 * MIN,
      triedAt: came + minutes * MIN,
      answeredAt: came + minutes * MIN,
    });
  });

describe("the days a letter tells of", () => {
  it.each([
    ["2026-03-02T08:00", "Mon 23 February to Sun 1 March 2026", "February 2026"],
    // The clock has gone forward the day before, and back.
    ["2026-03-09T08:00", "Mon 2 to Sun 8 March 2026", "February 2026"],
    ["2026-11-02T08:00", "Mon 26 October to Sun 1 November 2026", "October 2026"],
    ["2027-01-01T00:00", "Fri 25 to Thu 31 December 2026", "December 2026"],
  ])("written on %s: %s", (wall, said, month) => {
    const now = DateTime.fromISO(wall, { zone: ZONE });
    const days = daysOf(now.toMillis(), ZONE);
    const back = (n: number) => now.startOf("day").minus({ days: n }).toMillis();
    expect(days).toEqual({
      week: { from: back(7), to: back(0) },
      before: { from: back(14), to: back(7) },
      both: { from: back(14), to: back(0) },
      eight: { from: back(56), to: back(0) },
      month: {
        from: now.startOf("month").minus({ months: 1 }).toMillis(),
        to: now.startOf("month").toMillis(),
        name: month,
      },
      said,
    });
  });
});

describe("a letter of figures", () => {
  it("of a desk to which nothing came says so in each part, without a chart", async () => {
    const { told } = await write({});
    expect(told.map((p) => [p.key, p.said.length > 0, p.key === "staffing" || p.chart === null])).toEqual(
      LETTER_PART_KEYS.map((key) => [key, true, true]),
    );
  });

  it("says what can be said of two weeks: a difference, or no more than chance", async () => {
    const faster = await write({
      accounts: [...leads(50, 3, 2), ...leads(10, 3, 9), ...leads(10, 10, 2), ...leads(50, 10, 9)],
    });
    expect(faster.of("response").said.join(" ")).toMatch(
      /^60 leads came in; 60 the week before\. Half were tried within 2 min of .* within 9 min\. Within 5 min, 67 of 100 more were tried than the week before .*: hardly by chance\.$/,
    );
    const same = await write({
      accounts: [...leads(6, 3, 2), ...leads(5, 3, 9), ...leads(6, 10, 2), ...leads(6, 10, 9)],
    });
    expect(same.of("response").said.join(" ")).toContain("differ by no more than chance brings");
    expect(same.of("response").table!.rows.map((r) => r.slice(0, 2))).toEqual([
      ["This week", "11"],
      ["The week before", "12"],
    ]);
  });

  it("names who let offers lapse, what sources cost, and the hours with too few", async () => {
    const offers = [
      offerOf({ person: "p_luc", at: MONDAY - 2 * DAY, endedAt: MONDAY - 2 * DAY + MIN, how: "took" }),
      offerOf({ person: "p_luc", at: MONDAY - 2 * DAY, endedAt: MONDAY - 2 * DAY + 2 * MIN, how: "lapsed" }),
      // The week before is no part of it.
      offerOf({ person: "p_mara", at: MONDAY - 9 * DAY, endedAt: MONDAY - 9 * DAY + MIN, how: "took" }),
    ];
    const spend = [{ sourceId: "src_site", campaign: "", month: "2026-02", amount: 60_000, currency: "USD" }];
    const nobody = { ...tarnholt, people: tarnholt.people.map((p) => ({ ...p, left: true as const })) };
    const { of } = await write({ accounts: leads(60, 3, 2), offers, spend }, nobody);
    expect(of("offers").table!.rows).toEqual([["Luc Arsenault", "2", "1", "0", "1", "1 min"]]);
    expect(of("cost").heading).toBe("Cost in February 2026");
    expect(of("cost").said[0]).toBe("$600 were spent, and nobody was reached.");
    // 60 of nobody: with 95 of 100 certain fewer than 3.7 would be expected to be (Garwood), so more than $163 each.
    expect(of("cost").table!.rows).toEqual([
      ["Website: plan your sauna", "$600", "$10 ($7.77 to $13.10)", "over $162.65", "over $162.65"],
    ]);
    expect(of("staffing").said[0]).toBe(
      "In 1 hour of the week too few are on duty for 80 % tried within 5 min.",
    );
    // Three quarters of an erlang: one would be in time for 39 of 100, two for 93 (Erlang C by hand).
    expect(of("staffing").table!.rows).toEqual([["Fri 12:00", "7.5", "0", "2"]]);
  });

  const words = fc.oneof(
    fc.string({ unit: "binary", minLength: 1, maxLength: 30 }),
    fc.constantFrom(
      "a | b",
      "<img src=x onerror=y>",
      "[x](https://x.example)",
      "](cid:x)",
      "| --- |",
      "# x\n\n| a |",
    ),
  );
  const account$ = fc.record({
    came: fc.integer({ min: MONDAY - 60 * DAY, max: MONDAY - 1 }),
    waits: fc.option(fc.integer({ min: 0, max: 3 * DAY })),
    talks: fc.boolean(),
    source: fc.constantFrom("src_site", "src_barrel"),
    person: fc.constantFrom("p_luc", null),
  });
  it("is whole of whatever is in the record, and shows words of anybody’s as words", async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(account$, { maxLength: 60 }), words, async (made, name) => {
        const accounts = made.map(({ came, waits, talks, source, person }) => {
          const triedAt = waits === null ? null : Math.min(MONDAY, came + waits);
          return account({
            came,
            source,
            person,
            triedAt,
            talkedAt: talks ? triedAt : null,
            dueAt: came + 5 * MIN,
            tries: triedAt === null ? 0 : 1,
            talkedAtTry: talks && triedAt !== null ? 1 : null,
          });
        });
        const setup = { ...tarnholt, sources: tarnholt.sources.map((s) => ({ ...s, name })) };
        const { told } = await write(
          { accounts, tries: accounts.map((a) => tryOf({ leadId: a.leadId, at: a.came })) },
          setup,
        );
        const body = letterMarkdown(
          told,
          "A week",
          () => "cid:chart",
          (page) => `https://desk.example${page}`,
        );
        expect(body).not.toMatch(/NaN|Infinity|undefined|null/);
        const letter = { company: "T", body, unsubscribeUrl: null, because: null, isDrawn: true };
        const html = letterHtml(letter);
        const charts = told.filter((p) => p.chart);
        expect(html.match(/<img /g) ?? []).toHaveLength(charts.length);
        expect(html.match(/<a /g)).toHaveLength(told.length);
        expect(html).not.toMatch(/onerror=y>|href="https:\/\/x\.example/);
        const tables = told.flatMap((p) => (p.table ? [p.table] : []));
        for (const { head, rows } of tables) for (const row of rows) expect(row).toHaveLength(head.length);
        const cells = tables.reduce((sum, t) => sum + t.rows.length * t.head.length, 0);
        expect(html.match(/<td/g) ?? []).toHaveLength(cells);
        expect(letterText(letter)).toContain("How fast");
      }),
      { numRuns: 60 },
    );
  });
});

import { fromMinor, sayMoney } from "../../money/money.ts";
import type { EffortTold } from "../figures/effort.ts";
import type { Against, PeopleTold } from "../figures/people.ts";
import type { OffersTold, ResponseTold, ShareTold, WaitsTold } from "../figures/response.ts";
import type { CostTold, SourcesTold } from "../figures/sources.ts";
import type { StaffingTold } from "../figures/staffing.ts";
import { percent, sayHourOfWeek, sayMinutes } from "../words.ts";

/** A chart of a letter, as what it shows. Shares are 0 to 1. */
export type LetterChart =
  | {
      readonly kind: "lines";
      /** What it shows, in words: for whoever sees no pictures. */
      readonly said: string;
      readonly x: string;
      readonly isShare: boolean;
      readonly series: readonly {
        readonly name: string;
        readonly points: readonly (readonly [number, number])[];
      }[];
    }
  | {
      readonly kind: "bars";
      readonly said: string;
      readonly isShare: boolean;
      readonly isStacked: boolean;
      readonly names: readonly string[];
      readonly series: readonly { readonly name: string; readonly values: readonly (number | null)[] }[];
    };

export interface LetterTable {
  readonly head: readonly string[];
  readonly rows: readonly (readonly string[])[];
}

/** One part of the weekly letter. What is said is plain words. */
export interface LetterPart {
  readonly heading: string;
  readonly said: readonly string[];
  readonly chart: LetterChart | null;
  readonly table: LetterTable | null;
  /** Where it stands whole, in the app. */
  readonly page: string;
}

const many = (n: number, one: string, more: string) => `${n.toLocaleString("en")} ${n === 1 ? one : more}`;
const leads = (n: number) => many(n, "lead", "leads");

/** A share with the bounds of its interval. */
const shareWith = ({ share, low, high, n }: ShareTold) =>
  n === 0 ? "–" : `${percent(share)} (${percent(low)} to ${percent(high)})`;

/** So far the curve of a letter goes (minutes): what comes later is in the table. */
const CURVE_MINUTES = 120;

/** The week's waits against those of the week before: of figures that were split as the week began. */
export function responsePart(told: ResponseTold): LetterPart {
  const heading = "How fast";
  const page = "/figures?page=response";
  const { split } = told;
  if (!split || told.n === 0)
    return { heading, page, said: ["No lead came in, nor the week before."], chart: null, table: null };
  const { before, after } = split;
  const said = [
    `${leads(after.n)} came in; ${before.n.toLocaleString("en")} the week before.`,
    after.n === 0
      ? "There is nothing to answer for."
      : after.median.at === null
        ? "Fewer than half have been tried so far."
        : `Half were tried within ${sayMinutes(after.median.at)} of the desk’s open time${
            before.median.at === null ? "" : `; the week before within ${sayMinutes(before.median.at)}`
          }.`,
  ];
  if (after.censored > 0)
    said.push(
      `${leads(after.censored)} ${after.censored === 1 ? "waits" : "wait"} untried, or ${after.censored === 1 ? "was" : "were"} closed or set aside so.`,
    );
  said.push(...changeSaid(told));
  const row = (name: string, w: WaitsTold) => [
    name,
    String(w.n),
    String(w.censored),
    sayMinutes(w.quarter.at),
    sayMinutes(w.median.at),
    sayMinutes(w.threeQuarters.at),
    shareWith(w.inTarget),
  ];
  const line = (name: string, { curve }: typeof after) => ({
    name,
    points: curve.filter((p) => p.t <= CURVE_MINUTES).map(({ t, s }) => [t, 1 - s] as const),
  });
  return {
    heading,
    page,
    said,
    chart: {
      kind: "lines",
      said: "Tried after so many minutes, this week and the week before",
      x: "minutes of the desk’s open time",
      isShare: true,
      series: [line("this week", after), line("the week before", before)],
    },
    table: {
      head: ["", "Leads", "Untried", "A quarter", "Half", "Three quarters", "In target"],
      rows: [row("This week", after), row("The week before", before)],
    },
  };
}

/** What can be said of the difference between two weeks at the target. */
function changeSaid({ split, target }: ResponseTold): string[] {
  const at = split?.atTarget;
  if (!at || target === null || split.before.n === 0 || split.after.n === 0) return [];
  const points = Math.round(Math.abs(at.difference) * 100);
  const end = (x: number) => `${Math.round(Math.abs(x) * 100)} ${x < 0 ? "fewer" : "more"}`;
  const within = `Within ${sayMinutes(target)}`;
  if (at.low > 0 || at.high < 0)
    return [
      `${within}, ${points} of 100 ${at.difference > 0 ? "more" : "fewer"} were tried than the week before (from ${end(at.low)} to ${end(at.high)}): hardly by chance.`,
    ];
  return [
    `${within}, the two weeks differ by no more than chance brings (from ${end(at.low)} to ${end(at.high)} of 100).`,
  ];
}

export function offersPart(offers: readonly OffersTold[]): LetterPart {
  const heading = "Offers";
  const page = "/figures?page=response";
  const asked = offers.filter((o) => o.asked > 0);
  if (asked.length === 0)
    return { heading, page, said: ["Nobody was asked to take a lead."], chart: null, table: null };
  const sum = (of: (o: OffersTold) => number) => asked.reduce((total, o) => total + of(o), 0);
  return {
    heading,
    page,
    said: [
      `People were asked ${many(
        sum((o) => o.asked),
        "time",
        "times",
      )}: ${sum((o) => o.took.hits)} taken, ${sum((o) => o.passed)} passed, ${sum((o) => o.lapsed)} lapsed unanswered.`,
    ],
    chart: {
      kind: "bars",
      said: "Offers taken, passed and lapsed, by person",
      isShare: false,
      isStacked: true,
      names: asked.map((o) => o.name),
      series: [
        { name: "taken", values: asked.map((o) => o.took.hits) },
        { name: "passed", values: asked.map((o) => o.passed) },
        { name: "lapsed", values: asked.map((o) => o.lapsed) },
      ],
    },
    table: {
      head: ["Who", "Asked", "Taken", "Passed", "Lapsed", "Half taken within"],
      rows: asked.map((o) => [
        o.name,
        String(o.asked),
        String(o.took.hits),
        String(o.passed),
        String(o.lapsed),
        sayMinutes(o.median.at),
      ]),
    },
  };
}

/** What sources brought in the week, beside the week before. */
export function sourcesPart(week: SourcesTold, before: SourcesTold): LetterPart {
  const heading = "Sources";
  const page = "/figures?page=sources";
  const past = new Map(before.groups.map((g) => [g.key, g]));
  const now = new Map(week.groups.map((g) => [g.key, g]));
  const names = [...new Set([...now.keys(), ...past.keys()])]
    .map((key) => ({ now: now.get(key), past: past.get(key) }))
    .filter((g) => (g.now?.inquiries ?? 0) + (g.past?.inquiries ?? 0) > 0)
    .sort((a, b) => (b.now?.inquiries ?? 0) - (a.now?.inquiries ?? 0));
  if (names.length === 0)
    return { heading, page, said: ["Nothing came in, nor the week before."], chart: null, table: null };
  const nameOf = (g: (typeof names)[number]) => (g.now ?? g.past)!.name;
  const { whole } = week;
  return {
    heading,
    page,
    said: [
      `${many(whole.inquiries, "inquiry", "inquiries")} by ${leads(whole.leads)}; the week before ${before.whole.inquiries.toLocaleString("en")} by ${before.whole.leads.toLocaleString("en")}.`,
      `Reached so far: ${shareWith(whole.reached)}; ${week.qualifiedFrom} or further: ${shareWith(whole.qualified)}.`,
    ],
    chart: {
      kind: "bars",
      said: "Inquiries by source, this week and the week before",
      isShare: false,
      isStacked: false,
      names: names.map(nameOf),
      series: [
        { name: "this week", values: names.map((g) => g.now?.inquiries ?? 0) },
        { name: "the week before", values: names.map((g) => g.past?.inquiries ?? 0) },
      ],
    },
    table: {
      head: ["Source", "Inquiries", "Week before", "Reached", "Qualified", "Won"],
      rows: names.map((g) => [
        nameOf(g),
        String(g.now?.inquiries ?? 0),
        String(g.past?.inquiries ?? 0),
        ...(["reached", "qualified", "won"] as const).map((of) =>
          g.now && g.now[of].n > 0 ? `${g.now[of].hits} of ${g.now[of].n}` : "–",
        ),
      ]),
    },
  };
}

/** What leads cost in a month, `month` in words. */
export function costPart(told: SourcesTold, month: string): LetterPart {
  const heading = `Cost in ${month}`;
  const page = "/figures?page=sources";
  const spent = told.groups.filter((g) => g.spend !== null);
  if (spent.length === 0)
    return {
      heading,
      page,
      said: [`No spend has been entered for ${month}. Enter it under Figures, Sources.`],
      chart: null,
      table: null,
    };
  const money = (minor: number | null) => (minor === null ? "–" : sayMoney(Math.round(minor), told.currency));
  const units = (minor: number | null) =>
    minor === null ? null : Number(fromMinor(Math.round(minor), told.currency));
  const cost = ({ each, low, high }: CostTold) =>
    each === null
      ? `over ${money(low)}`
      : `${money(each)} (${money(low)} to ${high === null ? "any" : money(high)})`;
  return {
    heading,
    page,
    said: [
      told.whole.perReached.each === null
        ? `${money(told.whole.spend)} were spent, and nobody was reached.`
        : `${money(told.whole.spend)} were spent: ${money(told.whole.perInquiry.each)} an inquiry, ${money(told.whole.perReached.each)} for each lead that was reached.`,
      ...(told.elsewhere.length > 0
        ? [`Not counted: ${told.elsewhere.map((e) => sayMoney(e.amount, e.currency)).join(", ")}.`]
        : []),
    ],
    chart: {
      kind: "bars",
      said: `What an inquiry and a lead reached cost in ${month}, by source, in ${told.currency}`,
      isShare: false,
      isStacked: false,
      names: spent.map((g) => g.name),
      series: [
        { name: "an inquiry", values: spent.map((g) => units(g.perInquiry.each)) },
        { name: "a lead reached", values: spent.map((g) => units(g.perReached.each)) },
      ],
    },
    table: {
      head: ["Source", "Spent", "An inquiry", "One reached", "One won"],
      rows: spent.map((g) => [
        g.name,
        money(g.spend),
        cost(g.perInquiry),
        cost(g.perReached),
        cost(g.perWon),
      ]),
    },
  };
}

export function peoplePart({ people }: PeopleTold): LetterPart {
  const heading = "People, over eight weeks";
  const page = "/figures?page=people";
  const given = people.filter((p) => p.given > 0);
  if (given.length === 0)
    return { heading, page, said: ["Nobody was given a lead."], chart: null, table: null };
  const outside = given.filter((p) =>
    [p.inTarget, p.reached, p.won].some((o) => o.of > 0 && o.stands.endsWith("chance")),
  );
  const share = ({ count, of }: Against) => (of === 0 ? null : count / of);
  const cell = (o: Against) => (o.of === 0 ? "–" : `${o.count} of ${o.of}, ${o.stands}`);
  return {
    heading,
    page,
    said: [
      outside.length === 0
        ? "What each came to is what could be expected of the leads they were given; the rest is luck."
        : `Hardly by luck: ${outside.map((p) => p.name).join(", ")}. It may lie in which leads come to them: a standby’s are late already. For everybody else it is as could be expected.`,
    ],
    chart: {
      kind: "bars",
      said: "Tried within the target, and what could be expected of the same leads",
      isShare: true,
      isStacked: false,
      names: given.map((p) => p.name),
      series: [
        { name: "in target", values: given.map((p) => share(p.inTarget)) },
        {
          name: "expected",
          values: given.map((p) => (p.inTarget.of === 0 ? null : p.inTarget.expected / p.inTarget.of)),
        },
      ],
    },
    table: {
      head: ["Who", "Given", "In target", "Reached", "Won"],
      rows: given.map((p) => [p.name, String(p.given), cell(p.inTarget), cell(p.reached), cell(p.won)]),
    },
  };
}

export function effortPart({ nth, tries, leads: n }: EffortTold): LetterPart {
  const heading = "Effort, over eight weeks";
  const page = "/figures?page=effort";
  const told = nth.filter((t) => t.reached.n > 0);
  if (told.length === 0) return { heading, page, said: ["Nobody was tried."], chart: null, table: null };
  const last = told.at(-1)!;
  const nameOf = (t: (typeof told)[number]) => `${t.n}${t.orMore ? " or more" : ""}`;
  return {
    heading,
    page,
    said: [
      `${leads(n)} and ${many(tries, "try", "tries")}. The first try reached ${shareWith(told[0]!.reached)}; by the last, ${percent(last.soFar.share)} of those tried had been reached.`,
    ],
    chart: {
      kind: "bars",
      said: "Reached by each try of those not reached before it, and of all up to it",
      isShare: true,
      isStacked: false,
      names: told.map((t) => `try ${nameOf(t)}`),
      series: [
        { name: "by this try", values: told.map((t) => t.reached.share) },
        { name: "up to it", values: told.map((t) => t.soFar.share) },
      ],
    },
    table: {
      head: ["Try", "Leads", "Reached by it", "Reached up to it"],
      rows: told.map((t) => [nameOf(t), String(t.reached.n), shareWith(t.reached), percent(t.soFar.share)]),
    },
  };
}

/** So many hours with too few are named. */
const MOST_HOLES = 12;

export function staffingPart({ hours, goal, minutes }: StaffingTold): LetterPart {
  const heading = "Staffing, the week ahead";
  const page = "/figures?page=staffing";
  const open = hours.filter((h) => h.open);
  if (open.length === 0)
    return { heading, page, said: ["The desk has no open hours."], chart: null, table: null };
  const holes = open
    .filter((h) => (h.spare ?? 0) < 0)
    .sort((a, b) => a.spare! - b.spare! || a.hour - b.hour)
    .slice(0, MOST_HOLES);
  const aim = `${percent(goal)} tried within ${sayMinutes(minutes)}`;
  return {
    heading,
    page,
    said: [
      holes.length === 0
        ? `By their hours enough are on duty all week for ${aim}.`
        : `In ${many(open.filter((h) => (h.spare ?? 0) < 0).length, "hour", "hours")} of the week too few are on duty for ${aim}.`,
    ],
    chart: {
      kind: "bars",
      said: "On duty and needed in each open hour of the week",
      isShare: false,
      isStacked: false,
      names: open.map((h) => sayHourOfWeek(h.hour)),
      series: [
        { name: "on duty", values: open.map((h) => h.onDuty) },
        { name: "needed", values: open.map((h) => h.needed) },
      ],
    },
    table:
      holes.length === 0
        ? null
        : {
            head: ["Hour", "Come in", "On duty", "Needed"],
            rows: holes.map((h) => [
              sayHourOfWeek(h.hour),
              h.expected.toFixed(1),
              String(h.onDuty),
              h.needed === null ? "more than 500" : String(h.needed),
            ]),
          },
  };
}

import { Temporal } from "temporal-polyfill";
import type { Minor } from "../../money/money.ts";
import type { Setup } from "../../policy/setup.ts";
import { stagesOf } from "../../policy/stages.ts";
import { poissonInterval } from "../../statistics/poisson.ts";
import { STAGE } from "../../vocabulary.ts";
import { type Account, hasEntered } from "../account.ts";
import { type ShareTold, shareOf } from "./response.ts";
import { grouped, isAnswerable, nameOfKey, type Span } from "./span.ts";

export const ATTRIBUTIONS = ["first", "last"] as const;
/** Whether a lead counts for where its first inquiry came from, or its latest. */
export type Attribution = (typeof ATTRIBUTIONS)[number];

export const SOURCE_GROUPINGS = ["source", "campaign", "month"] as const;
export type SourceGrouping = (typeof SOURCE_GROUPINGS)[number];

/** What a source, or one of its campaigns, has cost in a month. */
export interface Spend {
  readonly sourceId: string;
  /** '' for the source as a whole. */
  readonly campaign: string;
  /** `2026-03`, of the desk's zone. */
  readonly month: string;
  readonly amount: Minor;
  readonly currency: string;
}

/** What a lead has brought: when it was first won, and for how much where a deal says so, in the company's currency. */
export interface Won {
  readonly at: number;
  readonly value: Minor;
}

/** What one of something has cost, in the smallest unit, and within which bounds: chance alone makes counts vary. */
export interface CostTold {
  readonly each: number | null;
  readonly low: number | null;
  /** Null where none was counted: it may cost anything. */
  readonly high: number | null;
}

export interface SourceTold {
  readonly key: string;
  readonly name: string;
  readonly inquiries: number;
  readonly leads: number;
  readonly reached: ShareTold;
  readonly qualified: ShareTold;
  readonly won: ShareTold;
  readonly value: Minor;
  /** In the company's currency; null where nothing was entered. */
  readonly spend: Minor | null;
  readonly perInquiry: CostTold;
  readonly perReached: CostTold;
  readonly perQualified: CostTold;
  readonly perWon: CostTold;
  /** Value won for each unit spent. */
  readonly return: number | null;
}

export interface SourcesTold {
  readonly currency: string;
  readonly groups: readonly SourceTold[];
  readonly whole: SourceTold;
  /** Money in other currencies, which is counted in no cost. */
  readonly elsewhere: readonly { readonly currency: string; readonly amount: Minor }[];
  /** The stage from which a lead counts as qualified. */
  readonly qualifiedFrom: string;
}

/** The month of the desk's zone something was in, `2026-03`. */
export function monthOf(at: number, zone: string): string {
  return Temporal.Instant.fromEpochMilliseconds(Math.floor(at))
    .toZonedDateTimeISO(zone)
    .toPlainDate()
    .toString()
    .slice(0, 7);
}

/** The months a span touches. */
export function monthsOf({ from, to }: Pick<Span, "from" | "to">, zone: string): readonly string[] {
  const months: string[] = [];
  let month = Temporal.PlainYearMonth.from(monthOf(from, zone));
  for (
    const last = monthOf(Math.max(from, to - 1), zone);
    month.toString() <= last;
    month = month.add({ months: 1 })
  )
    months.push(month.toString());
  return months;
}

/** The open stage before handing over: whoever has stood in it, or was handed over, is qualified. */
export function qualifiedStage({ policies }: Setup): { readonly key: string; readonly name: string } {
  const open = stagesOf(policies, "lead").filter((s) => s.kind === "open" && s.key !== STAGE.over);
  const last = open.at(-1);
  return { key: last?.key ?? STAGE.over, name: last?.name ?? STAGE.over };
}

/**
 * What sources brought and cost, by the leads that came in the span: what was won of them later counts where they came from
 * (their cohort). Spend is of the months the span touches, whole. Costs are Poisson's bounds of what was counted (Garwood). Never
 * throws.
 */
export function tellSources(
  all: readonly Account[],
  wonOf: (account: Account) => Won | null,
  spent: readonly Spend[],
  asked: Span & { readonly by: SourceGrouping; readonly attribution: Attribution },
  setup: Setup,
): SourcesTold {
  const accounts = all.filter(isAnswerable);
  const { policies } = setup;
  const { zone } = policies.desk;
  const { currency } = policies.company;
  const qualified = qualifiedStage(setup);
  const months = new Set(monthsOf(asked, zone));
  const spend = spent.filter((s) => months.has(s.month));
  const sourceOf = (a: Account) => (asked.attribution === "first" ? a.source : a.lastSource);
  const campaignOf = (a: Account) => (asked.attribution === "first" ? a.campaign : a.lastCampaign);
  const keys = {
    source: { of: sourceOf, spent: (s: Spend) => s.sourceId },
    campaign: {
      of: (a: Account) => `${sourceOf(a)}${BETWEEN}${campaignOf(a) ?? ""}`,
      spent: (s: Spend) => `${s.sourceId}${BETWEEN}${s.campaign}`,
    },
    month: { of: (a: Account) => monthOf(a.came, zone), spent: (s: Spend) => s.month },
  }[asked.by];
  const tell = (key: string, some: readonly Account[], money: readonly Spend[]) =>
    tellOne(key, nameOf(key, asked.by, setup), some, money, { wonOf, qualified: qualified.key });
  const byKey = new Map(grouped(accounts, keys.of));
  const own = spend.filter((s) => s.currency === currency);
  const named = [...new Set([...byKey.keys(), ...own.map(keys.spent)])].filter((k) => k !== null);
  const groups = named.map((key) =>
    tell(
      key,
      byKey.get(key) ?? [],
      own.filter((s) => keys.spent(s) === key),
    ),
  );
  if (asked.by === "month") groups.sort((a, b) => a.key.localeCompare(b.key));
  const elsewhere = grouped(
    spend.filter((s) => s.currency !== currency),
    (s) => s.currency,
  );
  return {
    currency,
    groups,
    whole: { ...tell("", accounts, own), name: "All" },
    elsewhere: elsewhere.map(([other, some]) => ({
      currency: other!,
      amount: some.reduce((sum, s) => sum + s.amount, 0),
    })),
    qualifiedFrom: qualified.name,
  };
}

/** Between a source and its campaign, in a key. */
const BETWEEN = " / ";

function nameOf(key: string, by: SourceGrouping, setup: Setup): string {
  if (by === "month") return key;
  if (by === "source") return nameOfKey(key, "source", setup);
  const [source = "", ...campaign] = key.split(BETWEEN);
  return `${nameOfKey(source, "source", setup)}: ${campaign.join(BETWEEN) || "no campaign named"}`;
}

function tellOne(
  key: string,
  name: string,
  accounts: readonly Account[],
  money: readonly Spend[],
  { wonOf, qualified }: { wonOf: (a: Account) => Won | null; qualified: string },
): SourceTold {
  const inquiries = accounts.reduce((sum, a) => sum + a.inquiries, 0);
  const reached = shareOf(accounts.map((a) => a.talkedAt !== null));
  const isQualified = (a: Account) =>
    a.handedOverAt !== null || wonOf(a) !== null || hasEntered(a, qualified);
  const won = accounts.map(wonOf);
  const value = won.reduce((sum, w) => sum + (w?.value ?? 0), 0);
  const spend = money.length === 0 ? null : money.reduce((sum, s) => sum + s.amount, 0);
  const told = {
    key,
    name,
    inquiries,
    leads: accounts.length,
    reached,
    qualified: shareOf(accounts.map(isQualified)),
    won: shareOf(won.map((w) => w !== null)),
    value,
    spend,
  };
  return {
    ...told,
    perInquiry: costOf(spend, inquiries),
    perReached: costOf(spend, reached.hits),
    perQualified: costOf(spend, told.qualified.hits),
    perWon: costOf(spend, told.won.hits),
    return: spend ? value / spend : null,
  };
}

/** What each of `count` cost where `spend` was paid for all. */
export function costOf(spend: Minor | null, count: number): CostTold {
  if (spend === null) return { each: null, low: null, high: null };
  const { low, high } = poissonInterval(count);
  return {
    each: count === 0 ? null : spend / count,
    low: spend / high,
    high: low === 0 ? null : spend / low,
  };
}

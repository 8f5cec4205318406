import type { Setup } from "../../policy/setup.ts";
import { type LogRank, logRank } from "../../statistics/log-rank.ts";
import {
  differenceAt,
  quantileOf,
  type Survival,
  type SurvivalPoint,
  survivalOf,
  type Wait,
} from "../../statistics/survival.ts";
import { wilson } from "../../statistics/wilson.ts";
import type { Account, OfferAccount } from "../account.ts";
import {
  type Clock,
  type Grouping,
  grouped,
  isAnswerable,
  keyOf,
  nameOfKey,
  type Span,
  Stopwatch,
} from "./span.ts";

export const MILESTONES = ["try", "talk", "reply"] as const;
/** What is waited for: the first try of ours, the first contact both ways, the first automatic answer. */
export type Milestone = (typeof MILESTONES)[number];

export interface ResponseAsked extends Span {
  readonly clock: Clock;
  readonly until: Milestone;
  readonly by: Grouping | null;
  /** Leads that came from then on are held against those before (epoch ms). */
  readonly split: number | null;
}

/** A share with Wilson's 95 % interval. */
export interface ShareTold {
  readonly n: number;
  readonly hits: number;
  readonly share: number | null;
  readonly low: number;
  readonly high: number;
}

/** A time in minutes with its 95 % interval; null where the record does not reach. */
export interface TimeTold {
  readonly at: number | null;
  readonly low: number | null;
  readonly high: number | null;
}

/** How some leads waited. Times are minutes of the clock that was asked for. */
export interface WaitsTold {
  readonly n: number;
  /** Those it has not come to: they wait, or were closed or set aside before. */
  readonly censored: number;
  readonly median: TimeTold;
  readonly quarter: TimeTold;
  readonly threeQuarters: TimeTold;
  readonly inTarget: ShareTold;
}

export interface CurvePoint {
  readonly t: number;
  /** The share that still waits. */
  readonly s: number;
  readonly low: number;
  readonly high: number;
  readonly atRisk: number;
}

export interface GroupTold extends WaitsTold {
  readonly key: string | null;
  readonly name: string;
}

export interface OffersTold {
  readonly person: string;
  readonly name: string;
  readonly asked: number;
  readonly took: ShareTold;
  readonly passed: number;
  readonly lapsed: number;
  readonly gone: number;
  /** Minutes by the wall until half were taken, of those that could still be. */
  readonly median: TimeTold;
}

export interface ResponseTold extends WaitsTold {
  readonly curve: readonly CurvePoint[];
  /** The curves of all three milestones, to be drawn together. */
  readonly milestones: readonly { readonly until: Milestone; readonly curve: readonly CurvePoint[] }[];
  readonly groups: readonly GroupTold[];
  readonly logRank: LogRank | null;
  /** Before a date and from it on; null where nothing was split. */
  readonly split: {
    readonly before: WaitsTold & { readonly curve: readonly CurvePoint[] };
    readonly after: WaitsTold & { readonly curve: readonly CurvePoint[] };
    readonly logRank: LogRank | null;
    /** How much more had come by the target after than before. */
    readonly atTarget: { readonly difference: number; readonly low: number; readonly high: number } | null;
  } | null;
  /** The minutes of the target most of these leads had; null where none had one. */
  readonly target: number | null;
  readonly offers: readonly OffersTold[];
  /** Whether the desk was open at all meanwhile. */
  readonly everOpen: boolean;
}

/** So many points of a curve are drawn: more than there are dots across a page. */
const MOST_POINTS = 300;

/** How long a lead waited for something, or was seen to wait. */
export function waitOf(account: Account, until: Milestone, { now }: Span, watch: Stopwatch): Wait {
  const [at, end] =
    until === "try"
      ? [account.triedAt, account.untriedAt]
      : until === "talk"
        ? [account.talkedAt, account.untalkedAt]
        : [account.repliedAt, account.unrepliedAt];
  const came = at !== null && (end === null || at <= end) && at <= now;
  return { time: watch.minutes(account.came, came ? at : Math.min(end ?? now, now)), came };
}

/** How the target of a lead's first inquiry went; null while it is not due, where it was let off before, or had none. */
export function inTargetOf({ dueAt, answeredAt, letOffAt }: Account, now: number): boolean | null {
  if (dueAt === null) return null;
  if (answeredAt !== null) return answeredAt <= dueAt;
  return Math.min(letOffAt ?? now, now) > dueAt ? false : null;
}

/** A share of those that say yes or no. */
export function shareOf(answers: readonly (boolean | null)[]): ShareTold {
  let [n, hits] = [0, 0];
  for (const answer of answers) {
    if (answer === null) continue;
    n++;
    if (answer) hits++;
  }
  return { n, hits, share: n === 0 ? null : hits / n, ...wilson(hits, n) };
}

/** A curve as it is drawn: from all who wait, in as many points as can be told apart. */
export function curveOf({ points, n }: Survival): CurvePoint[] {
  const step = Math.max(1, Math.ceil(points.length / MOST_POINTS));
  const shown = points.filter((_, i) => i % step === 0 || i === points.length - 1);
  return [{ time: 0, waiting: 1, low: 1, high: 1, atRisk: n } as SurvivalPoint, ...shown].map(
    ({ time, waiting, low, high, atRisk }) => ({ t: time, s: waiting, low, high, atRisk }),
  );
}

function told(accounts: readonly Account[], survival: Survival, now: number): WaitsTold {
  return {
    n: survival.n,
    censored: survival.censored,
    median: quantileOf(survival, 0.5),
    quarter: quantileOf(survival, 0.25),
    threeQuarters: quantileOf(survival, 0.75),
    inTarget: shareOf(accounts.map((a) => inTargetOf(a, now))),
  };
}

/**
 * How long leads waited: those who still do, and those closed or set aside untouched, count as long as they were seen to wait and
 * are never left out. Leads kept from a list are: nobody was to answer them. Without leads every figure says so by null or 0.
 * Never throws.
 */
export function tellResponse(
  all: readonly Account[],
  offers: readonly OfferAccount[],
  asked: ResponseAsked,
  setup: Setup,
): ResponseTold {
  const accounts = all.filter(isAnswerable);
  const first = accounts.reduce((least, a) => Math.min(least, a.came), asked.from);
  const watch = new Stopwatch(asked.clock, setup, first, Math.max(asked.now, asked.to));
  const { zone } = setup.policies.desk;
  const known = new Map<Account, Wait>(accounts.map((a) => [a, waitOf(a, asked.until, asked, watch)]));
  const waits = (some: readonly Account[]) => some.map((a) => known.get(a)!);
  const survival = survivalOf(waits(accounts));
  const target = usualTarget(accounts, watch);
  const groups = asked.by ? grouped(accounts, (a) => keyOf(a, asked.by!, zone)) : [];
  const groupWaits = groups.map(([, some]) => waits(some));
  return {
    ...told(accounts, survival, asked.now),
    curve: curveOf(survival),
    milestones: MILESTONES.map((until) => ({
      until,
      curve: curveOf(
        until === asked.until ? survival : survivalOf(accounts.map((a) => waitOf(a, until, asked, watch))),
      ),
    })),
    groups: groups.map(([key, some], i) => ({
      key,
      name: nameOfKey(key, asked.by!, setup),
      ...told(some, survivalOf(groupWaits[i]!), asked.now),
    })),
    logRank: asked.by && asked.by !== "hour" ? logRank(groupWaits) : null,
    split: asked.split === null ? null : splitAt(accounts, waits, asked.split, target, asked.now),
    target,
    offers: tellOffers(offers, asked, setup),
    everOpen: watch.isEverOpen(first, Math.min(asked.now, asked.to)),
  };
}

function splitAt(
  accounts: readonly Account[],
  waits: (some: readonly Account[]) => Wait[],
  date: number,
  target: number | null,
  now: number,
): ResponseTold["split"] {
  const parts = [accounts.filter((a) => a.came < date), accounts.filter((a) => a.came >= date)] as const;
  const waited = parts.map((part) => waits(part));
  const [before, after] = waited.map((w) => survivalOf(w)) as [Survival, Survival];
  return {
    before: { ...told(parts[0], before, now), curve: curveOf(before) },
    after: { ...told(parts[1], after, now), curve: curveOf(after) },
    logRank: logRank(waited),
    atTarget: target === null ? null : differenceAt(after, before, target),
  };
}

/** The minutes from coming in to the first due time that most leads had, whole. */
function usualTarget(accounts: readonly Account[], watch: Stopwatch): number | null {
  const often = new Map<number, number>();
  for (const { came, dueAt } of accounts) {
    if (dueAt === null) continue;
    const minutes = Math.round(watch.minutes(came, dueAt));
    if (minutes > 0) often.set(minutes, (often.get(minutes) ?? 0) + 1);
  }
  const [most] = [...often].sort((a, b) => b[1] - a[1] || a[0] - b[0]);
  return most?.[0] ?? null;
}

/** What each did about being asked. Those somebody else took first count as long as they could still have been taken. */
export function tellOffers(offers: readonly OfferAccount[], { now }: Span, setup: Setup): OffersTold[] {
  return grouped(offers, (o) => o.person).map(([person, some]) => {
    const ended = (how: OfferAccount["how"]) => some.filter((o) => o.how === how).length;
    const survival = survivalOf(
      some.map((o) => ({ time: Math.max(0, (o.endedAt ?? now) - o.at) / 60_000, came: o.how === "took" })),
    );
    return {
      person: person!,
      name: nameOfKey(person, "person", setup),
      asked: some.length,
      took: shareOf(some.map((o) => (o.how === null || o.how === "gone" ? null : o.how === "took"))),
      passed: ended("passed"),
      lapsed: ended("lapsed"),
      gone: ended("gone"),
      median: quantileOf(survival, 0.5),
    };
  });
}

import type { Setup } from "../../policy/setup.ts";
import { type Cell, type Standardized, standardize } from "../../statistics/standardize.ts";
import { hourOfWeek } from "../../time/week-hours.ts";
import { isZone } from "../../time/zone.ts";
import type { TryChannel } from "../../vocabulary.ts";
import type { Account, TryAccount } from "../account.ts";
import { type ShareTold, shareOf } from "./response.ts";
import { grouped, isAnswerable, type Span, Stopwatch } from "./span.ts";

/** Leads with more tries than this are told of together. */
export const MOST_TRIES = 10;
/** So many days a lead has to be reached or won before its first try is judged by it. */
export const SEEN_DAYS = 14;
const DAY = 86_400_000;

/** How long after coming in the first try was made, in the desk's minutes: below `under`. */
export const DELAYS = [
  { key: "5", name: "within 5 min", under: 5 },
  { key: "15", name: "5 to 15 min", under: 15 },
  { key: "60", name: "15 to 60 min", under: 60 },
  { key: "240", name: "1 to 4 h", under: 240 },
  { key: "600", name: "4 to 10 h", under: 600 },
  { key: "later", name: "later", under: Number.POSITIVE_INFINITY },
] as const;

/** What the trade says of effort: beside this desk's own figures, and no source of them. */
export const RULES_OF_THUMB = [
  "Answer within five minutes: interest fades by the hour.",
  "Try six times or more before giving a lead up: most who are reached at all are reached by then.",
  "Try at another time of day than the last time.",
] as const;

/** The n-th try, of leads not reached before it. */
export interface NthTry {
  readonly n: number;
  /** Whether it stands for this and all later ones. */
  readonly orMore: boolean;
  readonly reached: ShareTold;
  /** Of all leads that were tried, the share that had been reached up to this try. */
  readonly soFar: ShareTold;
}

export interface WayTold {
  readonly key: string;
  readonly name: string;
  readonly reached: ShareTold;
}

/** What an earlier first try was worth. */
export interface Worth extends Standardized {
  readonly name: string;
}

export interface EffortTold {
  /** Leads by how many tries they had: none, one … the last is {@link MOST_TRIES} and more. */
  readonly triesPerLead: readonly number[];
  readonly tries: number;
  readonly leads: number;
  readonly nth: readonly NthTry[];
  readonly byChannel: readonly WayTold[];
  /** By the hour of the lead's own clock, 24 of them. */
  readonly byHour: readonly WayTold[];
  readonly reachedBy: readonly Worth[];
  readonly wonBy: readonly Worth[];
  /** Leads old enough to be judged by what became of them, and those of them nobody tried. */
  readonly judged: number;
  readonly neverTried: number;
  /** What leads were made alike by. */
  readonly strata: string;
}

const WAYS: Readonly<Record<TryChannel, string>> = {
  call: "Calls",
  text: "Texts",
  email: "Emails",
  visit: "Visits",
};

/**
 * How much was tried and what it brought. Shares of the n-th try are of leads not reached before it. What an earlier first try was
 * worth is told of leads that came at least {@link SEEN_DAYS} days ago and were tried, raw and standardized over source,
 * product and time of day. `won` says when a lead was won. Never throws; without leads every share is null.
 */
export function tellEffort(
  all: readonly Account[],
  tries: readonly TryAccount[],
  won: (account: Account) => number | null,
  span: Span,
  setup: Setup,
): EffortTold {
  const accounts = all.filter(isAnswerable);
  const { zone } = setup.policies.desk;
  const zones = new Map(accounts.map((a) => [a.leadId, zoneOf(a, zone)]));
  const made = tries.filter((t) => t.n > 0 && zones.has(t.leadId));
  const perLead = Array.from({ length: MOST_TRIES + 1 }, () => 0);
  for (const { tries: n } of accounts) perLead[Math.min(n, MOST_TRIES)]!++;
  const watch = watchOver(accounts, span, setup);
  const judged = accounts.filter((a) => isJudged(a, span));
  const tried = judged.flatMap((account): Compared[] => {
    const group = delayOf(account, watch);
    return group === null ? [] : [{ account, group, stratum: stratumOf(account, zone) }];
  });
  const within = (at: number | null, { came }: Account) => at !== null && at <= came + SEEN_DAYS * DAY;
  return {
    triesPerLead: perLead,
    tries: made.length,
    leads: accounts.length,
    nth: tellNth(accounts),
    byChannel: grouped(made, (t) => t.channel).map(([channel, some]) => ({
      key: channel!,
      name: WAYS[channel as TryChannel],
      reached: shareOf(some.map((t) => t.reached === 1)),
    })),
    byHour: tellHours(
      made.filter((t) => t.channel === "call"),
      (t) => zones.get(t.leadId)!,
    ),
    reachedBy: worth(tried, (a) => within(a.talkedAt, a)),
    wonBy: worth(tried, (a) => won(a) !== null),
    judged: judged.length,
    neverTried: judged.length - tried.length,
    strata: STRATA,
  };
}

const sound = new Map<string, boolean>();

/** Where a lead is, or the desk where that is not known or no zone at all. */
function zoneOf({ zone }: Account, desk: string): string {
  if (zone === null) return desk;
  let isSound = sound.get(zone);
  if (isSound === undefined) {
    isSound = isZone(zone);
    sound.set(zone, isSound);
  }
  return isSound ? zone : desk;
}

/** At which try of ours a lead was reached; null where it was not, or got in touch itself. */
const reachedAtTry = ({ talkedAtTry }: Account): number | null => talkedAtTry || null;

/**
 * Whether a lead had an n-th try and was not reached before it; the last number stands for later ones too. Who got in touch
 * themselves before was not reached by it, and needed none.
 */
export const isOpenAtTry = (account: Account, n: number): boolean =>
  account.tries >= n && account.talkedAtTry !== 0 && (reachedAtTry(account) ?? n) >= n;

/** Whether a lead that was open then was reached by its n-th try. */
export const isReachedAtTry = (account: Account, n: number): boolean => {
  const at = reachedAtTry(account);
  return at !== null && (n === MOST_TRIES ? at >= n : at === n);
};

/** Leads old enough to be judged by what became of them. */
export const isJudged = ({ came }: Account, { now }: Pick<Span, "now">): boolean =>
  came <= now - SEEN_DAYS * DAY;

/** The key of {@link DELAYS} a lead's first try falls under; null where nobody has tried. */
export const delayOf = ({ came, triedAt }: Account, watch: Stopwatch): string | null => {
  if (triedAt === null) return null;
  const minutes = watch.minutes(came, triedAt);
  return DELAYS.find((d) => minutes < d.under)!.key;
};

/** The hour of the lead's own clock at which it was tried, 0 to 23; by the desk's where its zone is not known. */
export const hourThere = (one: TryAccount, account: Account, desk: string): number =>
  hourOfWeek(one.at, zoneOf(account, desk)) % 24;

/** Desk minutes between leads of a span coming in and their first tries. */
export const watchOver = (accounts: readonly Account[], span: Span, setup: Setup): Stopwatch => {
  const first = accounts.reduce((least, a) => Math.min(least, a.came), span.from);
  return new Stopwatch("desk", setup, first, Math.max(span.now, span.to));
};

function tellNth(accounts: readonly Account[]): NthTry[] {
  const tried = accounts.filter((a) => a.tries > 0);
  return Array.from({ length: MOST_TRIES }, (_, i) => i + 1).flatMap((n) => {
    const isLast = n === MOST_TRIES;
    const open = tried.filter((a) => isOpenAtTry(a, n));
    if (open.length === 0) return [];
    return [
      {
        n,
        orMore: isLast,
        reached: shareOf(open.map((a) => isReachedAtTry(a, n))),
        soFar: shareOf(
          tried.map((a) => (isLast ? reachedAtTry(a) !== null : (reachedAtTry(a) ?? n + 1) <= n)),
        ),
      },
    ];
  });
}

function tellHours(calls: readonly TryAccount[], zoneOf: (one: TryAccount) => string): WayTold[] {
  const hours = Array.from({ length: 24 }, () => [] as boolean[]);
  for (const call of calls) hours[hourOfWeek(call.at, zoneOf(call)) % 24]!.push(call.reached === 1);
  return hours.map((answers, hour) => ({
    key: String(hour),
    name: `${hour}:00`,
    reached: shareOf(answers),
  }));
}

/** What {@link stratumOf} makes leads alike by, in words. */
export const STRATA = "source, product and part of the day they came in";

/** What leads are made alike by: from where, what for, and in which six hours of the desk's day. */
export const stratumOf = ({ source, product, came }: Account, zone: string): string =>
  `${source}/${product ?? ""}/${Math.floor((hourOfWeek(came, zone) % 24) / 6)}`;

/** A lead that was tried, with what it is compared by. */
interface Compared {
  readonly account: Account;
  /** The key of {@link DELAYS}. */
  readonly group: string;
  readonly stratum: string;
}

function worth(tried: readonly Compared[], came: (account: Account) => boolean): Worth[] {
  const groups = new Map<string, Map<string, { group: string; stratum: string; n: number; hits: number }>>();
  for (const { account, group, stratum } of tried) {
    let cells = groups.get(group);
    if (!cells) {
      cells = new Map();
      groups.set(group, cells);
    }
    let cell = cells.get(stratum);
    if (!cell) {
      cell = { group, stratum, n: 0, hits: 0 };
      cells.set(stratum, cell);
    }
    cell.n++;
    if (came(account)) cell.hits++;
  }
  const cells = [...groups.values()].flatMap((strata) => [...strata.values()]) satisfies Cell[];
  const told = standardize(cells, tried.length);
  return DELAYS.flatMap(({ key, name }) => {
    const one = told.find((t) => t.group === key);
    return one ? [{ ...one, name }] : [];
  });
}

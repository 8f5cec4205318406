import { linearRegression } from "simple-statistics";
import type { Person } from "../../policy/people.ts";
import type { Setup } from "../../policy/setup.ts";
import { erlangA, erlangC, neededFor, type Service } from "../../statistics/erlang.ts";
import { poissonInterval } from "../../statistics/poisson.ts";
import { compileCalendar, isOpen, nextOpening } from "../../time/calendar.ts";
import { hourOfWeek } from "../../time/week-hours.ts";
import type { Account, TryAccount } from "../account.ts";
import { DELAYS } from "./effort.ts";
import { isAnswerable, type Span, Stopwatch } from "./span.ts";

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const WEEK = 168;

export interface StaffingAsked extends Span {
  /** The share, 0 to 1, that is to be tried within so many minutes. */
  readonly goal: number;
  readonly minutes: number;
  /** How long one lead takes until it is written down (s); by the desk's own calls where null. */
  readonly seconds: number | null;
  /** More people, or fewer, on duty in some hours of the week than the roster has. */
  readonly more: readonly { readonly hour: number; readonly people: number }[];
}

/** What is asked where nobody says otherwise: 80 of 100 within five minutes, as common practice has it. */
export const USUAL_GOAL = { goal: 0.8, minutes: 5 } as const;

/** An hour of the desk's week. */
export interface StaffHour {
  /** 0 is Monday from midnight. */
  readonly hour: number;
  /** How many leads came to be answered, over how many such hours, and what is expected of one with the bounds of chance. */
  readonly came: number;
  /** Of them, those that came while the desk was closed, and wait as it opens. */
  readonly waiting: number;
  readonly weeks: number;
  readonly expected: number;
  readonly low: number;
  readonly high: number;
  /** Whether the desk is open at all then. */
  readonly open: boolean;
  /** On duty by their hours, and how many are needed by each way of reckoning; null where none would do. */
  readonly onDuty: number;
  readonly needed: number | null;
  readonly neededPatient: number | null;
  /** Needed if as many came as chance may bring (the upper bound). */
  readonly neededHigh: number | null;
  /** The share in time with those who are on duty; null while nobody is, or nothing comes. */
  readonly within: number | null;
  /** On duty less needed: below 0 a hole, above 0 slack. */
  readonly spare: number | null;
}

export interface StaffingTold {
  readonly hours: readonly StaffHour[];
  readonly weeks: number;
  /** How long a lead takes (s), and from how many calls of our own that is known; none: it was said, or taken for granted. */
  readonly seconds: number;
  readonly calls: number;
  /** After how long half of those who wait have lost interest, in minutes; null where nothing of it shows. */
  readonly halfLife: number | null;
  readonly goal: number;
  readonly minutes: number;
}

/** Taken for granted where no call of the desk's own says how long one takes: common practice. */
export const USUAL_SECONDS = 360;
/** From so many calls on they are believed. */
const ENOUGH_CALLS = 20;
/** So many leads in a band of waits say something of it. */
const ENOUGH_LEADS = 15;

/** The mean time a first try takes until it is written down (s), by calls made from the desk; null of too few. */
export function handlingOf(
  tries: readonly TryAccount[],
): { readonly seconds: number; readonly calls: number } | null {
  const calls = tries.filter((t) => t.talked !== null && t.wrapped !== null);
  if (calls.length < ENOUGH_CALLS) return null;
  const ms = calls.reduce((sum, t) => sum + t.talked! + t.wrapped!, 0);
  return { seconds: ms / calls.length / 1000, calls: calls.length };
}

/**
 * The mean time interest lasts (minutes of the desk), as this desk's leads show it: an exponential through the shares that were
 * reached by how long they waited for the first try, weighted alike. Null where too little is known or nothing of it shows. It
 * cannot tell losing interest from hard cases being tried later.
 */
export function patienceOf(accounts: readonly Account[], watch: Stopwatch): number | null {
  const bands = DELAYS.map(() => ({ n: 0, reached: 0, waited: 0 }));
  for (const account of accounts) {
    if (account.triedAt === null) continue;
    const minutes = watch.minutes(account.came, account.triedAt);
    const band = bands[DELAYS.findIndex((d) => minutes < d.under)]!;
    band.n++;
    band.waited += minutes;
    if (account.talkedAt !== null) band.reached++;
  }
  const points = bands
    .filter((b) => b.n >= ENOUGH_LEADS && b.reached > 0)
    .map((b) => [b.waited / b.n, Math.log(b.reached / b.n)]);
  if (points.length < 3) return null;
  const { m } = linearRegression(points);
  return m < 0 ? -1 / m : null;
}

/**
 * How many are needed on duty in each hour of the week so that the goal is kept, and who is: arrivals of this desk with the bounds
 * of few weeks, handling as its own calls have it, Erlang A with its own loss of interest beside Erlang C. Never throws.
 */
export function tellStaffing(
  all: readonly Account[],
  tries: readonly TryAccount[],
  asked: StaffingAsked,
  setup: Setup,
): StaffingTold {
  const accounts = all.filter(isAnswerable);
  const to = Math.min(asked.to, asked.now);
  const weeks = Math.max(0, to - asked.from) / (WEEK * HOUR);
  const counts = Array.from({ length: WEEK }, () => 0);
  const waiting = Array.from({ length: WEEK }, () => 0);
  const workOf = workHours(setup, asked);
  for (const { came } of accounts) {
    const { hour, waits } = workOf(came);
    counts[hour]!++;
    if (waits) waiting[hour]!++;
  }
  const own = handlingOf(tries);
  const seconds = asked.seconds ?? own?.seconds ?? USUAL_SECONDS;
  const first = accounts.reduce((least, a) => Math.min(least, a.came), asked.from);
  const patience = patienceOf(accounts, new Stopwatch("desk", setup, first, Math.max(asked.now, asked.to)));
  const by = asked.minutes * 60;
  const roster = rosterOf(setup, asked.now);
  const serve =
    (expected: number, patient: boolean) =>
    (agents: number): Service => {
      const load = { erlang: (expected * seconds) / 3600, agents, seconds };
      return patient || patience === null ? erlangC(load, by) : erlangA(load, by, patience * 60);
    };
  const hours = counts.map((came, hour): StaffHour => {
    const expected = weeks > 0 ? came / weeks : 0;
    const bounds = poissonInterval(came);
    const [low, high] = weeks > 0 ? [bounds.low / weeks, bounds.high / weeks] : [0, 0];
    const open = roster.open[hour]!;
    const onDuty = Math.max(
      0,
      roster.onDuty[hour]! + asked.more.filter((m) => m.hour === hour).reduce((sum, m) => sum + m.people, 0),
    );
    const needed = open ? neededFor(asked.goal, serve(expected, false)) : 0;
    return {
      hour,
      came,
      waiting: waiting[hour]!,
      weeks,
      expected,
      low,
      high,
      open,
      onDuty,
      needed,
      neededPatient: open ? neededFor(asked.goal, serve(expected, true)) : 0,
      neededHigh: open ? neededFor(asked.goal, serve(high, false)) : 0,
      within: open && onDuty > 0 && expected > 0 ? serve(expected, false)(onDuty).within : null,
      spare: open && needed !== null ? onDuty - needed : null,
    };
  });
  return {
    hours,
    weeks,
    seconds,
    calls: asked.seconds === null ? (own?.calls ?? 0) : 0,
    halfLife: patience === null ? null : patience * Math.LN2,
    goal: asked.goal,
    minutes: asked.minutes,
  };
}

/**
 * In which hour of the desk's week (0 is Monday from midnight) somebody who came at a moment is work: what comes while the desk
 * is closed waits for whoever opens it.
 */
export function workHours(
  { policies: { desk } }: Setup,
  { from, now }: Pick<Span, "from" | "now">,
): (came: number) => { readonly hour: number; readonly waits: boolean } {
  const calendar = compileCalendar(desk, Math.min(from, now) - DAY, now + 30 * DAY);
  return (came) => {
    const due = isOpen(calendar, came) ? came : (nextOpening(calendar, came) ?? came);
    return { hour: hourOfWeek(due, desk.zone), waits: due !== came };
  };
}

/** Who is on duty by their hours in each hour of an ordinary week from now, and whether the desk is open: asked at its middle. */
function rosterOf(setup: Setup, now: number): { readonly open: boolean[]; readonly onDuty: number[] } {
  const { zone } = setup.policies.desk;
  const open = Array.from({ length: WEEK }, () => false);
  const onDuty = Array.from({ length: WEEK }, () => 0);
  const sellers = setup.people.filter((p) => p.role === "salesperson" && !p.left);
  const start = Math.floor(now / HOUR) * HOUR;
  // An ordinary week: holidays and days off say nothing of what the roster has.
  const week = (hours: Person["hours"]) =>
    compileCalendar({ ...hours, exceptions: {} }, start, start + (WEEK + 1) * HOUR);
  const desk = week(setup.policies.desk);
  const calendars = sellers.map((p) => week(p.hours));
  for (let i = 0; i < WEEK; i++) {
    const at = start + i * HOUR;
    const middle = at + HOUR / 2;
    const hour = hourOfWeek(middle, zone);
    open[hour] = isOpen(desk, middle);
    onDuty[hour] = calendars.filter((c) => isOpen(c, middle)).length;
  }
  return { open, onDuty };
}

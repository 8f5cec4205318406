import type { Group, Person } from "../policy/people.ts";
import { accountOf } from "../report/account.ts";
import { Stopwatch } from "../report/figures/span.ts";
import { workHours } from "../report/figures/staffing.ts";
import { wilson } from "../statistics/wilson.ts";
import type { LabWorld } from "./changes.ts";
import { arrivalsOf, type Demand } from "./demand.ts";
import type { Habits } from "./habits.ts";
import type { Stretch } from "./result.ts";
import { runLab } from "./run.ts";

const WEEK = 168;

/** How often leads of an hour of the week were tried in time, with so many on duty. */
export interface InTime {
  readonly n: number;
  readonly hits: number;
}

/** What is asked of a desk with so many on duty. */
export interface NeededAsked {
  /** The share, 0 to 1, that is to be tried within so many minutes of the desk. */
  readonly goal: number;
  readonly minutes: number;
  /** How long a try takes (s); as the record has it where null. */
  readonly seconds: number | null;
}

/** How many are needed in an hour of the week, by running it. */
export interface NeededHour {
  /** 0 is Monday from midnight. */
  readonly hour: number;
  /** Null where none of those that were tried kept the goal. */
  readonly needed: number | null;
  /** With that many, or the most that were tried: so many leads, and the share in time with its interval. */
  readonly n: number;
  readonly within: number;
  readonly low: number;
  readonly high: number;
}

/** About so many inquiries say how many of a number of people are in time: an hour of an ordinary desk's week has some hundred. */
const INQUIRIES = 2_000;
/** So many weeks at most: of a desk to which few come, the rest would be open anyway. */
const MOST_WEEKS = 60;

/** How many weeks are run, by how many come in one. */
export const weeksFor = ({ perHour }: Pick<Demand, "perHour">): number =>
  Math.max(
    1,
    Math.min(
      MOST_WEEKS,
      Math.round(
        INQUIRIES /
          Math.max(
            1,
            perHour.reduce((sum, n) => sum + n, 0),
          ),
      ),
    ),
  );

/** More than this many people are not tried. */
export const MOST_ALIKE = 60;

/** What is known of how everybody answers, as that of one person: nobody of those who are counted is better than another. */
function usualHabits({ behaviour: { people, others } }: LabWorld): Habits {
  const known = [...people.values()];
  if (known.length === 0) return others;
  const mean = (of: (h: Habits) => number) => known.reduce((sum, h) => sum + of(h), 0) / known.length;
  return {
    ...others,
    takes: mean((h) => h.takes),
    passes: mean((h) => h.passes),
    answersAfter: known.flatMap((h) => h.answersAfter),
    handling: mean((h) => h.handling),
  };
}

/**
 * The desk with so many alike on duty whenever it is open, in place of those who sell: its own rules, offers and bells, whoever
 * stands by, and people who fit every lead and answer as its own do on average.
 */
export function withAlike(world: LabWorld, count: number, seconds: number | null): LabWorld {
  const { setup } = world;
  const { desk, company } = setup.policies;
  const alike = Array.from(
    { length: count },
    (_, i): Person => ({
      id: `alike_${i + 1}`,
      name: `One of ${count}`,
      role: "salesperson",
      email: "",
      phone: "",
      chat: `alike_${i + 1}`,
      hours: desk,
      absences: [],
      offDuty: false,
      products: null,
      languages: company.languages,
      territories: null,
      ceiling: null,
    }),
  );
  const members = alike.map((p) => ({ personId: p.id, weight: 1 }));
  const groups = setup.groups.map((g): Group => ({ ...g, members }));
  const rules = setup.policies.rules.map((rule) =>
    "group" in rule.to || !groups[0] ? rule : { ...rule, to: { group: groups[0].id } },
  );
  const own = usualHabits(world);
  const habits = seconds === null ? own : { ...own, handling: seconds * 1000 };
  return {
    setup: {
      ...setup,
      people: [...setup.people.filter((p) => p.role !== "salesperson"), ...alike],
      groups,
      policies: { ...setup.policies, rules },
    },
    behaviour: { ...world.behaviour, people: new Map(), others: habits },
  };
}

/**
 * Run weeks of a desk with so many alike on duty: how many of the leads that are work in each hour of the week (168 of them) were
 * first tried within the minutes. The same seed meets every number of people with the same leads. Throws where the set-up can't be
 * used.
 */
export function runAlike(
  world: LabWorld,
  demand: Demand,
  count: number,
  stretch: Stretch,
  { minutes, seconds }: Pick<NeededAsked, "minutes" | "seconds">,
  seed: number,
): readonly InTime[] {
  const alike = withAlike(world, count, seconds);
  const arrivals = arrivalsOf(demand, stretch.from, stretch.to, seed);
  const record = runLab({ ...alike, arrivals, ...stretch, seed });
  const watch = new Stopwatch("desk", world.setup, stretch.from, stretch.to);
  const hourOf = workHours(world.setup, { from: stretch.from, now: stretch.to });
  const hours = Array.from({ length: WEEK }, () => ({ n: 0, hits: 0 }));
  for (const events of record.events.values()) {
    const account = accountOf(events)?.lead;
    if (!account) continue;
    const { came, triedAt } = account;
    // Of whoever came at the very end it can't be said any more.
    if (triedAt === null && watch.minutes(came, stretch.to) <= minutes) continue;
    const hour = hours[hourOf(came).hour]!;
    hour.n++;
    if (triedAt !== null && watch.minutes(came, triedAt) <= minutes) hour.hits++;
  }
  return hours;
}

/** Fewer leads than this say nothing of an hour. */
const ENOUGH = 10;

/**
 * How many are needed in each hour, from runs with one, two, three … on duty: the fewest from which on the goal is always kept.
 * Hours with fewer than ten leads are left out. Never throws.
 */
export function tellNeeded(
  runs: readonly (readonly InTime[])[],
  { goal }: Pick<NeededAsked, "goal">,
): NeededHour[] {
  return Array.from({ length: WEEK }, (_, hour) => hour).flatMap((hour) => {
    const told = runs.map((run) => run[hour]!);
    if (told.length === 0 || told.some(({ n }) => n < ENOUGH)) return [];
    const short = told.findLastIndex(({ n, hits }) => hits / n < goal);
    const isKept = short < told.length - 1;
    const { n, hits } = told[isKept ? short + 1 : short]!;
    return [{ hour, needed: isKept ? short + 2 : null, n, within: hits / n, ...wilson(hits, n) }];
  });
}

/**
 * Whether more people may still help: the hours that have not kept the goal are in time more often with the last two, an hour being
 * as good as another.
 */
export function isWorthMore(
  runs: readonly (readonly InTime[])[],
  { goal }: Pick<NeededAsked, "goal">,
): boolean {
  const last = runs.at(-1);
  if (!last) return true;
  const late = last.flatMap(({ n, hits }, hour) => (n > 0 && hits / n < goal ? [hour] : []));
  if (late.length === 0) return false;
  const before = runs.at(-3);
  if (!before) return true;
  const mean = (run: readonly InTime[]) =>
    late.reduce((sum, hour) => sum + run[hour]!.hits / Math.max(1, run[hour]!.n), 0) / late.length;
  return mean(last) - mean(before) > LEAST_GAIN;
}

/** Two more people who bring less than this (a share of leads) do not help. */
const LEAST_GAIN = 0.02;

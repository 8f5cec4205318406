import type { LeadEvent } from "../lead/events.ts";
import type { Setup } from "../policy/setup.ts";
import type { TryAccount } from "../report/account.ts";
import { handlingOf } from "../report/figures/staffing.ts";
import { hourOfWeek } from "../time/week-hours.ts";
import type { LabChange, LabWorld } from "./changes.ts";
import { type Arrival, arrivalsOf, type Demand, expectedOf } from "./demand.ts";
import { type Behaviour, habitsOf, USUAL_HABITS } from "./habits.ts";

const HOUR = 3_600_000;
const WEEK = 168 * HOUR;
const MINUTE = 60_000;

/** Who comes in the lab: those who really came, when they came; or as many and such as they, by chance. */
export type DemandAsked =
  | { readonly kind: "past" }
  | {
      readonly kind: "made";
      readonly weeks: number;
      /** So many times as many as in the span. */
      readonly times: number;
      /** More each week than the week before, as a share. */
      readonly growth: number;
      /** Ads that start: so many more within some hours, from an hour of the run on. */
      readonly bursts: readonly {
        readonly sourceId: string;
        readonly afterHours: number;
        readonly hours: number;
        readonly more: number;
      }[];
    };

/** What is run against what. Times are epoch ms, `to` exclusive. */
export interface Experiment {
  /** The span of the record it is made from. */
  readonly from: number;
  readonly to: number;
  readonly demand: DemandAsked;
  readonly runs: number;
  readonly seed: number;
  /** What is changed against the live set-up on each side; nothing: it is the live one. */
  readonly a: readonly LabChange[];
  readonly b: readonly LabChange[];
}

/** What the record of a span says of who came and how everybody acts. */
export interface Learned {
  readonly arrivals: readonly Arrival[];
  readonly behaviour: Behaviour;
  /** From how much that is known. */
  readonly known: {
    readonly inquiries: number;
    readonly answers: number;
    readonly tries: number;
    /** Calls that say how long one takes; 0: it is taken for granted. */
    readonly calls: number;
    /** The mean time a try takes (ms). */
    readonly handling: number;
  };
}

/** So many tries say how well the n-th reaches. */
const ENOUGH_TRIES = 20;
/** Later tries than this are taken as alike. */
const MOST_TRIES = 8;

/**
 * Learn from what happened in a span: `events` in the order in which they happened, the tries of its leads, and the share of those
 * who were reached that was won. Never throws.
 */
export function learn(
  events: Iterable<LeadEvent>,
  tries: readonly TryAccount[],
  won: { readonly reached: number; readonly won: number },
  setup: Setup,
): Learned {
  const arrivals: Arrival[] = [];
  let answers = 0;
  const own = handlingOf(tries);
  const handling = own ? own.seconds * 1000 : USUAL_HABITS.handling;
  const people = setup.people.filter((p) => !p.left).map((p) => p.id);
  const habits = habitsOf(
    heard(events, (event) => {
      if (event.kind === "taken" || event.kind === "passed" || event.kind === "lapsed") answers++;
      if (event.kind !== "inquiry" || event.data.test || event.data.kept || event.data.match !== "new")
        return;
      arrivals.push({ at: event.at, sourceId: event.data.sourceId, facts: event.data.facts });
    }),
    people,
    handling,
  );
  const { outcomes } = setup.policies;
  return {
    arrivals,
    behaviour: {
      people: habits,
      others: { ...USUAL_HABITS, handling },
      leads: { reached: reachOf(tries), won: won.reached > 0 ? won.won / won.reached : 0 },
      outcomes: {
        reached: outcomes.find((o) => o.reached)?.key ?? "reached",
        missed: outcomes.find((o) => !o.reached)?.key ?? "voicemail",
      },
    },
    known: {
      inquiries: arrivals.length,
      answers,
      tries: tries.length,
      calls: own?.calls ?? 0,
      handling,
    },
  };
}

function* heard(events: Iterable<LeadEvent>, hear: (event: LeadEvent) => void): Iterable<LeadEvent> {
  for (const event of events) {
    hear(event);
    yield event;
  }
}

/** How well the first try reaches, the second …: as far as enough of them say; half of them where nothing is known. */
function reachOf(tries: readonly TryAccount[]): readonly number[] {
  const shares: number[] = [];
  for (let n = 1; n <= MOST_TRIES; n++) {
    const nth = tries.filter((t) => t.n === n);
    if (nth.length < ENOUGH_TRIES) break;
    shares.push(nth.filter((t) => t.reached).length / nth.length);
  }
  return shares.length > 0 ? shares : [0.5];
}

/** When runs begin and end (epoch ms): the span itself, or whole weeks from the next Monday of the desk's on. */
export function stretchOf(
  { from, to, demand }: Pick<Experiment, "from" | "to" | "demand">,
  setup: Setup,
  now: number,
): { from: number; to: number } {
  if (demand.kind === "past") return { from, to };
  const { zone } = setup.policies.desk;
  let start = Math.floor(now / HOUR) * HOUR + HOUR;
  while (hourOfWeek(start, zone) !== 0) start += HOUR;
  return { from: start, to: start + demand.weeks * WEEK };
}

/** More inquiries than this in one run are not run: each lead and all that happens to it is held at once. */
export const MOST_IN_A_RUN = 20_000;
/** More than this in all of its runs, both sides counted, are not run. */
export const MOST_IN_ALL = 1_000_000;

/** About how many inquiries one run would bring. */
export function expectedIn(
  experiment: Experiment,
  learned: Learned,
  setup: Setup,
  stretch: { readonly from: number; readonly to: number },
): number {
  const { demand } = experiment;
  if (demand.kind === "past") return learned.arrivals.length;
  return expectedOf(madeOf(experiment, demand, learned, setup, stretch), stretch.from, stretch.to);
}

/** Who comes in one run: the same for the same seed. */
export function arrivalsIn(
  experiment: Experiment,
  learned: Learned,
  setup: Setup,
  stretch: { readonly from: number; readonly to: number },
  seed: number,
): readonly Arrival[] {
  const { demand } = experiment;
  if (demand.kind === "past") return learned.arrivals;
  return arrivalsOf(madeOf(experiment, demand, learned, setup, stretch), stretch.from, stretch.to, seed);
}

/** Demand as a span of the record had it, times as much, growing, with ads that start. */
export function madeOf(
  { from, to }: Pick<Experiment, "from" | "to">,
  { times, growth, bursts }: Extract<DemandAsked, { kind: "made" }>,
  { arrivals }: Learned,
  setup: Setup,
  stretch: { readonly from: number },
): Demand {
  const { zone } = setup.policies.desk;
  const perHour = Array.from({ length: 168 }, () => 0);
  const weeks = Math.max(1, (to - from) / WEEK);
  for (const { at } of arrivals) perHour[hourOfWeek(at, zone)]! += times / weeks;
  return {
    perHour,
    zone,
    growth,
    bursts: bursts.map(({ sourceId, afterHours, hours, more }) => {
      const begin = stretch.from + afterHours * HOUR;
      return { from: begin, to: begin + hours * HOUR, sourceId, more };
    }),
    like: arrivals.map(({ sourceId, facts }) => ({ sourceId, facts })),
  };
}

/** What the two sides start from. */
export const liveWorld = (setup: Setup, learned: Learned): LabWorld => ({
  setup,
  behaviour: learned.behaviour,
});

/** What a result takes for granted, as sentences to stand beside it. */
export function assumptions(
  { demand, from, to }: Experiment,
  { known, behaviour }: Learned,
): readonly string[] {
  const weeks = ((to - from) / WEEK).toFixed(1);
  const calls =
    known.calls > 0
      ? `as ${known.calls} of your own calls took`
      : "which is taken for granted: too few calls of your own say it";
  const reached = behaviour.leads.reached.map((share) => `${Math.round(share * 100)} %`).join(", ");
  return [
    demand.kind === "past"
      ? `The ${known.inquiries} new inquiries of the span come again, each at its time. Further inquiries of the same people are left out.`
      : `Inquiries come by chance (Poisson), as many in each hour of the week as in ${weeks} weeks of your record, each like one of those ${known.inquiries}. One does not bring another.`,
    `Everybody answers offers as they have answered them in the span (${known.answers} answers): as often, as fast. Who was asked fewer than twelve times takes 75 % and passes 10 %.`,
    `A try takes ${(known.handling / MINUTE).toFixed(1)} minutes on average (exponential), ${calls}. Nobody tries while off duty, and nobody two at once.`,
    `A try reaches them as the record has it, the first, the second and so on: ${reached}${known.tries < ENOUGH_TRIES ? " (taken for granted: too few tries say it)" : ""}. How long a lead has waited changes nothing of that.`,
    `Of those reached, ${Math.round(behaviour.leads.won * 100)} % are won, whoever reached them.`,
    "Leads write nothing back, book no calls and send no stop; nobody gives leads away by hand.",
    "The desk begins empty: nothing is left over from the week before.",
    "Both sides meet the same leads and the same chances, run by run.",
  ];
}

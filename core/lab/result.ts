import { nameOf, type Setup } from "../policy/setup.ts";
import { localDate } from "../time/words.ts";
import type { LabWorld } from "./changes.ts";
import { BY_MINUTES, compare, type Difference, type PersonShare, type RunTold, tellRun } from "./compare.ts";
import type { WireDay } from "./day.ts";
import type { Arrival } from "./demand.ts";
import { runLab } from "./run.ts";

/** The two sides that are compared. */
export const SIDES = ["a", "b"] as const;
export type Side = (typeof SIDES)[number];

export interface Stretch {
  /** Epoch ms, `to` exclusive. */
  readonly from: number;
  readonly to: number;
}

/** One run of one side, told; with a day on the wire where one was watched. */
export interface SideRun extends RunTold {
  readonly day: WireDay | null;
}

/** Run one side once. The same seed meets both sides with the same leads and chances. Throws where the set-up can't be used. */
export function runSide(
  { setup, behaviour }: LabWorld,
  arrivals: readonly Arrival[],
  stretch: Stretch,
  seed: number,
  day: Stretch | null,
): SideRun {
  const record = runLab({ setup, behaviour, arrivals, ...stretch, seed, day });
  return { ...tellRun(record, setup, stretch), day: record.day };
}

const DAY = 86_400_000;
/** So many leads of a day are drawn at most. */
const MOST_DRAWN = 400;

/** The busiest day of the desk's calendar among arrivals that can still be drawn; null where nobody comes. */
export function busiestDay(arrivals: readonly Arrival[], { policies }: Setup): Stretch | null {
  const { zone } = policies.desk;
  const days = new Map<string, { from: number; to: number; n: number }>();
  for (const { at } of arrivals) {
    const date = localDate(at, zone);
    const day = days.get(date);
    if (day) {
      day.to = at;
      day.n++;
    } else days.set(date, { from: at, to: at, n: 1 });
  }
  const all = [...days.values()].sort((a, b) => b.n - a.n);
  const best = all.find((d) => d.n <= MOST_DRAWN) ?? all.at(-1);
  // From its first inquiry on, for a day: what came in the evening is still seen to be worked off.
  return best ? { from: best.from, to: best.from + DAY } : null;
}

/** What fell to somebody on each side, as the mean over the runs. */
export interface PersonLoad {
  readonly id: string;
  readonly name: string;
  readonly a: Omit<PersonShare, "id"> | null;
  readonly b: Omit<PersonShare, "id"> | null;
}

/** What an experiment came to. */
export interface LabResult {
  readonly stretch: Stretch;
  readonly runs: number;
  /** How many came in a run, on average. */
  readonly came: number;
  readonly differences: readonly Difference[];
  readonly people: readonly PersonLoad[];
  /** The share tried within so many minutes of the desk, as the mean over the runs. */
  readonly tried: readonly { readonly minutes: number; readonly a: number; readonly b: number }[];
  readonly days: Readonly<Record<Side, WireDay | null>>;
}

const mean = (list: readonly number[]) =>
  list.length === 0 ? 0 : list.reduce((sum, n) => sum + n, 0) / list.length;

/** A against B: the i-th run of one and of the other met the same chances. Never throws. */
export function tellExperiment(
  runs: Readonly<Record<Side, readonly SideRun[]>>,
  setups: Readonly<Record<Side, Setup>>,
  came: readonly number[],
  stretch: Stretch,
): LabResult {
  const measured = (side: Side) => runs[side].map((run) => run.measured);
  return {
    stretch,
    runs: runs.a.length,
    came: mean(came),
    differences: compare(measured("a"), measured("b")),
    people: loads(runs, setups),
    tried: BY_MINUTES.map((minutes, i) => ({
      minutes,
      a: mean(runs.a.map((run) => run.tried[i]!)),
      b: mean(runs.b.map((run) => run.tried[i]!)),
    })),
    days: {
      a: runs.a.find((r) => r.day)?.day ?? null,
      b: runs.b.find((r) => r.day)?.day ?? null,
    },
  };
}

function loads(
  runs: Readonly<Record<Side, readonly SideRun[]>>,
  setups: Readonly<Record<Side, Setup>>,
): PersonLoad[] {
  const ids = new Set(SIDES.flatMap((side) => runs[side].flatMap((run) => run.people.map((p) => p.id))));
  const of = (side: Side, id: string) => {
    if (!setups[side].people.some((p) => p.id === id && !p.left)) return null;
    const shares = runs[side].map((run) => run.people.find((p) => p.id === id));
    const each = (key: "leads" | "tries" | "busy") => mean(shares.map((share) => share?.[key] ?? 0));
    return { leads: each("leads"), tries: each("tries"), busy: each("busy") };
  };
  const isIn = (setup: Setup, id: string) => setup.people.some((p) => p.id === id);
  const named = (id: string) => nameOf(isIn(setups.a, id) ? setups.a : setups.b, id);
  return [...ids]
    .map((id) => ({ id, name: named(id), a: of("a", id), b: of("b", id) }))
    .sort((x, y) => (y.a?.tries ?? 0) - (x.a?.tries ?? 0) || x.name.localeCompare(y.name));
}

import { withChanges } from "../../core/lab/changes.ts";
import { expectedOf } from "../../core/lab/demand.ts";
import {
  arrivalsIn,
  assumptions,
  type Experiment,
  expectedIn,
  liveWorld,
  MOST_IN_A_RUN,
  MOST_IN_ALL,
  madeOf,
  stretchOf,
} from "../../core/lab/experiment.ts";
import {
  type InTime,
  isWorthMore,
  MOST_ALIKE,
  type NeededAsked,
  type NeededHour,
  runAlike,
  tellNeeded,
  weeksFor,
} from "../../core/lab/needed.ts";
import { busiestDay, runSide, SIDES, type Side, type SideRun, type Stretch } from "../../core/lab/result.ts";
import type { Setup } from "../../core/policy/setup.ts";
import { Sql } from "../db/sql.ts";
import { learnFrom } from "./record.ts";

/** What a thread of the lab is asked to do: every `of`-th run, from the `nth` on. */
export interface LabJob {
  readonly path: string;
  readonly setup: Setup;
  readonly experiment: Experiment;
  /** Epoch ms. */
  readonly now: number;
  readonly nth: number;
  readonly of: number;
}

/** What a thread tells of it. */
export type LabTold =
  | { readonly about: "begun"; readonly stretch: Stretch; readonly assumes: readonly string[] }
  | {
      readonly about: "run";
      readonly i: number;
      readonly side: Side;
      readonly run: SideRun;
      readonly came: number;
    }
  | { readonly about: "done" };

/** What a thread of the lab is asked to find out: how many are needed on duty, hour by hour. */
export interface NeededJob {
  readonly path: string;
  readonly setup: Setup;
  readonly asked: NeededAsked & Stretch;
  /** Epoch ms. */
  readonly now: number;
}

/** What a thread tells of that: the hours as they stand after so many people, of about so many. */
export interface NeededSoFar {
  readonly tried: number;
  readonly weeks: number;
  readonly hours: readonly NeededHour[];
  readonly isDone: boolean;
}

/** Any seed: the same question has the same answer. */
const SEED = 1;

/** One person on duty, two, three … until all hours keep the goal or nobody more helps, on a connection of its own. Throws like {@link runShare}. */
export async function runNeeded(
  { path, setup, asked, now }: NeededJob,
  tell: (told: NeededSoFar) => void,
): Promise<void> {
  const sql = await Sql.open(path);
  const learned = learnFrom(sql, setup, asked);
  sql.close();
  if (learned.arrivals.length === 0) throw new Error(NOBODY);
  const demand = { kind: "made", weeks: 1, times: 1, growth: 0, bursts: [] } as const;
  const { perHour } = madeOf(asked, demand, learned, setup, { from: now });
  const weeks = weeksFor({ perHour });
  const stretch = stretchOf({ ...asked, demand: { ...demand, weeks } }, setup, now);
  const made = madeOf(asked, demand, learned, setup, stretch);
  const expected = expectedOf(made, stretch.from, stretch.to);
  if (expected > MOST_IN_A_RUN)
    throw new Error(`A week brings about ${said(expected)} inquiries; ${said(MOST_IN_A_RUN)} are the most`);
  const runs: (readonly InTime[])[] = [];
  // As many as the desk has at any rate: they are what one compares with.
  const own = Math.min(MOST_ALIKE, setup.people.filter((p) => p.role === "salesperson" && !p.left).length);
  while (runs.length < own || (runs.length < MOST_ALIKE && isWorthMore(runs, asked))) {
    runs.push(runAlike(liveWorld(setup, learned), made, runs.length + 1, stretch, asked, SEED));
    tell({ tried: runs.length, weeks, hours: tellNeeded(runs, asked), isDone: false });
  }
  tell({ tried: runs.length, weeks, hours: tellNeeded(runs, asked), isDone: true });
}

const NOBODY = "Nobody new inquired in this span, so there is nothing to learn from. Choose a longer one";

const said = (n: number) => Math.round(n).toLocaleString("en");

/** Says so where these would be more inquiries than can be run. */
function refuseTooMany(each: number, runs: number): void {
  if (each > MOST_IN_A_RUN)
    throw new Error(
      `A run would bring about ${said(each)} inquiries; ${said(MOST_IN_A_RUN)} are the most. Choose fewer weeks, or fewer people who come`,
    );
  if (each * runs * 2 > MOST_IN_ALL)
    throw new Error(
      `These would be about ${said(each * runs * 2)} inquiries in all; ${said(MOST_IN_ALL)} are the most. Choose fewer runs or weeks`,
    );
}

/**
 * Run the share of one thread, on a connection of its own.
 * @throws where the record holds nobody to learn from, where it would be too much, and where a change can't be made; says so in words.
 */
export async function runShare(job: LabJob, tell: (told: LabTold) => void): Promise<void> {
  const { experiment, setup, now } = job;
  const sql = await Sql.open(job.path);
  const learned = learnFrom(sql, setup, experiment);
  sql.close();
  if (learned.arrivals.length === 0) throw new Error(NOBODY);
  const stretch = stretchOf(experiment, setup, now);
  refuseTooMany(expectedIn(experiment, learned, setup, stretch), experiment.runs);
  tell({ about: "begun", stretch, assumes: assumptions(experiment, learned) });
  const worlds = SIDES.map((side) => {
    const changed = withChanges(liveWorld(setup, learned), experiment[side], side);
    if (!changed.ok) throw new Error(changed.problem.detail);
    return [side, changed.world] as const;
  });
  for (let i = job.nth; i < experiment.runs; i += job.of) {
    const seed = experiment.seed + i;
    const arrivals = arrivalsIn(experiment, learned, setup, stretch, seed);
    const day = i === 0 ? busiestDay(arrivals, setup) : null;
    for (const [side, world] of worlds)
      tell({
        about: "run",
        i,
        side,
        run: runSide(world, arrivals, stretch, seed, day),
        came: arrivals.length,
      });
  }
  tell({ about: "done" });
}

import { withChanges } from "../../core/lab/changes.ts";
import {
  arrivalsIn,
  assumptions,
  type Experiment,
  expectedIn,
  liveWorld,
  MOST_IN_A_RUN,
  MOST_IN_ALL,
  stretchOf,
} from "../../core/lab/experiment.ts";
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

/** Says so where these would be more inquiries than can be run. */
function refuseTooMany(each: number, runs: number): void {
  const said = (n: number) => Math.round(n).toLocaleString("en");
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
  if (learned.arrivals.length === 0)
    throw new Error(
      "Nobody new inquired in this span, so there is nothing to learn from. Choose a longer one",
    );
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

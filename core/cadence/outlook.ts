import type { CadenceRun, Lead } from "../lead/lead.ts";
import type { Setup } from "../policy/setup.ts";
import { nextAfter, planOfRun } from "./run.ts";

/** A touch to come, as far as it can be told now. */
export interface Coming {
  /** Counting from 0. */
  readonly n: number;
  /** Epoch ms. */
  readonly at: number;
}

/**
 * What comes of a run if each touch is done at its time and nothing stops it: the next ones, so many at most. What restraint
 * will hold is not foreseen. Empty for one that has ended or is held back without a time.
 */
export function outlook(
  run: CadenceRun,
  lead: Lead,
  setup: Setup,
  now: number,
  most = 12,
): readonly Coming[] {
  const plan = planOfRun(setup, run);
  if (!plan || run.ended) return [];
  const first = run.at ?? run.pause?.until ?? (run.waits ? now : null);
  if (first === null || run.n >= plan.touches.length) return [];
  const coming: Coming[] = [{ n: run.n, at: Math.max(first, run.pause?.until ?? first) }];
  let so: CadenceRun = { ...run, at: coming[0]!.at };
  while (coming.length < most) {
    const next = nextAfter(plan, so, lead, setup, so.n, Math.max(so.at ?? now, now));
    if (!next || next.at === null) break;
    coming.push({ n: next.n, at: next.at });
    so = { ...so, ...next };
  }
  return coming;
}

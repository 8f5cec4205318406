import type { Deal } from "../book/records.ts";
import type { Minor } from "../money/money.ts";
import type { Stage } from "../policy/stages.ts";
import { wilson } from "../statistics/wilson.ts";

/** Of so many deals at least that ended after standing in a stage, the share that was won says something. */
export const ENOUGH_ENDED = 8;
/** Of so many stays at least, how long deals usually stay is told. */
export const ENOUGH_STAYS = 8;
const DAY = 86_400_000;

/** How deals of a stage have gone before, in this desk's own data. */
export interface StageRecord {
  /** Deals that have ended after having stood there, and how many of those were won. */
  readonly ended: number;
  readonly won: number;
  /** Wilson's 95 % interval of the share that was won; null where too few have ended. */
  readonly share: { readonly share: number; readonly low: number; readonly high: number } | null;
  /** How long deals stayed there before they went on or ended (ms), the shortest first. */
  readonly stays: readonly number[];
  /** Longer than four of five stays (ms); null where too few are known. */
  readonly slack: number | null;
}

export interface BoardColumn {
  readonly stage: Stage;
  readonly deals: readonly Deal[];
  readonly sum: Minor;
  /** The sum by the share that was won from here, with its interval; null where too few have ended. */
  readonly expected: { readonly sum: Minor; readonly low: Minor; readonly high: Minor } | null;
  readonly record: StageRecord;
}

/** How it has gone with deals that stood in a stage. Reopened ones count by how they ended last. */
export function recordOf(stage: string, deals: readonly Deal[]): StageRecord {
  let ended = 0;
  let won = 0;
  const stays: number[] = [];
  for (const { path, closed } of deals) {
    let stood = false;
    path.forEach((step, i) => {
      if (step.stage !== stage) return;
      stood = true;
      const next = path[i + 1];
      if (next) stays.push(next.at - step.at);
    });
    if (!stood || !closed) continue;
    ended++;
    if (closed.kind === "won") won++;
  }
  stays.sort((a, b) => a - b);
  return {
    ended,
    won,
    share: ended < ENOUGH_ENDED ? null : { share: won / ended, ...wilson(won, ended) },
    stays,
    slack: stays.length < ENOUGH_STAYS ? null : stays[Math.ceil(stays.length * 0.8) - 1]!,
  };
}

/**
 * Where a stay stands among those before, 0 to 1: the share of past stays that were shorter. Past the mark for longer than
 * four of five it goes on growing toward 1, slowly. Null where too few are known.
 */
export function driftOf(stay: number, { stays, slack }: StageRecord): number | null {
  if (slack === null) return null;
  if (stay >= slack) return 0.8 + 0.2 * (1 - slack / Math.max(stay, slack, 1));
  let below = 0;
  for (const one of stays) if (one < stay) below++;
  return Math.min(0.8, below / stays.length);
}

/**
 * The board: open deals by stage, in the stages' order, with sums and what may be expected of them. `ended` are deals
 * that are over: what the shares are reckoned from, beside the open ones' own stays.
 */
export function boardOf(
  stages: readonly Stage[],
  open: readonly Deal[],
  ended: readonly Deal[],
): BoardColumn[] {
  const all = [...open, ...ended];
  return stages
    .filter((s) => s.kind === "open")
    .map((stage) => {
      const deals = open.filter((d) => d.stage === stage.key);
      const sum = deals.reduce((total, d) => total + d.value, 0);
      const record = recordOf(stage.key, all);
      const { share } = record;
      return {
        stage,
        deals,
        sum,
        expected: share && {
          sum: Math.round(sum * share.share),
          low: Math.round(sum * share.low),
          high: Math.round(sum * share.high),
        },
        record,
      };
    });
}

/** Why a deal may slip: what should have happened by now, or will be due before the week is out. */
export type Slip = "expected-past" | "expected-soon" | "step-overdue" | "no-step" | "long";

/**
 * What a desk should look at in a deal now. `today` is the local day, `2026-03-04`, `weekEnd` the last of the seven days from
 * it; `now` epoch ms.
 */
export function slipsOf(
  deal: Deal,
  record: StageRecord,
  { now, today, weekEnd }: { readonly now: number; readonly today: string; readonly weekEnd: string },
): readonly Slip[] {
  const slips: Slip[] = [];
  if (deal.expectedOn !== null && deal.expectedOn < today) slips.push("expected-past");
  else if (deal.expectedOn !== null && deal.expectedOn <= weekEnd) slips.push("expected-soon");
  if (deal.nextStep && deal.nextStep.dueAt < now) slips.push("step-overdue");
  if (!deal.nextStep && deal.tasks.length === 0) slips.push("no-step");
  if (record.slack !== null && now - deal.since > record.slack) slips.push("long");
  return slips;
}

/** How pressing a deal is: the more should have happened, and the longer ago, the greater. */
export function urgency(deal: Deal, slips: readonly Slip[], now: number): number {
  const weight: Readonly<Record<Slip, number>> = {
    "expected-past": 8,
    "step-overdue": 6,
    "expected-soon": 3,
    long: 2,
    "no-step": 1,
  };
  const base = slips.reduce((sum, slip) => sum + weight[slip], 0);
  const late = deal.nextStep ? Math.max(0, now - deal.nextStep.dueAt) / DAY : 0;
  return base + Math.min(5, late / 7);
}

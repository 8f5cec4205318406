import { NOBODY } from "../lead/blank.ts";
import type { Lead, PlannedRung } from "../lead/lead.ts";
import type { Ladder, Target } from "../policy/bells.ts";
import type { Setup } from "../policy/setup.ts";
import { endOfDay, startOfDay } from "../time/defer.ts";
import { planFor } from "./bell.ts";

/** Times of bells for somebody made up, to be drawn: by the very reckoning that real bells go by. */
const somebodyIn = (zone: string | null): Lead => ({ ...NOBODY, facts: { ...NOBODY.facts, zone } });

/**
 * The rungs of a ladder by the minutes of a target, for a lead in that zone whose bell begins `from` (epoch ms), in the
 * order they are climbed. Without a ladder the bell alone.
 */
export function ladderTimes(
  setup: Setup,
  target: Target,
  ladder: Ladder | null,
  zone: string | null,
  from: number,
): readonly PlannedRung[] {
  const ladders = ladder ? [{ ...ladder, id: target.ladderId }] : [];
  const drawn = { ...setup, policies: { ...setup.policies, ladders } };
  return planFor(drawn, somebodyIn(zone), target, from, []).rungs;
}

/** How many days a week is drawn over, and how far apart its points are (ms). */
const DAYS = 7;
export const WEEK_STEP = 5 * 60_000;

/** When the bell of a target rings for every moment of the week that begins today, a point each {@link WEEK_STEP}. Epoch ms. */
export function weekOfRings(
  setup: Setup,
  target: Target,
  zone: string | null,
  now: number,
): { readonly from: number; readonly rings: readonly number[] } {
  const desk = setup.policies.desk.zone;
  const from = startOfDay(now, desk);
  let to = from;
  for (let day = 0; day < DAYS; day++) to = endOfDay(to, desk);
  const lead = somebodyIn(zone);
  const rings = Array.from(
    { length: Math.floor((to - from) / WEEK_STEP) + 1 },
    (_, i) => planFor(setup, lead, target, from + i * WEEK_STEP, []).dueAt,
  );
  return { from, rings };
}

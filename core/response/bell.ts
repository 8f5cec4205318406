import { evaluate, inWords, whyNot } from "../condition/condition.ts";
import { factsOf, namesIn } from "../condition/fields.ts";
import type { Trace, TraceStep } from "../lead/events.ts";
import type { Lead, PlannedRung } from "../lead/lead.ts";
import { calendarAround } from "../policy/people.ts";
import type { Setup, Target } from "../policy/policy.ts";
import { addOpen } from "../time/calendar.ts";

const MINUTE = 60_000;

/** A bell about to be started: when it rings and when each rung of its ladder is due, in order. */
export interface BellPlan {
  readonly target: string;
  readonly dueAt: number;
  readonly rungs: readonly PlannedRung[];
  readonly trace: Trace;
}

/** The moment `minutes` after `from` on the target's clock (epoch ms). */
export function afterMinutes(
  target: Pick<Target, "clock">,
  setup: Setup,
  from: number,
  minutes: number,
): number {
  const ms = Math.round(minutes * MINUTE);
  return target.clock === "wall" ? from + ms : addOpen(calendarAround(setup.policies.desk, from), from, ms);
}

/** The bell for a lead that came in now, by the first target whose condition holds; null when none does. */
export function planBell(setup: Setup, lead: Lead, now: number): BellPlan | null {
  const facts = factsOf(lead, setup, now);
  const steps: TraceStep[] = [];
  for (const target of setup.policies.targets) {
    const holds = evaluate(target.when, facts);
    const reason = holds
      ? inWords(target.when, namesIn(setup))
      : `needs ${whyNot(target.when, facts, namesIn(setup))}`;
    steps.push({ kind: "target", name: target.name, result: holds ? "yes" : "no", reason });
    if (!holds) continue;
    const ladder = setup.policies.ladders.find((l) => l.id === target.ladderId);
    const at = (fraction: number, plus: number) =>
      afterMinutes(target, setup, now, target.minutes * fraction + plus);
    const rungs = (ladder?.rungs ?? [])
      .map((rung) => ({ at: at(rung.fraction, rung.plusMinutes), act: rung.act }))
      .sort((a, b) => a.at - b.at);
    const unit = target.clock === "desk" ? "open desk minutes" : "minutes";
    const outcome = `A person must try within ${target.minutes} ${unit} (target “${target.name}”).`;
    return { target: target.name, dueAt: at(1, 0), rungs, trace: { outcome, steps } };
  }
  return null;
}

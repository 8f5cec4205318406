import { entersBy, goesOn } from "../cadence/course.ts";
import { cadenceName, openRuns } from "../cadence/run.ts";
import type { EventData } from "../lead/events.ts";
import type { NextStep } from "../lead/lead.ts";
import type { OutcomePolicy, StepDelay } from "../policy/calls.ts";
import { calendarAround } from "../policy/people.ts";
import { personOf } from "../policy/setup.ts";
import { nextOpening } from "../time/calendar.ts";
import { inDaysWhenOpen, nextWallTime } from "../time/defer.ts";
import type { TryChannel } from "../vocabulary.ts";
import { Draft, type World } from "./plan.ts";

export interface TryReport {
  readonly personId: string;
  readonly channel: TryChannel;
  readonly outcome: string;
  readonly note?: string | null;
  /** Overrides what the outcome's policy would set; null sets none. */
  readonly nextStep?: Omit<NextStep, "personId"> | null;
  /** A try somebody else has logged meanwhile, which whoever logs this one did not know of. */
  readonly meanwhile?: { readonly at: number; readonly data: EventData["tried"] } | null;
  /** A text by this template goes along with it: part of this try, and no try of its own. */
  readonly text?: { readonly templateId: string; readonly callBackSeconds?: number | undefined } | undefined;
}

/** The outcome meant by a written name, whatever its spaces and case; undefined when there is none. */
export function findOutcome(outcomes: readonly OutcomePolicy[], written: string): OutcomePolicy | undefined {
  const plain = (s: string) =>
    s
      .toLowerCase()
      .replace(/[^a-z]+/g, "-")
      .replace(/^-|-$/g, "");
  return outcomes.find((o) => plain(o.key) === plain(written) || plain(o.name) === plain(written));
}

/** What the policy of an outcome sets next, times in epoch ms and in desk hours; null when it sets nothing. */
export function afterOutcome(
  { next }: OutcomePolicy,
  world: Pick<World, "now" | "setup">,
  personId: string | null,
): NextStep | null {
  return next && { kind: next.kind, dueAt: dueAfter(next, world), note: next.note, personId };
}

function dueAfter(delay: StepDelay, { now, setup }: Pick<World, "now" | "setup">): number {
  const calendar = calendarAround(setup.policies.desk, now);
  const from = now + (delay.hours ?? 0) * 3_600_000;
  const { days = 0, skipWeekend = false, at } = delay;
  if (days || at) {
    const day = at && !days ? nextWallTime(from, calendar.zone, at) : from;
    return inDaysWhenOpen(day, calendar, { days, skipWeekend, ...(at && { at }) });
  }
  return nextOpening(calendar, from) ?? from;
}

/**
 * Write down that somebody tried, whatever way it was done: the bell is answered where that way counts, and the outcome
 * sets what comes next. The one place where a try is made, by hand or as its time has come.
 */
export function addTry(draft: Draft, report: TryReport, outcome: OutcomePolicy): void {
  const { personId, channel, note, nextStep } = report;
  const by = { actor: { kind: "person", id: personId } } as const;
  // Whoever sells and makes the first try has it: the lead hears one voice.
  if (!draft.lead.ownerId && personOf(draft.world.setup, personId)?.role === "salesperson")
    draft.add("taken", { personId }, by);
  draft.add(
    "tried",
    {
      personId,
      channel,
      outcome: outcome.key,
      outcomeName: outcome.name,
      reached: outcome.reached,
      note: note?.trim() || null,
      ...(!draft.world.setup.policies.counts.includes(channel) && { uncounted: true as const }),
    },
    by,
  );
  const step =
    nextStep === undefined
      ? usualStep(draft, report, outcome)
      : nextStep && { personId: draft.lead.ownerId ?? personId, ...nextStep };
  if (step !== "as-it-is") draft.add("next-step", { step }, by);
}

/** The next step a try leaves when whoever made it says nothing of it: what a cadence asks for goes before the outcome's own. */
function usualStep(
  draft: Draft,
  { personId, channel }: TryReport,
  outcome: OutcomePolicy,
): NextStep | null | "as-it-is" {
  const { setup, now, lead: before } = draft.world;
  const planned = draft.lead.nextStep;
  // What a cadence waits for is not done by a try of another kind.
  const answers = channel === "call" || channel === "visit";
  if (planned?.touch && !outcome.reached && (planned.kind !== "call" || !answers)) return "as-it-is";
  const calls = outcome.next?.kind === "call";
  if (
    calls &&
    (goesOn(draft.lead, setup, outcome.reached) || entersBy(draft.events, before, draft.lead, setup, now))
  )
    return null;
  return afterOutcome(outcome, draft.world, draft.lead.ownerId ?? personId);
}

/** What writing means when the company has no policy for it. */
const SENT: OutcomePolicy = { key: "sent", name: "Sent", reached: false, next: null };

/** Somebody has written to them: that is a try, and sets the next step as the company has it. */
export function addWriting(draft: Draft, personId: string, channel: "text" | "email"): void {
  const outcome = findOutcome(draft.world.setup.policies.outcomes, "sent") ?? SENT;
  addTry(draft, { personId, channel, outcome: outcome.key }, outcome);
}

/** What a call with that outcome would leave for the lead if it were logged now: its next step, else what becomes of it in words. */
export function afterTry(
  world: World,
  personId: string,
  outcome: OutcomePolicy,
): { readonly step: NextStep | null; readonly said: string | null } {
  if (!world.lead || world.lead.closed) return { step: null, said: null };
  const draft = new Draft(world, { kind: "person", id: personId });
  addTry(draft, { personId, channel: "call", outcome: outcome.key }, outcome);
  const decided = draft.done();
  if (!decided.ok) return { step: null, said: null };
  const { after } = decided.plan;
  if (after.nextStep) return { step: after.nextStep, said: null };
  if (after.closed) return { step: null, said: `Closed: ${after.closed.reason}` };
  const run = openRuns(after, world.setup)[0];
  return { step: null, said: run ? `“${cadenceName(world.setup, run)}” goes on` : null };
}

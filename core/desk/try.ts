import type { EventData } from "../lead/events.ts";
import type { NextStep } from "../lead/lead.ts";
import type { OutcomePolicy, StepDelay } from "../policy/calls.ts";
import { calendarAround } from "../policy/people.ts";
import { personOf } from "../policy/setup.ts";
import { nextOpening } from "../time/calendar.ts";
import { inDaysWhenOpen, nextWallTime } from "../time/defer.ts";
import type { TryChannel } from "../vocabulary.ts";
import { parkIt } from "./park.ts";
import type { Draft, World } from "./plan.ts";
import { tellManagers } from "./tell.ts";

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

/** What follows an outcome by its policy. */
export type After =
  | { readonly does: "step"; readonly step: NextStep }
  | { readonly does: "nothing" }
  | { readonly does: "list" | "close" | "park"; readonly reason: string; readonly planId?: string };

/**
 * What the policy of an outcome sets next, times in epoch ms and in desk hours. With a series the n-th try in a
 * row that reached nobody takes its n-th delay; after the last one the policy says where the lead goes.
 */
export function afterOutcome(
  outcome: OutcomePolicy,
  world: Pick<World, "now" | "setup" | "lead">,
  personId: string | null,
): After {
  const { next } = outcome;
  if (!next) return { does: "nothing" };
  const before = outcome.reached ? 0 : (world.lead?.fruitless ?? 0);
  const delay = next.series ? next.series[before] : next;
  if (!delay) return next.last ?? { does: "list", reason: "every planned try was made" };
  const step = { kind: next.kind, dueAt: dueAfter(delay, world), note: next.note, personId };
  return { does: "step", step };
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
  const after: After =
    nextStep === undefined
      ? afterOutcome(outcome, draft.world, draft.lead.ownerId ?? personId)
      : nextStep
        ? { does: "step", step: { personId: draft.lead.ownerId ?? personId, ...nextStep } }
        : { does: "nothing" };
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
  draft.add("next-step", { step: after.does === "step" ? after.step : null }, by);
  if (after.does === "list") {
    draft.add("listed", { reason: after.reason, retryAt: null }, { actor: { kind: "desk" } });
    tellManagers(draft, "listed");
  } else if (after.does === "close") {
    draft.add("closed", { reason: after.reason }, { actor: { kind: "desk" } });
  } else if (after.does === "park") {
    parkIt(draft, after.reason, after.planId ?? null);
  }
}

/** What writing means when the company has no policy for it. */
const SENT: OutcomePolicy = { key: "sent", name: "Sent", reached: false, next: null };

/** Somebody has written to them: that is a try, and sets the next step as the company has it. */
export function addWriting(draft: Draft, personId: string, channel: "text" | "email"): void {
  const outcome = findOutcome(draft.world.setup.policies.outcomes, "sent") ?? SENT;
  addTry(draft, { personId, channel, outcome: outcome.key }, outcome);
}

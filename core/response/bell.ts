import { evaluate, inWords, whyNot } from "../condition/condition.ts";
import type { Trace, TraceStep } from "../lead/event.ts";
import { factsOf, namesIn } from "../lead/fields.ts";
import type { Bell, Lead, OtherBell, PlannedRung } from "../lead/lead.ts";
import { reasonFor } from "../lead/reasons.ts";
import type { BellTerms, Ladder, OtherBellKind, Rung, Target } from "../policy/bells.ts";
import { calendarAround } from "../policy/people.ts";
import type { Setup } from "../policy/setup.ts";
import { addOpen, type Hours } from "../time/calendar.ts";

const MINUTE = 60_000;

/** A bell about to be started: when it rings and when each rung of its ladder is due, in order. */
export interface BellPlan {
  readonly target: string;
  readonly ladder: string;
  readonly terms: BellTerms;
  readonly dueAt: number;
  readonly rungs: readonly PlannedRung[];
  readonly trace: Trace;
}

/** The bell itself: every ladder has it, at the end of the target. */
const RING: Rung = { fraction: 1, plusMinutes: 0, act: "ring" };

const elsewhere = new WeakMap<Hours, Map<string, Hours>>();

/** The same hours on the walls of another zone; remembered, so that they are compiled once. */
function hoursIn(hours: Hours, zone: string): Hours {
  if (zone === hours.zone) return hours;
  let known = elsewhere.get(hours);
  if (!known) {
    known = new Map();
    elsewhere.set(hours, known);
  }
  const found = known.get(zone) ?? { ...hours, zone };
  known.set(zone, found);
  return found;
}

/** The hours a bell counts in: the desk's, or the same hours where the lead is. */
export function hoursOf(terms: BellTerms, setup: Setup, lead: Lead): Hours {
  const { desk } = setup.policies;
  return terms.zone === "lead" && lead.facts.zone ? hoursIn(desk, lead.facts.zone) : desk;
}

/** The moment `minutes` after `from` on the bell's clock (epoch ms). Negative minutes are plain ones before it. */
export function afterMinutes(
  terms: BellTerms,
  setup: Setup,
  lead: Lead,
  from: number,
  minutes: number,
): number {
  const ms = Math.round(minutes * MINUTE);
  if (terms.clock === "wall" || ms < 0) return from + ms;
  return addOpen(calendarAround(hoursOf(terms, setup, lead), from), from, ms);
}

/** When a bell rings that counts from `startedAt`, or was moved to a time they asked for (epoch ms). */
function dueOf(
  bell: Pick<Bell, "terms" | "startedAt" | "askedFor">,
  setup: Setup,
  lead: Lead,
): { dueAt: number; rungAt: (rung: Rung) => number } {
  const { terms, startedAt, askedFor } = bell;
  if (askedFor !== null) {
    // Around a time of theirs: before it in plain minutes, since they did not ask when we are open.
    const plain = { ...terms, clock: "wall" as const };
    return {
      dueAt: askedFor,
      rungAt: ({ fraction, plusMinutes }) =>
        afterMinutes(plain, setup, lead, askedFor, terms.minutes * (fraction - 1) + plusMinutes),
    };
  }
  const rungAt = ({ fraction, plusMinutes }: Rung) =>
    afterMinutes(terms, setup, lead, startedAt, terms.minutes * fraction + plusMinutes);
  return { dueAt: rungAt(RING), rungAt };
}

/** The rungs of a ladder in the order they are climbed; at the same moment the bell rings first. */
function planned(rungs: readonly Rung[], rungAt: (rung: Rung) => number): readonly PlannedRung[] {
  return rungs.map((rung) => ({ ...rung, at: rungAt(rung) })).sort((a, b) => a.at - b.at);
}

const wholeLadder = (ladder: Ladder | undefined): readonly Rung[] => [
  RING,
  ...(ladder?.rungs ?? []).filter((r) => r.act !== "ring"),
];

/** The first target of that kind whose condition holds, and how each before it failed. */
function chooseTarget(
  setup: Setup,
  lead: Lead,
  about: OtherBellKind | undefined,
  now: number,
): { target: Target | null; steps: TraceStep[] } {
  const facts = factsOf(lead, setup, now);
  const steps: TraceStep[] = [];
  for (const target of setup.policies.targets) {
    if (target.about !== about || target.off) continue;
    const holds = evaluate(target.when, facts);
    const reason = holds
      ? inWords(target.when, namesIn(setup))
      : `needs ${whyNot(target.when, facts, namesIn(setup))}`;
    steps.push({ kind: "target", name: target.name, result: holds ? "yes" : "no", reason });
    if (holds) return { target, steps };
  }
  return { target: null, steps };
}

const ladderOf = (setup: Setup, target: Target) =>
  setup.policies.ladders.find((l) => l.id === target.ladderId);

const termsOf = ({ minutes, clock, zone }: Target): BellTerms => ({ minutes, clock, ...(zone && { zone }) });

/** The bell of one target, whatever its condition, counted from `from` (epoch ms). */
export function planFor(
  setup: Setup,
  lead: Lead,
  target: Target,
  from: number,
  steps: TraceStep[],
): BellPlan {
  const terms = termsOf(target);
  const ladder = ladderOf(setup, target);
  const { dueAt, rungAt } = dueOf({ terms, startedAt: from, askedFor: null }, setup, lead);
  const unit = target.clock === "desk" ? "open desk minutes" : "minutes";
  const where = target.zone === "lead" && lead.facts.zone ? `, read where they are (${lead.facts.zone})` : "";
  const outcome = `A person must try within ${target.minutes} ${unit} (target “${target.name}”)${where}.`;
  return {
    target: target.name,
    ladder: ladder?.name ?? "",
    terms,
    dueAt,
    rungs: planned(wholeLadder(ladder), rungAt),
    trace: { outcome, steps },
  };
}

/** The bell for a lead that came in now, by the first target whose condition holds; null when none does. */
export function planBell(setup: Setup, lead: Lead, now: number): BellPlan | null {
  const { target, steps } = chooseTarget(setup, lead, undefined, now);
  return target && planFor(setup, lead, target, now, steps);
}

/** The other bell of a kind that should begin to run for the lead now; null when it runs already or need not. */
export function planOther(setup: Setup, lead: Lead, kind: OtherBellKind, now: number): OtherBell | null {
  const reason = reasonFor(kind, lead);
  // A test waits for nobody.
  if (!reason || lead.test || lead.others.some((b) => b.kind === kind)) return null;
  const { target } = chooseTarget(setup, lead, kind, now);
  if (!target) return null;
  const { trace: _, ...plan } = planFor(setup, lead, target, reason.from, []);
  return {
    kind,
    since: reason.since,
    state: "waiting",
    startedAt: reason.from,
    askedFor: null,
    rangAt: null,
    climbed: 0,
    ...plan,
  };
}

/**
 * A running bell by the calendar as it is now: what was climbed stays as it was, what is to come has its time again.
 * Null when nothing changes.
 */
export function reckon(
  bell: Bell | OtherBell,
  setup: Setup,
  lead: Lead,
  askedFor: number | null = bell.askedFor,
): Pick<Bell, "dueAt" | "rungs"> | null {
  const { dueAt, rungAt } = dueOf({ ...bell, askedFor }, setup, lead);
  const done = bell.rungs.slice(0, bell.climbed);
  const rungs = [...done, ...planned(bell.rungs.slice(bell.climbed), rungAt)];
  const same = dueAt === bell.dueAt && rungs.every((r, i) => r.at === bell.rungs[i]!.at);
  return same ? null : { dueAt, rungs };
}

/**
 * A running bell by the policies as they are now, counted from where it began. Rungs whose like it has climbed already
 * are not climbed again.
 */
export function byPoliciesNow(
  bell: Bell | OtherBell,
  setup: Setup,
  lead: Lead,
  now: number,
): (Pick<Bell, "dueAt" | "rungs"> & { anew: Pick<Bell, "target" | "ladder" | "terms"> }) | null {
  const { target } = chooseTarget(setup, lead, "kind" in bell ? bell.kind : undefined, now);
  if (!target) return null;
  const terms = termsOf(target);
  const ladder = ladderOf(setup, target);
  const { dueAt, rungAt } = dueOf({ ...bell, terms }, setup, lead);
  const done = bell.rungs.slice(0, bell.climbed);
  const left = [...done];
  const rest = wholeLadder(ladder).filter((rung) => {
    const i = left.findIndex((d) => d.act === rung.act);
    if (i >= 0) left.splice(i, 1);
    return i < 0;
  });
  const rungs = [...done, ...planned(rest, rungAt)];
  return { dueAt, rungs, anew: { target: target.name, ladder: ladder?.name ?? "", terms } };
}

import { bellsOf } from "../lead/bells.ts";
import type { LeadEvent } from "../lead/events.ts";
import { entryOf } from "../lead/events.ts";
import type { Lead } from "../lead/lead.ts";
import type { BellKind, OtherBellKind } from "../policy/bells.ts";
import { nameOf, type Setup } from "../policy/setup.ts";
import { planOther } from "../response/bell.ts";
import { describeEvent } from "../words/describe.ts";
import { startBell } from "./bells.ts";
import { MemoryDesk } from "./memory.ts";
import { Draft } from "./plan.ts";

/** One moment of a simulated ladder: what happens, and who is told. */
export interface SimulatedStep {
  readonly at: number;
  readonly said: string;
  readonly told: readonly string[];
}

export interface Simulation {
  /** The target that holds; null when no bell would run. */
  readonly target: string | null;
  readonly startedAt: number;
  readonly dueAt: number | null;
  readonly steps: readonly SimulatedStep[];
}

/** Most timers a simulation runs: more than any ladder and its offers. */
const MOST = 200;

/** The lead as it is when a bell of that kind begins at `at`: everything else about it as it is. */
function asItBegins(lead: Lead, about: OtherBellKind, at: number, setup: Setup): Lead {
  const ownerId = lead.ownerId ?? setup.people.find((p) => p.role === "salesperson" && !p.left)?.id ?? null;
  const owned: Lead = {
    ...lead,
    ownerId,
    ownedSince: at,
    handOff: null,
    nextStep: null,
    lastTryAt: at,
    listed: null,
    reached: true,
  };
  switch (about) {
    case "untried":
      return { ...owned, lastTryAt: null };
    case "reply":
      return { ...owned, replyWaiting: at };
    case "overdue":
      return { ...owned, nextStep: lead.nextStep ? { ...lead.nextStep, dueAt: at } : STEP(at, ownerId) };
    case "promise":
      return {
        ...owned,
        promise: { text: lead.promise?.text ?? "we call today", at, personId: ownerId ?? "" },
      };
    case "stalled":
      return { ...owned, reached: false, fruitless: 1, nextStep: STEP(at + 60 * 86_400_000, ownerId) };
    case "aimless":
      return owned;
  }
}

const STEP = (dueAt: number, personId: string | null) =>
  ({ kind: "call", dueAt, note: "Call again", personId }) as const;

/**
 * Run a bell and its ladder over a lead as if it began at `at` and nobody did anything: in a desk in memory, by the very
 * decisions the real one makes. The lead itself is not touched.
 */
export function simulateBell(setup: Setup, lead: Lead, about: BellKind, at: number): Simulation {
  const desk = new MemoryDesk(setup, at);
  const still: Lead = {
    ...lead,
    bell: null,
    others: [],
    closed: null,
    parked: null,
    promise: null,
    replyWaiting: null,
    callBack: null,
    booked: null,
    scheduled: [],
    test: false,
  };
  desk.leads.set(lead.id, about === "inquiry" ? still : asItBegins(still, about, at, setup));
  const draft = new Draft(desk.look(lead.id), { kind: "desk" });
  if (about === "inquiry") startBell(draft);
  else {
    const bell = planOther(setup, draft.lead, about, at);
    if (bell) draft.add("watched", { bells: [bell] });
  }
  desk.commit(draft.done());
  const bell = bellsOf(desk.leads.get(lead.id)!).find(
    (b) => about === "inquiry" || ("kind" in b && b.kind === about),
  );
  if (!bell) return { target: null, startedAt: at, dueAt: null, steps: [] };
  // Until its last rung is climbed, or the lead is closed or parked on the way.
  const last = Math.max(bell.dueAt, ...bell.rungs.map((r) => r.at));
  for (let ran = 0; ran < MOST && desk.now < last; ran++) {
    const next = Math.min(last, ...[...desk.timers.values()].map((t) => t.dueAt));
    desk.advance(Math.max(0, next - desk.now));
  }
  const events = (desk.events.get(lead.id) ?? []).filter((e) => e.seq > lead.seq + 1);
  return { target: bell.target, startedAt: at, dueAt: bell.dueAt, steps: toSteps(events, setup) };
}

/** Events as moments: each with whoever is told by the same act. */
function toSteps(events: readonly LeadEvent[], setup: Setup): SimulatedStep[] {
  const steps: SimulatedStep[] = [];
  for (const event of events) {
    if (entryOf(event).follows) continue;
    const later = events.filter((e) => e.actId === event.actId && e.seq > event.seq);
    const nextShown = later.find((e) => !entryOf(e).follows);
    const told = later
      .filter((e) => !nextShown || e.seq < nextShown.seq)
      .flatMap((e) =>
        e.kind === "alerted" ? [e.data.personId ? nameOf(setup, e.data.personId) : "the team’s chat"] : [],
      );
    steps.push({ at: event.at, said: describeEvent(event, setup), told: [...new Set(told)] });
  }
  return steps;
}

import { bellsOf } from "../lead/bells.ts";
import { type Bell, isWaiting, type OtherBell } from "../lead/lead.ts";
import type { BellKind } from "../policy/bells.ts";
import { personOf, type Setup } from "../policy/setup.ts";
import { refuse } from "../refusal.ts";
import { byPoliciesNow, planBell, reckon } from "../response/bell.ts";
import { readWhen } from "../time/read-when.ts";
import { dayTime, localDate } from "../time/words.ts";
import { type Decided, Draft, type World } from "./plan.ts";
import { leadIsClosed, nobodyByThatId, noSuchLead } from "./refusals.ts";

const DESK = { kind: "desk" } as const;

/** Which bell it is. */
export const kindOf = (bell: Bell | OtherBell): BellKind => ("kind" in bell ? bell.kind : "inquiry");

/** A new inquiry starts a bell unless one runs already: two inquiries do not make the wait shorter or longer. */
export function startBell(draft: Draft): void {
  const { lead } = draft;
  // A test of ours waits for nobody.
  if (isWaiting(lead) || lead.test) return;
  const plan = planBell(draft.world.setup, lead, draft.world.now);
  if (!plan) return;
  const { trace, ...bell } = plan;
  draft.add("bell-started", bell, { why: trace, actor: DESK });
}

/** Why a bell rings at another time than before: the closings on its way by name, else that hours have changed. */
export function whyMoved(setup: Setup, bell: Bell | OtherBell, dueAt: number): string {
  const { desk } = setup.policies;
  const from = localDate(bell.startedAt, desk.zone);
  const to = localDate(Math.max(dueAt, bell.dueAt), desk.zone);
  const names = Object.entries(desk.exceptions ?? {})
    .filter(([date]) => date >= from && date <= to)
    .map(([, { name }]) => name);
  return names.length > 0 ? [...new Set(names)].join(", ") : "the desk’s hours have changed";
}

/** Reckon every running bell of a lead by the calendar as it is now, with the reason on each. */
export function reckonAgain(world: World): Decided {
  const draft = new Draft(world, DESK);
  const { lead, setup } = world;
  if (!lead || lead.closed) return draft.done();
  for (const bell of bellsOf(lead)) {
    const moved = reckon(bell, setup, lead);
    if (moved)
      draft.add("bell-moved", { bell: kindOf(bell), ...moved, reason: whyMoved(setup, bell, moved.dueAt) });
  }
  return draft.done();
}

/** Have the running bells of a lead go on by the targets and ladders as they are now. Otherwise they keep theirs. */
export function goByPoliciesNow(world: World): Decided {
  const draft = new Draft(world, DESK);
  const { lead, setup, now } = world;
  if (!lead || lead.closed) return draft.done();
  for (const bell of bellsOf(lead)) {
    const anew = byPoliciesNow(bell, setup, lead, now);
    if (anew) draft.add("bell-moved", { bell: kindOf(bell), ...anew, reason: "the targets were changed" });
  }
  return draft.done();
}

/** They asked for a time: a bell that waits is moved there, and says so. */
function moveTo(draft: Draft, at: number): void {
  const { bell } = draft.lead;
  if (bell?.state !== "waiting") return;
  const moved = reckon(bell, draft.world.setup, draft.lead, at);
  if (moved)
    draft.add(
      "bell-moved",
      { bell: "inquiry", ...moved, askedFor: at, reason: "they asked to be called then" },
      { actor: DESK },
    );
}

/** Heed what they wrote about when to call them, as far as it can be understood. */
export function askedToBeCalled(draft: Draft, said: string | undefined): void {
  const { setup, now } = draft.world;
  const at = said ? readWhen(said, now, draft.lead.facts.zone ?? setup.policies.desk.zone) : null;
  if (at !== null) moveTo(draft, at);
}

/** They asked one of us to be called at a time: the bell waits until then, and the call is the next step. */
export function askedForTime(world: World, by: string, at: number): Decided {
  const draft = begin(world, by);
  if (!(draft instanceof Draft)) return draft;
  if (at <= world.now)
    return refuse(
      "in-the-past",
      422,
      "In the past",
      "They can only be called at a time still to come.",
      "at",
    );
  moveTo(draft, at);
  const step = {
    kind: "call" as const,
    dueAt: at,
    note: "Call as asked",
    personId: draft.lead.ownerId ?? by,
  };
  return draft.add("next-step", { step }).done();
}

/** Nothing need be done about what rings or waits, and why. The lead must still be somebody's, or planned. */
export function excuse(world: World, by: string, reason: string): Decided {
  const draft = begin(world, by);
  if (!(draft instanceof Draft)) return draft;
  const { lead } = draft;
  if (!reason.trim())
    return refuse(
      "a-reason-is-needed",
      422,
      "A reason is needed",
      "Say why nothing need be done about it.",
      "reason",
    );
  const bells = bellsOf(lead);
  if (bells.length === 0 && !lead.listed)
    return refuse("nothing-rings", 409, "Nothing rings", "No bell runs for this lead, and it is on no list.");
  if (!lead.ownerId && !lead.handOff && !lead.nextStep)
    return refuse(
      "nobody-has-it",
      409,
      "Nobody has it",
      "An excused lead must still be somebody’s: give it to somebody, park it or close it instead.",
    );
  for (const bell of bells) draft.add("excused", { bell: kindOf(bell), reason: reason.trim() });
  if (bells.length === 0) draft.add("excused", { bell: "inquiry", reason: reason.trim() });
  return draft.done();
}

/** Write down what the lead was told and for when: a bell rings at that time. */
export function promise(world: World, by: string, text: string, at: number): Decided {
  const draft = begin(world, by);
  if (!(draft instanceof Draft)) return draft;
  const said = text.trim();
  if (!said)
    return refuse(
      "nothing-promised",
      422,
      "Nothing promised",
      "Say what they were told, as “we call today”.",
      "text",
    );
  if (at <= world.now)
    return refuse("in-the-past", 422, "In the past", "A promise is for a time still to come.", "at");
  return draft.add("promised", { promise: { text: said, at, personId: draft.lead.ownerId ?? by } }).done();
}

/** How the bell of a lead stands, in a line for its sheet. */
export function standsBy(bell: Bell | OtherBell, setup: Setup, now: number): string {
  const { zone } = setup.policies.desk;
  const next = bell.rungs[bell.climbed];
  const rings = `rings ${dayTime(bell.dueAt, zone, now)}`;
  if (bell.state === "rung")
    return next ? `rung; next rung ${dayTime(next.at, zone, now)}` : "rung; ladder finished";
  return bell.askedFor ? `${rings}, when they asked to be called` : rings;
}

function begin(world: World, by: string): Draft | Decided {
  const { lead, setup } = world;
  if (!lead) return noSuchLead();
  if (lead.closed) return leadIsClosed();
  if (!personOf(setup, by)) return nobodyByThatId();
  return new Draft(world, { kind: "person", id: by });
}

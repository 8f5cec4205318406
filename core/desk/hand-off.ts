import { calendarAround, type Group } from "../policy/people.ts";
import type { Rule } from "../policy/routing.ts";
import { nameOf, personOf } from "../policy/setup.ts";
import { refuse } from "../refusal.ts";
import { giveBack } from "../rotation/turns.ts";
import { type Decision, offerBy, route } from "../routing/route.ts";
import { addOpen } from "../time/calendar.ts";
import { type Decided, Draft, type World } from "./plan.ts";
import { nobodyByThatId, noSuchLead } from "./refusals.ts";
import { tell, tellManagers } from "./tell.ts";

const DESK = { kind: "desk" } as const;

/** Decide by the rules who gets the draft's lead next, and offer, give or list it. */
export function routeOn(draft: Draft): void {
  const decision = route(draft.routingWorld, draft.lead);
  const { test, tester } = draft.lead;
  if (tester) offerToTester(draft, tester, decision);
  // A test takes no turn in a rotation.
  else carryOut(draft, test && decision.kind === "offer" ? { ...decision, rotation: null } : decision);
}

/** How long whoever tests has to take their test (ms). */
const TO_TESTER = 15 * 60_000;

/** A test that concerns only whoever tests: offered to them once, whatever the rules say, and the why tells what they say. */
function offerToTester(draft: Draft, tester: string, { trace }: Decision): void {
  const { lead, world } = draft;
  if (lead.refused.includes(tester) || lead.ownerId === tester) return;
  const outcome = `A test: offered to ${nameOf(world.setup, tester)} alone. By the rules: ${trace.outcome}`;
  draft.add(
    "offered",
    {
      handOffId: world.id("ho"),
      to: [tester],
      until: world.now + TO_TESTER,
      askedAt: world.now,
      open: false,
      by: "a test, for whoever tests",
      ruleId: "by-hand",
    },
    { why: { ...trace, outcome }, actor: DESK },
  );
  tell(draft, [tester], "hand-off");
}

/** When an offer of so many minutes runs out, by the rule's own clock. */
function limitOf(draft: Draft, { offerMinutes, clock }: Rule): number {
  const { setup, now } = draft.world;
  const ms = offerMinutes * 60_000;
  return clock === "wall" ? now + ms : addOpen(calendarAround(setup.policies.desk, now), now, ms);
}

function carryOut(draft: Draft, decision: Decision): void {
  const why = decision.trace;
  if (decision.kind === "offer") {
    const { to, open, rule, rotation } = decision;
    draft.turn(rotation);
    draft.add(
      "offered",
      {
        handOffId: draft.world.id("ho"),
        to,
        until: limitOf(draft, rule),
        askedAt: draft.world.now,
        open,
        by: rule.name,
        ruleId: rule.id,
        ...("group" in rule.to && { groupId: rule.to.group }),
        ...(rotation && { turn: { ...rotation.turn, before: rotation.before } }),
      },
      { why, actor: DESK },
    );
    tell(draft, to, "hand-off");
    return;
  }
  if (decision.kind === "standby") {
    draft.add(
      "given",
      { to: decision.to, reason: decision.reason, from: draft.lead.ownerId, standby: true },
      { why, actor: DESK },
    );
    tell(draft, [decision.to], "standby");
    draft.add("listed", { reason: decision.reason, retryAt: null }, { actor: DESK });
  } else {
    draft.add("listed", { reason: decision.reason, retryAt: decision.retryAt }, { why, actor: DESK });
    // At night it waits for the morning on its own: nothing a manager need be woken for.
    if (decision.retryAt !== null) return;
  }
  tellManagers(draft, "listed");
}

/** Somebody takes the lead. Taking what one has already changes nothing; too late is told who has it. */
export function take(world: World, personId: string): Decided {
  const lead = world.lead;
  const unfit = whoCannot(world, personId, "taken");
  if (!lead || unfit) return unfit ?? noSuchLead();
  const draft = new Draft(world, { kind: "person", id: personId });
  if (lead.ownerId === personId) return draft.done();
  if (lead.ownerId)
    return refuse(
      "already-taken",
      409,
      "Already taken",
      `${nameOf(world.setup, lead.ownerId)} has this lead already.`,
    );
  const others = lead.handOff?.to.filter((id) => id !== personId) ?? [];
  draft.add("taken", { personId });
  tell(draft, others, "gone");
  return draft.done();
}

/** Somebody offered the lead, or having it, passes it on: it goes to the next by the rules. */
export function pass(world: World, personId: string, reason: string): Decided {
  const lead = world.lead;
  const unfit = whoCannot(world, personId, "passed on");
  if (!lead || unfit) return unfit ?? noSuchLead();
  if (!reason.trim())
    return refuse(
      "a-reason-is-needed",
      422,
      "A reason is needed",
      "Say why you pass, so that the desk can learn from it.",
      "reason",
    );
  if (lead.ownerId !== personId && !lead.handOff?.to.includes(personId)) {
    const now = lead.ownerId ? `${nameOf(world.setup, lead.ownerId)} has it` : "It is not offered to you now";
    return refuse("nothing-to-pass", 409, "Nothing to pass", `${now}; there is nothing for you to pass.`);
  }
  const draft = new Draft(world, { kind: "person", id: personId });
  const turnBack = returnTurn(draft, world.setup.policies.turns.pass === "back" ? personId : null);
  draft.add("passed", { personId, reason: reason.trim(), ...(turnBack && { turnBack }) });
  if (!draft.lead.handOff) routeOn(draft);
  return draft.done();
}

/** Give the turn this lead cost that person back to the rotation; true when there was one. */
function returnTurn(draft: Draft, personId: string | null): true | null {
  const { turn } = draft.lead;
  if (!turn || turn.personId !== personId) return null;
  draft.turn(giveBack(turn, draft.routingWorld.rotations[turn.groupId] ?? {}));
  return true;
}

/** The lead was none: whoever it cost a turn has that turn again. */
export function creditTurn(draft: Draft, reason: string): void {
  const { turn } = draft.lead;
  if (!turn || !returnTurn(draft, turn.personId)) return;
  draft.add("turn-credited", { personId: turn.personId, groupId: turn.groupId, reason });
}

/** The time to take an offer has run out: those asked count as having refused, and the next is asked. */
export function lapse(world: World): Decided {
  const draft = new Draft(world, DESK);
  const handOff = world.lead?.handOff;
  if (!handOff || handOff.state === "taken" || handOff.until === null || handOff.until > world.now)
    return draft.done();
  const back = world.setup.policies.turns.lapse === "back" ? (world.lead?.turn?.personId ?? null) : null;
  const turnBack = returnTurn(draft, back);
  draft.add("lapsed", { to: handOff.to, ...(turnBack && { turnBack }) });
  routeOn(draft);
  return draft.done();
}

/** Somebody came on duty since nobody could take the lead: ask the rules again. */
export function routeAgain(world: World): Decided {
  const draft = new Draft(world, DESK);
  const { lead } = world;
  if (lead?.listed && !lead.ownerId && !lead.closed) routeOn(draft);
  return draft.done();
}

/**
 * Ask the rules by hand who gets it. When everybody who could have it has passed or let it lapse, all of them are
 * asked again: nobody else is left.
 */
export function routeByHand(world: World, by: string): Decided {
  const { lead } = world;
  if (!lead) return noSuchLead();
  if (lead.closed)
    return refuse("the-lead-is-closed", 409, "The lead is closed", "Reopen it before giving it to somebody.");
  if (lead.ownerId)
    return refuse(
      "somebody-has-it",
      409,
      "Somebody has it",
      `${nameOf(world.setup, lead.ownerId)} has this lead; give it away instead.`,
    );
  if (lead.handOff)
    return refuse(
      "it-is-offered-already",
      409,
      "It is offered already",
      "Wait until it is taken or lapses, or give it to somebody.",
    );
  const draft = new Draft(world, { kind: "person", id: by });
  if (lead.refused.length > 0 && route(world, lead, true).kind !== "offer") draft.add("asked-anew", {});
  routeOn(draft);
  return draft.done();
}

/** Give a turn back by hand, for a lead that was none. */
export function creditTurnByHand(world: World, by: string, reason: string): Decided {
  if (!world.lead) return noSuchLead();
  if (!world.lead.turn)
    return refuse(
      "it-cost-no-turn",
      409,
      "It cost no turn",
      "No rotation gave this lead to anybody, or the turn was given back already.",
    );
  const draft = new Draft(world, { kind: "person", id: by });
  creditTurn(draft, reason.trim());
  return draft.done();
}

/** Settle who a lead belongs to by agreement, whoever works it; null for nobody. */
export function credit(world: World, by: string, to: string | null, reason: string): Decided {
  const { lead, setup } = world;
  if (!lead) return noSuchLead();
  if (to !== null && !personOf(setup, to))
    return refuse("nobody-by-that-id", 422, "Nobody by that id", "Choose a person, or nobody.", "to");
  const draft = new Draft(world, { kind: "person", id: by });
  if (lead.creditId !== to) draft.add("credited", { to, reason: reason.trim() });
  return draft.done();
}

/** Somebody is away: what waits on them goes to whoever covers, with the reason, and is marked as only lent. */
export function coverFor(world: World, personId: string, coverId: string, reason: string): Decided {
  const draft = new Draft(world, DESK);
  const { lead } = world;
  if (!lead || lead.closed || lead.ownerId !== personId || lead.coversFor) return draft.done();
  draft.add("given", { to: coverId, from: personId, reason, coversFor: personId });
  tell(draft, [coverId], "given");
  return draft.done();
}

/** Somebody is back: what was only lent comes back to them. */
export function uncover(world: World, personId: string): Decided {
  const draft = new Draft(world, DESK);
  const { lead, setup } = world;
  if (!lead || lead.closed || lead.coversFor !== personId || !lead.ownerId) return draft.done();
  const cover = lead.ownerId;
  draft.add("given", { to: personId, from: cover, reason: `${nameOf(setup, personId)} is back` });
  tell(draft, [personId], "given");
  tell(draft, [cover], "gone");
  return draft.done();
}

/** Offering to a group that somebody chose: whether product, place and language suit is not asked. */
const ruleTo = (group: Group, name: string): Rule => ({
  id: "by-hand",
  name,
  when: null,
  to: { group: group.id },
  offerMinutes: 5,
  anyFit: true,
});

/** A ladder offers the draft's lead to a group in its own way; false, and nothing changed, when nobody can have it. */
export function offerToGroup(draft: Draft, group: Group): boolean {
  const decision = offerBy(draft.routingWorld, draft.lead, ruleTo(group, `rung: to ${group.name}`));
  if (decision.kind !== "offer") return false;
  carryOut(draft, decision);
  return true;
}

/** Move a lead by hand to a person, who has it at once, or to a group, which is asked in its own way. */
export function give(
  world: World,
  by: string,
  to: string,
  reason: string,
  steps: "move" | "stay" = "move",
): Decided {
  const { lead, setup } = world;
  if (!lead) return noSuchLead();
  if (lead.closed)
    return refuse("the-lead-is-closed", 409, "The lead is closed", "Reopen it before giving it to somebody.");
  const draft = new Draft(world, { kind: "person", id: by });
  const former = lead.ownerId;
  const offered = lead.handOff?.state === "taken" ? [] : (lead.handOff?.to ?? []);
  const group = setup.groups.find((g) => g.id === to);
  if (group) {
    const rule = ruleTo(group, `given by hand to ${group.name}`);
    let decision = offerBy(world, draft.lead, rule);
    if (decision.kind !== "offer" && lead.refused.length > 0) {
      draft.add("asked-anew", {});
      decision = offerBy(world, draft.lead, rule);
    }
    if (decision.kind !== "offer") {
      const reasons = decision.trace.steps
        .filter((s) => s.kind === "candidate")
        .map((s) => `${s.name} ${s.reason}`);
      return refuse(
        "nobody-there-can-have-it-now",
        409,
        "Nobody there can have it now",
        `Nobody in ${group.name} can have it now: ${reasons.join("; ")}. Nothing was moved.`,
      );
    }
    carryOut(draft, decision);
  } else if (personOf(setup, to)) {
    if (former === to)
      return refuse("nothing-to-move", 409, "Nothing to move", `${nameOf(setup, to)} has this lead already.`);
    draft.add("given", {
      to,
      reason: reason.trim() || "by hand",
      from: former,
      ...(steps === "stay" && { steps }),
    });
    if (to !== by) tell(draft, [to], "given");
  } else {
    return refuse(
      "nobody-by-that-id",
      422,
      "Nobody by that id",
      "Choose a person or a group to give the lead to.",
      "to",
    );
  }
  const told = new Set([to, by]);
  tell(
    draft,
    [former, ...offered].filter(
      (id): id is string => !!id && !told.has(id) && !draft.lead.handOff?.to.includes(id),
    ),
    "gone",
  );
  return draft.done();
}

function whoCannot(world: World, personId: string, what: string): Decided | null {
  if (!personOf(world.setup, personId)) return nobodyByThatId();
  if (world.lead?.closed)
    return refuse(
      "the-lead-is-closed",
      409,
      "The lead is closed",
      `A closed lead can't be ${what}; reopen it first.`,
    );
  return null;
}

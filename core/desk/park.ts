import { start, whyNot } from "../cadence/course.ts";
import { cadenceOf } from "../cadence/run.ts";
import { evaluate } from "../condition/condition.ts";
import { called } from "../lead/called.ts";
import { factsOf } from "../lead/fields.ts";
import { isForParked } from "../policy/cadence.ts";
import { SIGNALS, type Signal, STRONG_SIGNALS, type WakeRule } from "../policy/parking.ts";
import { presence } from "../policy/people.ts";
import { personOf } from "../policy/setup.ts";
import { refuse } from "../refusal.ts";
import { startBell } from "./bells.ts";
import { routeOn } from "./hand-off.ts";
import { type Decided, Draft, type World } from "./plan.ts";
import { noSuchLead } from "./refusals.ts";
import { tell, tellManagers } from "./tell.ts";
import { coverNow } from "./waits.ts";

const DESK = { kind: "desk" } as const;
const HOUR = 3_600_000;
/** Set the draft's lead aside, in a cadence for parked leads or in none; until a time, it comes back to whoever had it. */
export function parkIt(
  draft: Draft,
  reason: string,
  planId: string | null,
  until: number | null = null,
): void {
  draft.add("parked", {
    reason,
    lookAt: until,
    ...(until !== null && draft.lead.ownerId && { backTo: draft.lead.ownerId }),
  });
  const cadence = planId === null ? undefined : cadenceOf(draft.world.setup, planId);
  if (cadence && whyNot(cadence, draft.lead) === null)
    start(draft, cadence, draft.world, { by: `parked: ${reason}` });
}

/** Somebody parks a lead: no person's time goes into it until it does something, or until the next look. */
export function park(
  world: World,
  by: string,
  reason: string,
  planId: string | null,
  until: number | null = null,
): Decided {
  const { lead, setup } = world;
  if (!lead) return noSuchLead();
  if (lead.closed)
    return refuse("the-lead-is-closed", 409, "The lead is closed", "Reopen it before parking it.");
  if (!reason.trim())
    return refuse(
      "a-reason-is-needed",
      422,
      "A reason is needed",
      "Say why it is parked, for whoever finds it awake again.",
      "reason",
    );
  const cadence = planId === null ? undefined : cadenceOf(setup, planId);
  if (planId !== null && !(cadence?.live && isForParked(cadence.live)))
    return refuse(
      "no-such-plan",
      422,
      "No such plan",
      "Choose one of the cadences for parked leads, or none.",
      "planId",
    );
  if (until !== null && until <= world.now)
    return refuse(
      "in-the-past",
      422,
      "In the past",
      "It can only be parked until a time still to come.",
      "until",
    );
  if (lead.replyWaiting !== null || lead.callBack !== null)
    return refuse(
      "they-wait-for-an-answer",
      409,
      "They wait for an answer",
      "Answer them before parking the lead.",
    );
  const draft = new Draft(world, { kind: "person", id: by });
  const told = [lead.ownerId, ...(lead.handOff?.to ?? [])];
  parkIt(draft, reason.trim(), planId, until);
  tell(
    draft,
    [...new Set(told)].filter((id): id is string => !!id && id !== by),
    "gone",
  );
  return draft.done();
}

/**
 * The day has come to look at a parked lead again: whoever parked it until then has it back, with a call as the next step;
 * else a manager decides.
 */
export function lookAgain(world: World): Decided {
  const draft = new Draft(world, DESK);
  const { lead, now } = world;
  if (!lead?.parked?.lookAt || lead.closed || lead.listed || lead.parked.lookAt > now) return draft.done();
  const { backTo, reason } = lead.parked;
  const person = backTo ? personOf(world.setup, backTo) : undefined;
  if (person && !person.left) {
    draft.add("given", { to: person.id, from: null, reason: `parked until now: ${reason}` });
    draft.add("next-step", {
      step: { kind: "call", dueAt: now, note: `Call again: ${reason}`, personId: person.id },
    });
    tell(draft, [person.id], "woke", { heading: `${called(draft.lead)} was parked until now: ${reason}` });
    return draft.done();
  }
  draft.add("listed", { reason: `parked (${lead.parked.reason}): time for the next look`, retryAt: null });
  return draft.done();
}

/** When a wake rule last fired for the lead; null when never. */
const lastFired = (draft: Draft, rule: WakeRule) =>
  draft.lead.woken.find((w) => w.ruleId === rule.id)?.at ?? null;

/** The rule that heeds a signal of a parked lead; null when none does, or it is calm still. */
function ruleFor(draft: Draft, signal: Signal): WakeRule | null {
  const { setup, now } = draft.world;
  const facts = factsOf(draft.lead, setup, now);
  const rule = setup.policies.wakes.find(
    (r) => !r.off && r.signals.includes(signal) && evaluate(r.when, facts),
  );
  if (!rule) return null;
  const last = lastFired(draft, rule);
  const calm = last !== null && now < last + rule.calmHours * HOUR;
  return calm && !STRONG_SIGNALS.includes(signal) ? null : rule;
}

/**
 * A parked lead has done something. The first rule that fits says what follows, always in the same order: who has it,
 * its tag, then alerts, so that whoever has it now hears of it. Somebody who writes or calls is never left: without a
 * rule the lead goes on the manager's list. True when the lead was parked and this saw to it.
 */
export function wake(draft: Draft, signal: Signal): boolean {
  const { lead } = draft;
  if (!lead.parked) return false;
  const strong = STRONG_SIGNALS.includes(signal);
  const rule = ruleFor(draft, signal);
  if (!rule && !strong) return false;
  const does = rule?.does ?? "tell";
  draft.add(
    "woken",
    {
      signal,
      ruleId: rule?.id ?? null,
      ruleName: rule?.name ?? "no rule",
      does,
    },
    { actor: DESK },
  );
  if (does === "tell") {
    if (strong)
      draft.add("listed", { reason: `parked, and ${SIGNALS[signal]}`, retryAt: null }, { actor: DESK });
  } else {
    if (signal !== "form") startBell(draft);
    if (does !== "former" || !toFormer(draft)) routeOn(draft);
  }
  if (rule?.tag && !draft.lead.tags.includes(rule.tag))
    draft.add("learned", { facts: { tags: [...draft.lead.tags, rule.tag] } }, { actor: DESK });
  const { ownerId, handOff } = draft.lead;
  if (ownerId) tell(draft, [ownerId], "woke");
  else if (handOff) tell(draft, handOff.to, "woke");
  else tellManagers(draft, "woke");
  return true;
}

/** Back to whoever had it, or to whoever covers for them; false when neither is there. */
function toFormer(draft: Draft): boolean {
  const { setup, now } = draft.world;
  const former = personOf(setup, draft.lead.lastOwner?.personId);
  if (!former || former.left) return false;
  const cover = presence(former, now).onDuty ? null : coverNow(former, now, now + 24 * HOUR);
  if (!presence(former, now).onDuty && !cover) return false;
  const reason = cover
    ? `they came back, and ${former.name} ${cover.reason}`
    : "they came back, and had it before";
  draft.add(
    "given",
    { to: cover?.coverId ?? former.id, from: null, reason, ...(cover && { coversFor: former.id }) },
    { actor: DESK },
  );
  return true;
}

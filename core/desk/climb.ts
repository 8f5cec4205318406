import { bellKey, bellsOf } from "../lead/bells.ts";
import type { Bell, OtherBell, PlannedRung } from "../lead/lead.ts";
import type { Timer } from "../lead/timers.ts";
import type { BellKind } from "../policy/bells.ts";
import { presence } from "../policy/people.ts";
import { personOf } from "../policy/setup.ts";
import { whyUntold } from "../policy/told.ts";
import { reckon } from "../response/bell.ts";
import { lateBy } from "../time/words.ts";
import { bellHeading, bellPoint } from "../words/bells.ts";
import { kindOf, whyMoved } from "./bells.ts";
import { offerToGroup, routeOn } from "./hand-off.ts";
import { parkIt } from "./park.ts";
import { type Decided, Draft, type World } from "./plan.ts";
import { tell, tellManagers } from "./tell.ts";

/** A rung that is being climbed. */
interface Step {
  readonly draft: Draft;
  readonly kind: BellKind;
  readonly bell: Bell | OtherBell;
  readonly rung: PlannedRung;
  /** How long after its time (ms). */
  readonly late: number;
}

/**
 * The next rung of a running bell is due. Its time is reckoned once more first: a closing entered meanwhile moves it,
 * whether or not anybody has got round to this lead yet. Each rung is climbed once, in order, or left out with a reason.
 */
export function climb(world: World, timer: Timer): Decided {
  const draft = new Draft(world, { kind: "desk" });
  const { lead, now, setup } = world;
  if (!lead || lead.closed) return draft.done();
  const bell = bellsOf(lead).find((b) => timer.id === `${lead.id}:rung:${bellKey(b)}.${b.climbed}`);
  const rung = bell?.rungs[bell.climbed];
  if (!bell || !rung || rung.at > now) return draft.done();
  const kind = kindOf(bell);
  const moved = reckon(bell, setup, lead);
  if (moved && moved.rungs[bell.climbed]!.at > now) {
    draft.add("bell-moved", { bell: kind, ...moved, reason: whyMoved(setup, bell, moved.dueAt) });
    return draft.done();
  }
  const late = now - rung.at;
  const { graceMinutes, skip } = setup.policies.late;
  // What is due at the same moment is climbed at once, as long as the bell still runs.
  for (let i = bell.climbed; bell.rungs[i]?.at === rung.at; i++) {
    const runs = bellsOf(draft.lead).find((b) => bellKey(b) === bellKey(bell) && b.climbed === i);
    if (!runs || draft.lead.closed) break;
    const step: Step = { draft, kind, bell: runs, rung: runs.rungs[i]!, late };
    if (late > graceMinutes * 60_000 && skip.includes(step.rung.act)) mark(step, { skipped: lateBy(late) });
    else ACTS[step.rung.act](step);
  }
  return draft.done();
}

/** Write down that the rung was climbed. */
function mark(
  { draft, kind, bell, rung, late }: Step,
  more: { to?: readonly string[]; tag?: string; skipped?: string } = {},
): void {
  draft.add("climbed", { bell: kind, act: rung.act, dueAt: bell.dueAt, late, ...more });
}

/** Who was asked so shortly before (ms) needs no reminder: the offer is still new to them. */
const JUST_ASKED = 60_000;

/** Nudge people in the words that suit the bell. */
function nudge({ draft, kind, rung }: Step, to: readonly string[]): void {
  const { setup } = draft.world;
  tell(draft, to, "nudge", {
    heading: bellHeading(kind, draft.lead, setup, draft.world.now),
    point: bellPoint(kind),
    ...(rung.ways && { ways: rung.ways }),
  });
}

const holders = ({ draft: { lead } }: Step): readonly string[] =>
  lead.ownerId ? [lead.ownerId] : (lead.handOff?.to ?? []);

const ACTS: Readonly<Record<PlannedRung["act"], (step: Step) => void>> = {
  nudge(step) {
    const to = holders(step);
    const { draft, kind, bell, late } = step;
    const { handOff, ownedSince } = draft.lead;
    const asked = Math.max(handOff?.askedAt ?? 0, ownedSince ?? 0);
    if (to.length > 0 && draft.world.now - asked < JUST_ASKED)
      return mark(step, { skipped: "they were asked only just now" });
    if (kind === "inquiry") draft.add("nudged", { to, dueAt: bell.dueAt, late });
    else mark(step, { to });
    nudge(step, to);
  },
  ring(step) {
    const { draft, kind, bell, late } = step;
    if (kind === "inquiry") draft.add("rang", { dueAt: bell.dueAt, late });
    else mark(step);
  },
  manager(step) {
    mark(step);
    const { draft, kind } = step;
    const { setup, now } = draft.world;
    tellManagers(draft, "ring", {
      heading: `Rung: ${bellHeading(kind, draft.lead, setup, now)}`,
      manage: true,
    });
  },
  next(step) {
    const { draft } = step;
    const had = holders(step);
    mark(step, { to: had });
    takeBack(step, had);
    routeOn(draft);
    tell(
      draft,
      had.filter((id) => id !== draft.lead.ownerId),
      "gone",
    );
  },
  group(step) {
    const { draft, rung } = step;
    const { setup } = draft.world;
    const group = setup.groups.find((g) => g.id === rung.groupId);
    const had = holders(step);
    if (!group) return mark(step, { skipped: "the group it names is gone" });
    mark(step, { to: had });
    if (!offerToGroup(draft, group))
      return void draft.add("noted", {
        text: `Nobody in ${group.name} could have it: it stays where it is.`,
      });
    tell(
      draft,
      had.filter((id) => !draft.lead.handOff?.to.includes(id)),
      "gone",
    );
  },
  standby: standBy,
  tag(step) {
    const { draft, rung } = step;
    const tag = rung.tag ?? "rung";
    mark(step, { tag });
    if (!draft.lead.tags.includes(tag)) draft.add("learned", { facts: { tags: [...draft.lead.tags, tag] } });
  },
  list(step) {
    mark(step);
    const { draft, kind } = step;
    const { setup, now } = draft.world;
    draft.add("listed", { reason: bellHeading(kind, draft.lead, setup, now), retryAt: null });
    tellManagers(draft, "listed");
  },
  park(step) {
    const { draft, rung, kind } = step;
    const { setup, now } = draft.world;
    mark(step);
    // Whoever waits for an answer is not put away.
    if (draft.lead.replyWaiting !== null || draft.lead.callBack !== null) return;
    parkIt(draft, bellHeading(kind, draft.lead, setup, now), rung.planId ?? null);
  },
};

/** Whoever has it, or is asked, is asked no more. */
function takeBack({ draft }: Step, had: readonly string[]): void {
  const owned = draft.lead.ownerId !== null;
  if (had.length > 0) draft.add("lapsed", { to: had, ...(owned && { taken: true as const }) });
}

function standBy(step: Step): void {
  const { draft, kind, late } = step;
  const { setup, now, unset } = draft.world;
  const former = draft.lead.ownerId;
  const to = setup.policies.standby.find((id) => {
    const person = personOf(setup, id);
    return person && id !== former && presence(person, now).onDuty && !whyUntold(setup, person, unset);
  });
  if (kind === "inquiry") draft.add("stood-by", { to: to ?? null, late });
  else mark(step, { to: to ? [to] : [] });
  const reason =
    kind === "inquiry" ? "nobody called after the bell" : bellHeading(kind, draft.lead, setup, now);
  if (to) {
    const offered = draft.lead.handOff?.to ?? [];
    draft.add("given", { to, reason, from: former, standby: true });
    tell(draft, [to], "standby");
    tell(
      draft,
      [...new Set([former, ...offered])].filter((id): id is string => !!id && id !== to),
      "gone",
    );
  }
  draft.add("listed", {
    reason: to ? reason : `${reason}, and nobody is on standby`,
    retryAt: null,
  });
  tellManagers(draft, "listed");
}

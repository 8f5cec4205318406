import type { Actor, LeadEvent } from "../lead/events.ts";
import { foldAll } from "../lead/fold.ts";
import { type Known, known, type Lead, restorable } from "../lead/lead.ts";
import { routeOn } from "./hand-off.ts";
import { type Decided, Draft, type Plan, type Refused, refuse, type World } from "./plan.ts";
import { tell } from "./tell.ts";

/** Two leads that turn out to be one person, joined or told apart. Each decision is about both. */

/** What is decided about two leads: both plans are committed together, in this order. */
export type DecidedPair = { readonly ok: true; readonly first: Plan; readonly second: Plan } | Refused;

function pair(first: Decided, second: Decided): DecidedPair {
  if (!first.ok) return first;
  if (!second.ok) return second;
  return { ok: true, first: first.plan, second: second.plan };
}

/**
 * Join `other` to the world's lead: it keeps everything of both and goes on being worked; the other is put
 * aside, whole, so that they can be taken apart again.
 */
export function join(world: World, other: Lead, actor: Actor): DecidedPair {
  const { lead } = world;
  if (!lead) return refuse(404, "No such lead", "There is no lead with that id.");
  if (lead.id === other.id)
    return refuse(422, "One and the same", "A lead can't be joined to itself.", "with");
  const aside = [lead, other].find((l) => l.joinedTo);
  if (aside)
    return refuse(
      409,
      "Joined already",
      `${aside.name ?? "This lead"} is joined to another lead already. Take that apart first.`,
    );
  const gone = new Draft({ ...world, lead: other }, actor);
  gone.add("joined-to", { leadId: lead.id, name: lead.name });
  const draft = new Draft(world, actor);
  if (lead.closed && !other.closed) draft.add("reopened", {}, { actor: { kind: "desk" } });
  draft.add("joined", { leadId: other.id, name: other.name, lead: other });
  const { ownerId, handOff, listed, closed, parked } = draft.lead;
  if (other.ownerId && ownerId && other.ownerId !== ownerId) tell(draft, [other.ownerId, ownerId], "joined");
  else if (!closed && !ownerId && !handOff && !listed && !parked) routeOn(draft);
  // The other lets go of its numbers before this one takes them up.
  return pair(gone.done(), draft.done());
}

/** Take apart again what was joined: `history` are the surviving lead's events, `otherHistory` the other's. */
export function part(
  world: World,
  history: readonly LeadEvent[],
  other: Lead,
  otherHistory: readonly LeadEvent[],
  by: string,
): DecidedPair {
  const { lead } = world;
  if (!lead || other.joinedTo !== lead.id)
    return refuse(409, "Not joined", "These two leads are not joined.");
  const actor = { kind: "person", id: by } as const;
  const draft = new Draft(world, actor);
  draft.add("parted", { leadId: other.id, name: other.name, known: withoutOther(history, other) });
  const put = otherHistory.findLast((e) => e.kind === "joined-to");
  const before = foldAll(otherHistory.filter((e) => e.seq < (put?.seq ?? 0)));
  if (!before) throw new Error(`Lead ${other.id} has no event by which it was joined.`);
  const back = new Draft({ ...world, lead: other }, actor);
  back.add("parted-from", { leadId: lead.id, name: lead.name, restore: restorable(before) });
  const { ownerId, handOff, listed, closed } = back.lead;
  // An offer that ran out meanwhile, or none at all: somebody must be found for it now.
  const stale = handOff && handOff.state !== "taken" && (handOff.until ?? 0) <= world.now;
  if (!closed && !ownerId && !listed && (!handOff || stale)) routeOn(back);
  return pair(draft.done(), back.done());
}

/** What a lead knows by itself: its history told without the joining, and without the other's contact ways. */
function withoutOther(history: readonly LeadEvent[], other: Lead): Known {
  const joinedAt = history.findLast((e) => e.kind === "joined" && e.data.leadId === other.id);
  const own = history.filter((e) => e !== joinedAt).map((e, i) => ({ ...e, seq: i + 1 }));
  const alone = foldAll(own)!;
  const before = foldAll(history.filter((e) => e.seq < (joinedAt?.seq ?? 0)));
  const mine = new Set([...(before?.phones ?? []), ...(before?.emails ?? [])]);
  const theirs = new Set([...other.phones, ...other.emails].filter((v) => !mine.has(v)));
  return {
    ...known(alone),
    phones: alone.phones.filter((p) => !theirs.has(p)),
    emails: alone.emails.filter((e) => !theirs.has(e)),
  };
}

/** Somebody of ours says that a proposed match is somebody else; it is not proposed again. */
export function notSame(world: World, otherId: string, otherName: string | null, by: string): Decided {
  if (!world.lead) return refuse(404, "No such lead", "There is no lead with that id.");
  const draft = new Draft(world, { kind: "person", id: by });
  if (!draft.lead.notSame.includes(otherId)) draft.add("not-same", { leadId: otherId, name: otherName });
  return draft.done();
}

/** Say that a phone number or an address belongs to several people, or to this lead alone. */
export function setShared(world: World, value: string, shared: boolean, by: string): Decided {
  const { lead } = world;
  if (!lead) return refuse(404, "No such lead", "There is no lead with that id.");
  if (![...lead.phones, ...lead.emails].includes(value))
    return refuse(422, "Not theirs", "`value` is no phone number or address of this lead.", "value");
  const draft = new Draft(world, { kind: "person", id: by });
  if (lead.shared.includes(value) !== shared) draft.add("shared", { value, shared });
  return draft.done();
}

import type { Actor } from "../lead/event.ts";
import type { LeadEvent } from "../lead/events.ts";
import { foldAll } from "../lead/fold.ts";
import { isAlone, type Lead } from "../lead/lead.ts";
import { type Known, known, type Standing, standing } from "../lead/standing.ts";
import { type Refused, refuse } from "../refusal.ts";
import { routeOn } from "./hand-off.ts";
import { type Decided, Draft, type Plan, type World } from "./plan.ts";
import { noSuchLead } from "./refusals.ts";
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
  if (!lead) return noSuchLead();
  if (lead.id === other.id)
    return refuse("one-and-the-same", 422, "One and the same", "A lead can't be joined to itself.", "with");
  const aside = [lead, other].find((l) => l.joinedTo);
  if (aside)
    return refuse(
      "joined-already",
      409,
      "Joined already",
      `${aside.name ?? "This lead"} is joined to another lead already. Take that apart first.`,
    );
  const gone = new Draft({ ...world, lead: other }, actor);
  gone.add("joined-to", { leadId: lead.id, name: lead.name });
  const draft = new Draft(world, actor);
  if (lead.closed && !other.closed) draft.add("reopened", {}, { actor: { kind: "desk" } });
  draft.add("joined", { leadId: other.id, name: other.name, lead: other, messages: true });
  const { ownerId, handOff, listed, closed, parked } = draft.lead;
  if (other.ownerId && ownerId && other.ownerId !== ownerId) tell(draft, [other.ownerId, ownerId], "joined");
  else if (!closed && !ownerId && !handOff && !listed && !parked) routeOn(draft);
  // The other lets go of its numbers before this one takes them up.
  return pair(gone.done(), draft.done());
}

/**
 * Join the world's lead with the one proposed as the same person: the one that is open stays, of two the older. Refused where
 * nobody is proposed or several are: somebody has to look. `leadOf` finds leads, `look` the world about one.
 */
export function joinLikely(
  world: World,
  by: string,
  { leadOf, look }: { readonly leadOf: (id: string) => Lead | null; readonly look: (id: string) => World },
): DecidedPair {
  const { lead } = world;
  if (!lead) return noSuchLead();
  const proposed = lead.maybe.flatMap(({ leadId }) => leadOf(leadId) ?? []).filter((l) => !l.joinedTo);
  const [other] = proposed;
  if (!other) return refuse("nobody-likely", 409, "Nobody likely", "Nobody seems to be the same person.");
  if (proposed.length > 1)
    return refuse("several-likely", 409, "Several likely", "Several may be the same person: look at each.");
  const [stays, goes] = [lead, other].sort(
    (a, b) => Number(a.closed !== null) - Number(b.closed !== null) || a.createdAt - b.createdAt,
  ) as [Lead, Lead];
  return join(look(stays.id), goes, { kind: "person", id: by });
}

/**
 * Take apart again what was joined: `history` are the surviving lead's events, `otherHistory` the other's. Each has again
 * what was its own as they were joined, as far as nothing newer stands against it; what has happened since stays with the
 * one it happened to. What could not be given back is said.
 */
export function part(
  world: World,
  history: readonly LeadEvent[],
  other: Lead,
  otherHistory: readonly LeadEvent[],
  by: string,
): DecidedPair {
  const { lead, now } = world;
  if (!lead || other.joinedTo !== lead.id)
    return refuse("not-joined", 409, "Not joined", "These two leads are not joined.");
  const put = otherHistory.findLast((e) => e.kind === "joined-to");
  const before = foldAll(otherHistory.filter((e) => e.seq < (put?.seq ?? 0)));
  if (!before) throw new Error(`Lead ${other.id} has no event by which it was joined.`);
  const joining = history.findLast((e) => e.kind === "joined" && e.data.leadId === other.id);
  const alone = withoutAct(history, joining);
  const theirs = givenBack(before, lead, now);
  const lost = [...theirs.lost];
  const actor = { kind: "person", id: by } as const;
  const draft = new Draft(world, actor);
  draft.add("parted", {
    leadId: other.id,
    name: other.name,
    known: knownWithout(alone, history, joining, other),
    own: givenBack(alone, lead, now).stands,
    ...(lost.length > 0 && { lost }),
  });
  findSomebody(draft);
  const back = new Draft({ ...world, lead: other }, actor);
  back.add("parted-from", { leadId: lead.id, name: lead.name, restore: theirs.stands });
  findSomebody(back);
  return pair(draft.done(), back.done());
}

/** A lead that is nobody's after the parting goes on by the rules. */
function findSomebody(draft: Draft): void {
  if (isAlone(draft.lead)) routeOn(draft);
}

/** How a lead stands again after parting: as it stood, less what has gone its way meanwhile. `now` in epoch ms. */
function givenBack(stood: Lead, joined: Lead, now: number): { stands: Standing; lost: string[] } {
  const lost: string[] = [];
  const stands = standing(stood);
  const waiting = stands.scheduled.filter((item) => joined.scheduled.some((s) => s.id === item.id));
  const gone = stands.scheduled.length - waiting.length;
  if (gone > 0)
    lost.push(
      `${gone === 1 ? "A message that waited has" : `${gone} messages that waited have`} gone or been taken back meanwhile`,
    );
  const { booked, handOff } = stands;
  const stillBooked = booked && joined.booked?.id === booked.id && booked.at > now ? joined.booked : null;
  if (booked && !stillBooked) lost.push("The booked call was made, moved or called off meanwhile");
  const offer = handOff && handOff.state !== "taken" && (handOff.until ?? 0) <= now ? null : handOff;
  // Whoever asked one of them to be left alone meanwhile may have been either.
  const stops = [
    ...stands.stops,
    ...joined.stops.filter((j) => !stands.stops.some((s) => s.channel === j.channel)),
  ];
  return { stands: { ...stands, scheduled: waiting, booked: stillBooked, handOff: offer, stops }, lost };
}

/** The lead as if an act had never been: its history told without it. */
function withoutAct(history: readonly LeadEvent[], of: LeadEvent | undefined): Lead {
  const own = history.filter((e) => e.actId !== of?.actId).map((e, i) => ({ ...e, seq: i + 1 }));
  return foldAll(own)!;
}

/** What a lead knows on its own: as it is without the joining, and without the other's contact ways. */
function knownWithout(
  alone: Lead,
  history: readonly LeadEvent[],
  joining: LeadEvent | undefined,
  other: Lead,
): Known {
  const before = foldAll(history.filter((e) => e.seq < (joining?.seq ?? 0)));
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
  if (!world.lead) return noSuchLead();
  const draft = new Draft(world, { kind: "person", id: by });
  if (!draft.lead.notSame.includes(otherId)) draft.add("not-same", { leadId: otherId, name: otherName });
  return draft.done();
}

/** Say that a phone number or an address belongs to several people, or to this lead alone. */
export function setShared(world: World, value: string, shared: boolean, by: string): Decided {
  const { lead } = world;
  if (!lead) return noSuchLead();
  if (![...lead.phones, ...lead.emails].includes(value))
    return refuse(
      "not-theirs",
      422,
      "Not theirs",
      "`value` is no phone number or address of this lead.",
      "value",
    );
  const draft = new Draft(world, { kind: "person", id: by });
  if (lead.shared.includes(value) !== shared) draft.add("shared", { value, shared });
  return draft.done();
}

import { freeTimes } from "../booking/free.ts";
import { type Invite, inviteText } from "../booking/invite.ts";
import type { Booked } from "../lead/lead.ts";
import type { Person } from "../policy/people.ts";
import { nameOf, personOf } from "../policy/setup.ts";
import { refuse } from "../refusal.ts";
import { dateTime, zoneName } from "../time/words.ts";
import { type Decided, Draft, type World } from "./plan.ts";
import { noSuchLead } from "./refusals.ts";
import { tell } from "./tell.ts";

/** A time that can be booked, and with whom. */
export interface Slot {
  readonly at: number;
  readonly personId: string;
}

/**
 * Times this lead can choose from, soonest first: their owner's, else those of everybody the booking page names, at
 * each time whoever holds the fewest leads.
 */
export function slotsFor(world: World): readonly Slot[] {
  const { setup, now, lead, loads } = world;
  const { booking } = setup.policies;
  const owner = personOf(setup, lead?.ownerId);
  const people = owner ? [owner] : booking.people.flatMap((id) => personOf(setup, id) ?? []);
  // The lead's own call is no hindrance to moving it.
  const busy = (person: Person) => world.busy(person.id).filter((s) => s.leadId !== lead?.id);
  const best = new Map<number, string>();
  const load = (id: string) => loads[id] ?? 0;
  for (const person of people)
    for (const at of freeTimes(person, busy(person), booking, now)) {
      const before = best.get(at);
      if (before === undefined || load(person.id) < load(before)) best.set(at, person.id);
    }
  return [...best].map(([at, personId]) => ({ at, personId })).sort((a, b) => a.at - b.at);
}

/** The lead books a call, or moves the one that is booked. */
export function book(world: World, at: number): Decided {
  if (!world.lead) return noSuchLead();
  const slot = slotsFor(world).find((s) => s.at === at);
  if (!slot)
    return refuse(
      "that-time-is-taken",
      409,
      "That time is taken",
      "Somebody was quicker, or it is too soon now. Choose another one.",
      "at",
    );
  const draft = new Draft(world, { kind: "lead" });
  if (draft.lead.closed) draft.add("reopened", {}, { actor: { kind: "desk" } });
  if (!draft.lead.ownerId)
    draft.add(
      "given",
      { to: slot.personId, reason: "they booked a call", from: null },
      { actor: { kind: "desk" } },
    );
  const before = draft.lead.booked;
  const booked: Booked = {
    id: before?.id ?? world.id("book"),
    at,
    minutes: world.setup.policies.booking.minutes,
    personId: slot.personId,
    sequence: before ? before.sequence + 1 : 0,
  };
  draft.add("booked", { booked, movedFrom: before?.at ?? null });
  draft.add(
    "next-step",
    { step: { kind: "call", dueAt: at, note: "Call as booked", personId: slot.personId } },
    { actor: { kind: "desk" } },
  );
  invite(draft, booked, "REQUEST");
  tell(draft, [slot.personId], "booked");
  return draft.done();
}

/** The lead calls off the booked call. */
export function cancelBooking(world: World): Decided {
  const booked = world.lead?.booked;
  if (!world.lead || !booked)
    return refuse("nothing-is-booked", 409, "Nothing is booked", "There is no call to call off.");
  const draft = new Draft(world, { kind: "lead" });
  const gone = { ...booked, sequence: booked.sequence + 1 };
  draft.add("booking-cancelled", { booked: gone });
  draft.add(
    "next-step",
    {
      step: {
        kind: "call",
        dueAt: world.now,
        note: "They called off the call: find another time",
        personId: booked.personId,
      },
    },
    { actor: { kind: "desk" } },
  );
  invite(draft, gone, "CANCEL");
  tell(draft, [booked.personId], "booked");
  return draft.done();
}

/** The calendar file to both, by mail. Who has no mail address sees the time on the page, and in the thread. */
function invite(draft: Draft, booked: Booked, method: Invite["method"]): void {
  const { setup, now, id } = draft.world;
  const { company, desk } = setup.policies;
  const { lead } = draft;
  const person = personOf(setup, booked.personId);
  if (!person) return;
  const who = lead.name ?? lead.company ?? "a lead";
  const zone = lead.facts.zone ?? desk.zone;
  const [theirs] = lead.emails;
  const base = {
    method,
    uid: `${booked.id}@${company.email.split("@")[1] ?? "kite-bell"}`,
    sequence: booked.sequence,
    at: booked.at,
    minutes: booked.minutes,
    description: `${lead.phones[0] ?? "No phone number is known."}`,
    organizer: { name: company.name, email: company.email },
    now,
  };
  const off = method === "CANCEL";
  const send = (to: string, name: string, summary: string, body: string) => {
    const text = inviteText({ ...base, summary, attendee: { name, email: to } });
    draft.send({
      id: id("msg"),
      key: `invite:${booked.id}:${booked.sequence}:${to}`,
      channel: "email",
      to,
      from: company.email,
      subject: off ? `Called off: ${summary}` : summary,
      body,
      leadId: draft.leadId,
      purpose: "invite",
      headers: { calendar: { method, text } },
    });
  };
  const told = (place: string) => `${dateTime(booked.at, place, now)} ${zoneName(booked.at, place)}`;
  const ours = told(person.hours.zone);
  send(
    person.email,
    person.name,
    `Call with ${who}`,
    off ? `${who} has called off the call of ${ours}.` : `${who} has booked a call: ${ours}.`,
  );
  if (!theirs) return;
  const at = told(zone);
  const first = nameOf(setup, person.id);
  send(
    theirs,
    who,
    `Call with ${first}, ${company.name}`,
    off
      ? `Your call with ${first} (${at}) is called off.\n\nIf you want another time: {booking}`
      : `${first} calls you: ${at}, your time.\n\nTo move it or call it off: {booking}`,
  );
}

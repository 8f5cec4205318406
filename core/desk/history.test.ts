import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { company, perform, person, START, step } from "../../tests/support/history.ts";
import { rungsOnce } from "../../tests/support/promises.ts";
import type { LeadEvent } from "../lead/events.ts";
import { fold, foldAll } from "../lead/fold.ts";
import { isAlone, isWaiting, type Lead } from "../lead/lead.ts";
import { reasonHolds } from "../lead/reasons.ts";
import { restorable } from "../lead/standing.ts";
import { timersOf } from "../lead/timers.ts";
import { allowedFrom, whereabouts } from "../message/restraint.ts";
import { MemoryDesk } from "./memory.ts";
import { undo } from "./undo.ts";
import { logTry } from "./work.ts";

/** What must hold of every desk at every moment. */
function holds(desk: MemoryDesk): void {
  // An undone act may bring back a timer that is due by now: it runs at once, as it does live.
  desk.advance(0);
  const timers = new Map<string, number>();
  for (const lead of desk.leads.values()) {
    const events = desk.events.get(lead.id)!;
    expect(foldAll(events)).toEqual(lead);
    expect(isAlone(lead), `${lead.id} is with nobody and on no list`).toBe(false);
    if (!lead.closed) {
      if (lead.parked)
        expect([lead.ownerId, lead.handOff, lead.nextStep, lead.others.length]).toEqual([
          null,
          null,
          null,
          0,
        ]);
      // Whoever waits for one of us waits behind a bell that runs, or has rung, or was excused with a reason.
      if (lead.replyWaiting !== null && !lead.parked)
        expect(lead.others.some((b) => b.kind === "reply")).toBe(true);
      for (const bell of lead.others)
        expect(reasonHolds(bell, lead), `${bell.kind} without a reason`).toBe(true);
    }
    if (lead.handOff?.state === "taken") expect(lead.handOff.to).toEqual([lead.ownerId]);
    if (lead.handOff && lead.handOff.state !== "taken") expect(lead.ownerId).toBeNull();
    if (lead.bell && !isWaiting(lead))
      expect(timersOf(lead).some((t) => t.id.startsWith(`${lead.id}:rung:${lead.bell!.n}.`))).toBe(false);
    for (const timer of timersOf(lead)) timers.set(timer.id, timer.dueAt);
    rungsOnce(events);
    notRobbed(events);
    notUntried(desk, events);
    restrained(desk, lead, events);
  }
  noneTwice(desk);
  expect(new Map([...desk.timers.values()].map((t) => [t.id, t.dueAt]))).toEqual(timers);
  for (const dueAt of timers.values()) expect(dueAt).toBeGreaterThan(desk.now);
  expect(new Set(desk.messages.map((m) => m.key)).size).toBe(desk.messages.length);
  expect(new Set(desk.alerts.map((a) => a.key)).size).toBe(desk.alerts.length);
}

/** Nothing is texted after an opt-out, nothing on its own at night, and never more in a day than allowed. */
function restrained(desk: MemoryDesk, lead: Lead, events: readonly LeadEvent[]): void {
  const { restraint } = desk.setup.policies;
  let stoppedBy: string | null = null;
  const automatic: number[] = [];
  for (const event of events) {
    if (event.kind === "stopped" && event.data.channel === "text") stoppedBy = event.actId;
    if (event.kind === "stop-lifted") stoppedBy = null;
    if (event.kind !== "message-out") continue;
    // The one answer to the word itself is part of the same act; a word for help is answered always.
    const answersWord = events.some((e) => e.actId === event.actId && e.kind === "message-in" && e.data.word);
    if (answersWord) continue;
    if (event.data.channel === "text") expect(stoppedBy, `${lead.id} was texted after an opt-out`).toBeNull();
    if (!event.data.auto) continue;
    automatic.push(event.at);
    if (event.data.channel !== "text") continue;
    const then = foldAll(events.filter((e) => e.seq < event.seq))!;
    const places = whereabouts(desk.setup, then, event.data.to);
    expect(allowedFrom(places, restraint.allowed, event.at), `${lead.id} was texted at night`).toBe(event.at);
  }
  for (const at of automatic)
    expect(automatic.filter((t) => t > at - 86_400_000 && t <= at).length).toBeLessThanOrEqual(
      restraint.perDay,
    );
}

/** While somebody talks or writes to a lead nobody is nudged about it, it does not ring, and nobody else is asked. */
function notRobbed(events: readonly LeadEvent[]): void {
  let engaged: { until: number } | null = null;
  let lead: Lead | null = null;
  for (const event of events) {
    const moves =
      event.kind === "nudged" ||
      event.kind === "rang" ||
      event.kind === "stood-by" ||
      event.kind === "climbed" ||
      event.kind === "lapsed";
    if (moves && engaged)
      expect(event.at, `${event.kind} while somebody was with them`).toBeGreaterThanOrEqual(engaged.until);
    lead = fold(lead, event);
    engaged = lead.engaged;
  }
}

/** What rings has not been tried since it came in: neither under this name nor under one that was joined to it. */
function notUntried(desk: MemoryDesk, events: readonly LeadEvent[]): void {
  if (events.some((e) => e.kind === "undone")) return;
  const joinedBefore = (seq: number) =>
    events.flatMap((e) => (e.kind === "joined" && e.seq < seq ? (desk.events.get(e.data.leadId) ?? []) : []));
  const joined = joinedBefore(Number.POSITIVE_INFINITY);
  if (joined.some((e) => e.kind === "undone")) return;
  let lead: Lead | null = null;
  for (const event of events) {
    if (event.kind === "rang") {
      const since = lead!.bell!.startedAt;
      const before = [...events.filter((e) => e.seq < event.seq), ...joinedBefore(event.seq)];
      const tries = before.filter(
        (e) => e.kind === "tried" && !e.data.uncounted && e.at > since && e.at < event.at,
      );
      expect(
        tries.map((e) => e.id),
        `${event.leadId} rang untried`,
      ).toEqual([]);
    }
    lead = fold(lead, event);
  }
}

/** No two calls of one person are booked into each other. */
function noneTwice(desk: MemoryDesk): void {
  const booked = [...desk.leads.values()].flatMap((l) => (l.booked ? [l.booked] : []));
  for (const a of booked)
    for (const b of booked)
      if (a !== b && a.personId === b.personId && a.at > desk.now && b.at > desk.now)
        expect(Math.abs(a.at - b.at)).toBeGreaterThanOrEqual(a.minutes * 60_000);
}

describe("whatever happens to a desk", () => {
  it("no lead is left alone, none is answered and ringing, every rung happens once, every row is its fold", () => {
    fc.assert(
      fc.property(company, fc.array(step, { minLength: 1, maxLength: 40 }), (setup, steps) => {
        const desk = new MemoryDesk(setup, START);
        const known = new Map<number, string>();
        for (const act of steps) perform(desk, known, act);
        holds(desk);
      }),
      { numRuns: 1_000 },
    );
  });
  it("nobody is nudged, rung or robbed of a lead while talking to it, and none rings as untried after a join", () => {
    const often = new Set(["arrive", "wait", "try", "join", "engage"]);
    const few = fc.oneof(
      step.filter((s) => often.has(s.do)),
      fc.record({ do: fc.constant("wait" as const), ms: fc.integer({ min: 30_000, max: 240_000 }) }),
      fc.record({
        do: fc.constant("join" as const),
        which: fc.nat({ max: 3 }),
        other: fc.nat({ max: 3 }),
        person,
      }),
      fc.record({
        do: fc.constant("try" as const),
        which: fc.nat({ max: 3 }),
        person,
        outcome: fc.constantFrom("voicemail", "no-answer", "busy"),
      }),
    );
    fc.assert(
      fc.property(fc.array(few, { minLength: 4, maxLength: 25 }), (steps) => {
        const desk = new MemoryDesk(tarnholt, START);
        const known = new Map<number, string>();
        for (const act of steps) perform(desk, known, act);
        desk.advance(30 * 60_000);
        holds(desk);
      }),
      { numRuns: 1_000 },
    );
  });
  it("undoing an act leaves the lead as before it", () => {
    fc.assert(
      fc.property(
        fc.array(step, { minLength: 1, maxLength: 25 }),
        fc.constantFrom(...tarnholt.policies.outcomes.map((o) => o.key)),
        (steps, outcome) => {
          const desk = new MemoryDesk(tarnholt, START);
          const known = new Map<number, string>();
          for (const act of steps) perform(desk, known, act);
          const id = [...desk.leads.keys()][0];
          if (!id) return;
          const before = desk.leads.get(id)!;
          const tried = desk.commit(logTry(desk.look(id), { personId: "p_ines", channel: "call", outcome }));
          if (!tried.ok) return;
          desk.commit(undo(desk.look(id), "p_ines", tried.plan.actId, desk.events.get(id)!));
          expect(restorable(desk.leads.get(id)!)).toEqual(restorable(before));
          holds(desk);
        },
      ),
      { numRuns: 500 },
    );
  });
});

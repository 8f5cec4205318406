import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { understand } from "../intake/understand.ts";
import type { LeadEvent } from "../lead/events.ts";
import { fold, foldAll } from "../lead/fold.ts";
import { isAlone, isWaiting, type Lead, restorable } from "../lead/lead.ts";
import { reasonHolds } from "../lead/reasons.ts";
import { timersOf } from "../lead/timers.ts";
import { allowedFrom, whereabouts } from "../message/restraint.ts";
import type { Setup } from "../policy/setup.ts";
import { takeTurn } from "../rotation/turns.ts";
import { closedFrom } from "../setup/change-bells.ts";
import { localDate } from "../time/words.ts";
import { askedForTime, excuse, goByPoliciesNow, promise, reckonAgain } from "./bells.ts";
import { book, cancelBooking, slotsFor } from "./book.ts";
import { calledIn } from "./call.ts";
import { engage, letBe } from "./engage.ts";
import { give, pass, take } from "./hand-off.ts";
import { clicked, hearFrom, visited } from "./hear.ts";
import { MemoryDesk } from "./memory.ts";
import { park } from "./park.ts";
import { receive } from "./receive.ts";
import { join } from "./same.ts";
import { undo } from "./undo.ts";
import { close, logTry, writeTo } from "./work.ts";

const START = Date.parse("2026-03-02T15:00:00Z");
const people = tarnholt.people.map((p) => p.id);
const person = fc.constantFrom(...people);
const which = fc.nat({ max: 30 });

/** Everything that can be done to a desk from outside, in any order. */
const step = fc.oneof(
  {
    weight: 4,
    arbitrary: fc.record({
      do: fc.constant("arrive" as const),
      contact: fc.nat({ max: 12 }),
      source: fc.constantFrom("plan-your-sauna", "ad-lodge", "ad-barrel"),
      place: fc.constantFrom("80202", "G1R2B5", ""),
    }),
  },
  {
    weight: 3,
    arbitrary: fc.record({
      do: fc.constant("wait" as const),
      ms: fc.oneof(
        fc.integer({ min: 1000, max: 300_000 }),
        fc.integer({ min: 1, max: 40 }).map((h) => h * 3_600_000),
      ),
    }),
  },
  {
    weight: 3,
    arbitrary: fc.record({ do: fc.constant("take" as const), which, person, asked: fc.boolean() }),
  },
  { weight: 2, arbitrary: fc.record({ do: fc.constant("pass" as const), which }) },
  {
    weight: 3,
    arbitrary: fc.record({
      do: fc.constant("try" as const),
      which,
      person,
      outcome: fc.constantFrom(...tarnholt.policies.outcomes.map((o) => o.key)),
    }),
  },
  { weight: 1, arbitrary: fc.record({ do: fc.constant("write" as const), which, person }) },
  {
    weight: 1,
    arbitrary: fc.record({
      do: fc.constant("give" as const),
      which,
      person,
      to: fc.constantFrom(...people, ...tarnholt.groups.map((g) => g.id)),
    }),
  },
  {
    weight: 2,
    arbitrary: fc.record({
      do: fc.constant("hear" as const),
      which,
      body: fc.constantFrom("Hello?", "STOP", "Stop please", "START", "HELP"),
    }),
  },
  {
    weight: 1,
    arbitrary: fc.record({
      do: fc.constant("later" as const),
      which,
      person,
      ms: fc.integer({ min: 1000, max: 30 * 3_600_000 }),
    }),
  },
  { weight: 1, arbitrary: fc.record({ do: fc.constant("book" as const), which, slot: fc.nat({ max: 3 }) }) },
  { weight: 1, arbitrary: fc.record({ do: fc.constant("call-off" as const), which }) },
  { weight: 1, arbitrary: fc.record({ do: fc.constant("close" as const), which, person }) },
  { weight: 1, arbitrary: fc.record({ do: fc.constant("undo" as const), which }) },
  {
    weight: 2,
    arbitrary: fc.record({
      do: fc.constant("park" as const),
      which,
      person,
      plan: fc.constantFrom("sp_quarter", null),
    }),
  },
  {
    weight: 1,
    arbitrary: fc.record({
      do: fc.constant("signal" as const),
      which,
      signal: fc.constantFrom("click" as const, "visit" as const, "missed" as const, "answered" as const),
    }),
  },
  { weight: 1, arbitrary: fc.record({ do: fc.constant("excuse" as const), which, person }) },
  {
    weight: 3,
    arbitrary: fc.record({
      do: fc.constant("engage" as const),
      which,
      person,
      what: fc.constantFrom(
        "ringing" as const,
        "talking" as const,
        "outcome" as const,
        "writing" as const,
        null,
      ),
    }),
  },
  { weight: 2, arbitrary: fc.record({ do: fc.constant("join" as const), which, other: which, person }) },
  {
    weight: 1,
    arbitrary: fc.record({
      do: fc.constantFrom("promise" as const, "asked" as const),
      which,
      person,
      ms: fc.integer({ min: 1000, max: 30 * 3_600_000 }),
    }),
  },
  // The company closes at once, some time on, for the rest of that day.
  { weight: 1, arbitrary: fc.record({ do: fc.constant("close-desk" as const), from: fc.nat({ max: 23 }) }) },
  {
    weight: 1,
    arbitrary: fc.record({
      do: fc.constant("new-targets" as const),
      minutes: fc.integer({ min: 1, max: 90 }),
    }),
  },
);
type Step = typeof step extends fc.Arbitrary<infer T> ? T : never;

let inquiries = 0;

/** The company with a ladder that does everything a ladder can, for every bell. */
const everyRung: Setup = {
  ...tarnholt,
  policies: {
    ...tarnholt.policies,
    targets: tarnholt.policies.targets.map((t) => ({ ...t, ladderId: "l_all" })),
    ladders: [
      {
        id: "l_all",
        name: "Everything",
        rungs: [
          { fraction: 0.5, plusMinutes: 0, act: "nudge" },
          { fraction: 1, plusMinutes: 0, act: "manager" },
          { fraction: 1, plusMinutes: 3, act: "next" },
          { fraction: 1, plusMinutes: 6, act: "group", groupId: "g_lodges" },
          { fraction: 1, plusMinutes: 6, act: "tag", tag: "late" },
          { fraction: 1, plusMinutes: 10, act: "standby" },
          { fraction: 1, plusMinutes: 20, act: "list" },
          { fraction: 1, plusMinutes: 600, act: "park", planId: "sp_quarter" },
        ],
      },
    ],
  },
};
const company = fc.constantFrom(tarnholt, everyRung);

function perform(desk: MemoryDesk, known: Map<number, string>, act: Step): void {
  if (act.do === "wait") {
    desk.advance(act.ms);
    return;
  }
  if (act.do === "arrive") {
    const source = tarnholt.sources.find((s) => s.key === act.source)!;
    const fields = {
      name: `Lead ${act.contact}`,
      phone: `303555${1000 + act.contact}`,
      postal_code: act.place,
    };
    const understood = understand(source, tarnholt.policies, fields);
    if (!understood.ok) throw new Error(understood.reason);
    const leadId = known.get(act.contact) ?? null;
    const decided = desk.commit(
      receive(desk.look(leadId), {
        inquiryId: `inq_${++inquiries}`,
        source,
        facts: understood.facts,
        matchedOn: leadId && "phone",
        by: { kind: "lead" },
        goesTo: { kind: "rules" },
      }),
    );
    if (decided.ok) known.set(act.contact, decided.plan.leadId);
    return;
  }
  if (act.do === "close-desk") {
    const { zone } = desk.setup.policies.desk;
    desk.setup = closedFrom(desk.setup, localDate(desk.now, zone), `${String(act.from).padStart(2, "0")}:00`);
    for (const id of desk.leads.keys()) desk.commit(reckonAgain(desk.look(id)));
    return;
  }
  if (act.do === "new-targets") {
    const { policies } = desk.setup;
    const targets = policies.targets.map((t) => ({ ...t, minutes: act.minutes }));
    desk.setup = { ...desk.setup, policies: { ...policies, targets } };
    for (const id of desk.leads.keys()) desk.commit(goByPoliciesNow(desk.look(id)));
    return;
  }
  const ids = [...desk.leads.keys()];
  if (ids.length === 0) return;
  let id = ids[act.which % ids.length]!;
  // What comes from outside reaches the lead that goes on when this one was joined to another.
  if (act.do === "hear" || act.do === "signal")
    for (let next: string | null = id; next; next = desk.leads.get(next)!.joinedTo) id = next;
  const lead = desk.leads.get(id)!;
  const world = desk.look(id);
  const asked = lead.handOff?.to[0] ?? lead.ownerId ?? "p_mara";
  switch (act.do) {
    case "take":
      desk.commit(take(world, act.asked ? asked : act.person));
      break;
    case "pass":
      desk.commit(pass(world, asked, "Driving"));
      break;
    case "try":
      desk.commit(logTry(world, { personId: act.person, channel: "call", outcome: act.outcome }));
      break;
    case "write":
      desk.commit(writeTo(world, { personId: act.person, channel: "text", body: "Hello" }));
      break;
    case "give":
      desk.commit(give(world, act.person, act.to, "by hand"));
      break;
    case "hear":
      desk.commit(hearFrom(world, { channel: "text", from: lead.phones[0]!, subject: null, body: act.body }));
      break;
    case "later":
      desk.commit(
        writeTo(world, {
          personId: act.person,
          channel: "text",
          body: "Later",
          sendAt: desk.now + act.ms,
        }),
      );
      break;
    case "book": {
      const slot = slotsFor(world)[act.slot];
      if (slot) desk.commit(book(world, slot.at));
      break;
    }
    case "call-off":
      desk.commit(cancelBooking(world));
      break;
    case "close":
      desk.commit(close(world, act.person, "No fit"));
      break;
    case "park":
      desk.commit(park(world, act.person, "Next season", act.plan));
      break;
    case "signal":
      if (act.signal === "click") desk.commit(clicked(world, "msg_1", "https://tarnholt.example/barrel"));
      else if (act.signal === "visit") desk.commit(visited(world, "https://tarnholt.example/barrel"));
      else
        desk.commit(
          calledIn(world, {
            callId: `call_${++inquiries}`,
            line: "+17205550100",
            from: lead.phones[0]!,
            result: act.signal,
            seconds: 60,
            recording: null,
            personId: act.signal === "answered" ? "p_ines" : null,
          }),
        );
      break;
    case "engage":
      desk.commit(act.what ? engage(world, act.person, act.what) : letBe(world, act.person));
      break;
    case "join": {
      const other = desk.leads.get(ids[act.other % ids.length]!)!;
      const joined = join(world, other, { kind: "person", id: act.person });
      if (!joined.ok) break;
      for (const plan of [joined.first, joined.second]) desk.commit({ ok: true, plan });
      for (const [contact, leadId] of known) if (leadId === other.id) known.set(contact, id);
      break;
    }
    case "excuse":
      desk.commit(excuse(world, act.person, "They are on holiday"));
      break;
    case "promise":
      desk.commit(promise(world, act.person, "We send a quote", desk.now + act.ms));
      break;
    case "asked":
      desk.commit(askedForTime(world, act.person, desk.now + act.ms));
      break;
    case "undo": {
      const events = desk.events.get(id)!;
      desk.commit(undo(world, "p_ines", events.at(-1)!.actId, events));
    }
  }
}

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

/** Nothing is texted after an opt-out, nothing by itself at night, and never more in a day than allowed. */
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

/**
 * Between one bell's start and the next, each rung happens once at most, the bell rings once, and rungs come in the
 * order of their times; the same for every other bell by its reason.
 */
function rungsOnce(events: readonly LeadEvent[]): void {
  const seen = new Map<string, Set<string>>();
  const climb = (bell: string, rung: string, at: number) => {
    const climbed = seen.get(bell) ?? new Set();
    expect(climbed.has(rung), `${rung} twice for the bell of ${bell}, at ${at}`).toBe(false);
    seen.set(bell, climbed.add(rung));
  };
  const inquiry = { nudged: "nudge", rang: "ring", "stood-by": "standby" } as const;
  for (const event of events) {
    // A lead that is joined may bring its own bell along, with the rungs it has not climbed.
    if (event.kind === "bell-started" || event.kind === "joined") seen.delete("inquiry");
    if (event.kind === "watched") for (const { kind } of event.data.bells) seen.delete(kind);
    if (event.kind === "undone") seen.clear();
    if (event.kind in inquiry) climb("inquiry", inquiry[event.kind as keyof typeof inquiry], event.at);
    if (event.kind === "climbed") climb(event.data.bell, event.data.act, event.at);
  }
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

describe("turns", () => {
  const group = (weights: Record<string, number>) => ({
    id: "g",
    name: "G",
    way: "rotation" as const,
    members: Object.entries(weights).map(([personId, weight]) => ({ personId, weight })),
  });
  const run = (weights: Record<string, number>, n: number) => {
    let state = {};
    return Array.from({ length: n }, () => {
      const move = takeTurn(group(weights), new Set(Object.keys(weights)), state)!;
      state = move.after;
      return move.turn.personId;
    });
  };
  // Source: nginx's smooth weighted round robin, its published example.
  it("weights a5 b1 c1 give a a b a c a a", () =>
    expect(run({ a: 5, b: 1, c: 1 }, 7).join(" ")).toBe("a a b a c a a"));
  it("after any number of turns among equals, counts differ by one at most", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 9 }), fc.integer({ min: 1, max: 60 }), (n, k) => {
        const weights = Object.fromEntries(Array.from({ length: n }, (_, i) => [`p${i}`, 1]));
        const turns = run(weights, k);
        const counts = Object.keys(weights).map((p) => turns.filter((t) => t === p).length);
        expect(Math.max(...counts) - Math.min(...counts)).toBeLessThanOrEqual(1);
      }),
    );
  });
  it("whoever was away gets no flood on coming back", () => {
    const three = group({ a: 1, b: 1, c: 1 });
    let state = {};
    const turn = (who: string[]) => {
      const move = takeTurn(three, new Set(who), state)!;
      state = move.after;
      return move.turn.personId;
    };
    turn(["a", "b", "c"]);
    for (let i = 0; i < 50; i++) turn(["a", "b"]);
    const back = Array.from({ length: 6 }, () => turn(["a", "b", "c"]));
    expect(back.filter((p) => p === "c").length).toBeLessThanOrEqual(3);
  });
});

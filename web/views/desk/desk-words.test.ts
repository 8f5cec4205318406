import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { NOBODY } from "../../../core/lead/blank.ts";
import { called } from "../../../core/lead/called.ts";
import type { Person, QueueRow, ThreadItem } from "../../wire/schemas.ts";
import { BELL, bunch, placeOnWire } from "./scale.ts";
import { onceEach, talkOf } from "./talk.ts";
import { lastSaid, nowLine, standing, urgency, wantsBeside } from "./words.ts";

const NOW = Date.parse("2026-03-04T16:40:00Z");
const ZONE = "America/Denver";
const iso = (seconds: number) => new Date(NOW + seconds * 1000).toISOString();
const person = (id: string, name: string): Person => ({
  id,
  name,
  role: "salesperson",
  email: "",
  phone: "",
  onDuty: true,
  openLeads: 0,
  offDutyBecause: null,
  backAt: null,
});
const people = [person("p_mara", "Mara Whitehorse"), person("p_idris", "Idris Bell-Hassan")];
const noBell: QueueRow["bell"] = {
  state: "none",
  startedAt: null,
  dueAt: null,
  answeredAt: null,
  rangAt: null,
};

function row(more: Partial<QueueRow>): QueueRow {
  return {
    id: "lead_1",
    name: "Ana Ruiz",
    emails: [],
    phones: ["(303) 555-0100"],
    company: null,
    stage: "New",
    sourceId: "s",
    tags: [],
    ownerId: null,
    creditId: null,
    handOff: null,
    engaged: null,
    bell: noBell,
    tries: 0,
    nextStep: null,
    inquiries: 1,
    createdAt: iso(0),
    lastActivityAt: iso(0),
    closed: null,
    erasing: null,
    erased: null,
    listed: null,
    replyWaiting: null,
    pinned: null,
    turn: null,
    coversFor: null,
    parked: null,
    cadences: [],
    tasks: [],
    customer: null,
    handedOver: null,
    asked: [],
    promise: null,
    others: [],
    stops: [],
    facts: { ...NOBODY.facts, answers: {}, own: {}, forbidden: [], unread: [], kinds: {} },
    test: false,
    callBack: null,
    shared: [],
    related: [],
    joinedTo: null,
    wants: "",
    product: null,
    source: "",
    holder: "",
    place: "answer",
    said: null,
    rungSince: null,
    lastTryAt: null,
    ...more,
  };
}
const waiting = { ...noBell, state: "waiting", startedAt: iso(-200), dueAt: iso(100) } as const;
const rung = { ...noBell, state: "rung", startedAt: iso(-600), dueAt: iso(-300), rangAt: iso(-300) } as const;

describe("the wire's scale", () => {
  it("carries the marks where they are drawn", () => {
    expect(placeOnWire(5 * 60_000)).toBeCloseTo(0.48);
    expect(placeOnWire(2 * 60_000)).toBeCloseTo(0.66);
    expect(placeOnWire(1)).toBeCloseTo(BELL, 3);
  });
  it("runs one way: what is due sooner hangs further right, on the wire, and past the bell only when over", () => {
    const ms = fc.integer({ min: -5 * 3_600_000, max: 5 * 3_600_000 });
    fc.assert(
      fc.property(ms, ms, (a, b) => {
        const [x, y] = [placeOnWire(a), placeOnWire(b)];
        expect(x).toBeGreaterThanOrEqual(0);
        expect(x).toBeLessThanOrEqual(1);
        expect(x > BELL).toBe(a <= 0);
        if (a < b) expect(x).toBeGreaterThanOrEqual(y);
      }),
    );
  });
  it("bunches what hangs closer than a kite is wide, losing nobody", () => {
    expect(bunch([{ at: 0 }, { at: 100 }, { at: 5 }], 30).map((g) => g.length)).toEqual([2, 1]);
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 1280 }).map((at) => ({ at }))), (things) => {
        const groups = bunch(things, 30);
        expect(groups.flat()).toHaveLength(things.length);
        groups.slice(1).forEach((g, i) => {
          expect(g[0]!.at - groups[i]![0]!.at).toBeGreaterThanOrEqual(30);
        });
      }),
    );
  });
});

describe("what a row says of time", () => {
  it.each<[string, Partial<QueueRow>, string, boolean]>([
    ["left", { bell: waiting }, "1:40", false],
    ["over", { bell: rung, place: "rung" }, "5:00", true],
    ["since they wrote", { bell: { ...waiting, state: "answered" }, replyWaiting: iso(-90) }, "1:30", false],
    [
      "due",
      { place: "again", nextStep: { kind: "call", note: "", personId: null, dueAt: iso(-120) } },
      "2:00",
      true,
    ],
    [
      "due later",
      { place: "again", nextStep: { kind: "call", note: "", personId: null, dueAt: iso(7_200) } },
      "2 h 00",
      false,
    ],
    ["rung for another reason", { place: "rung", rungSince: iso(-120) }, "2:00", true],
  ])("%s", (_name, more, figure, over) => expect(urgency(row(more), NOW)).toMatchObject({ figure, over }));
  it("is none where nothing is to come", () => expect(urgency(row({}), NOW)).toBeNull());
  it("two days over is not brass, and what is due tomorrow is calm", () => {
    const step = (days: number) =>
      ({ kind: "call", note: "", personId: null, dueAt: iso(days * 86_400) }) as const;
    const tone = (days: number) => urgency(row({ place: "again", nextStep: step(days) }), NOW)?.tone;
    expect([tone(-2), tone(-0.1), tone(1)]).toEqual(["ember", "brass", "calm"]);
  });
  it("never by colour alone: the words tell left from over", () => {
    expect(urgency(row({ bell: waiting }), NOW)?.said).toBe("1 min 40 s left");
    expect(urgency(row({ bell: rung }), NOW)?.said).toBe("5 min over");
  });
});

describe("what they said last", () => {
  it.each<[NonNullable<QueueRow["said"]>["how"], string | null, string | null]>([
    ["text", "Is it\n  still free?", "Is it still free?"],
    ["form", null, null],
    ["voicemail", null, "left a voicemail"],
    ["call", null, "called, and nobody answered"],
  ])("by %s, %j: %j", (how, text, line) =>
    expect(lastSaid(row({ said: { at: iso(0), how, text } }))).toBe(line),
  );
});

it("their first words are not said twice beside what they want", () => {
  const facts = { ...row({}).facts, message: "Will it fit?" };
  const wants = "Barrel sauna, “Will it fit?”";
  const lead = (text: string | null) =>
    row({ facts, wants, product: "Barrel sauna", said: { at: iso(0), how: "form", text } });
  expect(wantsBeside(lead("Will it fit?"))).toBe("Barrel sauna");
  expect(wantsBeside({ ...lead("Will it fit?"), product: null })).toBeNull();
  expect(wantsBeside(lead("And the price?"))).toBe(wants);
  expect(wantsBeside(lead(null))).toBe(wants);
});

describe("the thread", () => {
  const item = (kind: string, more: Partial<ThreadItem> = {}): ThreadItem => ({
    id: `${kind}${JSON.stringify(more)}`,
    leadId: "l",
    at: iso(0),
    kind,
    actor: "",
    summary: kind,
    talk: kind.startsWith("t:"),
    data: {},
    actId: kind,
    messages: [],
    undo: null,
    ...more,
  });
  it("as talk folds what lies between, in order and losing nothing", () => {
    const thread = ["a", "t:1", "b", "c", "t:2", "t:3", "d"].map((kind) => item(kind));
    const flat = talkOf(thread).map((s) => ("item" in s ? s.item.kind : s.folded.map((i) => i.kind)));
    expect(flat).toEqual([["a"], "t:1", ["b", "c"], "t:2", "t:3", ["d"]]);
    expect(talkOf([])).toEqual([]);
  });
  it("says a message once: it is its own try, unless something was noted with it", () => {
    const out = item("message-out", { actId: "act" });
    const tried = (note: string | null) => item("tried", { actId: "act", data: { note } });
    expect(onceEach([out, tried(null)])).toEqual([out]);
    expect(onceEach([out, tried("she was short")])).toHaveLength(2);
    expect(onceEach([item("tried")])).toHaveLength(1);
  });
});

describe("who has it", () => {
  const offered = { state: "offered", to: ["p_mara"], until: iso(48) } as const;
  it.each<[Partial<QueueRow>, string]>([
    [{ handOff: { ...offered, to: [...offered.to] } }, "offered to Mara, 0:48 to take"],
    [
      { handOff: { state: "open", to: ["p_mara", "p_idris"], until: iso(48) } },
      "open call to 2, 0:48 to take",
    ],
    [{ ownerId: "p_idris", handOff: { state: "taken", to: ["p_idris"], until: null } }, "Idris has it"],
    [{ listed: { reason: "x", at: iso(0) } }, "manager's list"],
    [{}, "nobody has it"],
  ])("%j: %s", (more, said) => expect(standing(row(more), people, NOW)).toBe(said));
});

describe("the line under the name", () => {
  it("says how long, with whom, and who would be next", () => {
    const lead = row({ bell: waiting, handOff: { state: "offered", to: ["p_mara"], until: iso(60) } });
    expect(nowLine(lead, people, "Idris Bell-Hassan", ZONE, NOW)).toBe(
      "Waiting 3 min 20 s, rings today 09:41. Offered to Mara until 09:41, then to Idris Bell-Hassan.",
    );
  });
  it("says who only covers, for whom, and when it comes back", () => {
    const away = { ...person("p_mara", "Mara Whitehorse"), onDuty: false, backAt: iso(4 * 86_400) };
    const lent = row({ ownerId: "p_idris", coversFor: "p_mara", bell: { ...waiting, state: "answered" } });
    const said = (who: Person) => nowLine(lent, [who, people[1]!], null, ZONE, NOW);
    expect(said(away)).toBe(
      "Idris Bell-Hassan covers for Mara Whitehorse: it comes back Sun 10:40. No next step.",
    );
    expect(said({ ...away, backAt: null })).toBe(
      "Idris Bell-Hassan covers for Mara Whitehorse. No next step.",
    );
    expect(standing(lent, people, NOW)).toBe("Idris covers for Mara");
  });
  it("says what rang, what is planned, what is closed", () => {
    expect(nowLine(row({ bell: rung, ownerId: "p_mara" }), people, null, ZONE, NOW)).toBe(
      "Rang 5 min ago: nobody has called. Mara Whitehorse has it.",
    );
    const planned = row({
      ownerId: "p_mara",
      bell: { ...waiting, state: "answered" },
      nextStep: { kind: "call", note: "Call again", personId: null, dueAt: iso(3_600) },
    });
    expect(nowLine(planned, people, null, ZONE, NOW)).toBe(
      "Mara Whitehorse has it. Next: call again, today 10:40 here.",
    );
    expect(nowLine(row({ closed: { reason: "No fit", at: iso(-60) } }), people, null, ZONE, NOW)).toBe(
      "Closed today 09:39: No fit.",
    );
    expect(nowLine(row({ listed: { reason: "nobody could", at: iso(0) } }), people, null, ZONE, NOW)).toBe(
      "On the manager's list: nobody could.",
    );
  });
});

it("somebody without a name is called by what is known", () => {
  expect(called(row({ name: null, company: "Larkmoor Lodge" }))).toBe("Larkmoor Lodge");
  expect(called(row({ name: null }))).toBe("(303) 555-0100");
  expect(called(row({ name: null, phones: [] }))).toBe("Somebody");
});

import { DateTime } from "luxon";
import { beforeEach, describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { understand } from "../intake/understand.ts";
import type { EventKind, LeadEvent } from "../lead/events.ts";
import type { Lead } from "../lead/lead.ts";
import { give, pass, take } from "./hand-off.ts";
import { MemoryDesk } from "./memory.ts";
import type { Decided } from "./plan.ts";
import { receive } from "./receive.ts";
import { close } from "./stage.ts";
import { logTry } from "./work.ts";

const zone = "America/Denver";
const at = (iso: string) => DateTime.fromISO(iso, { zone }).toMillis();
const wall = (ms: number | null | undefined) =>
  ms ? DateTime.fromMillis(ms, { zone }).toFormat("ccc HH:mm:ss") : null;
const MIN = 60_000;

let desk: MemoryDesk;
let made = 0;
beforeEach(() => {
  desk = new MemoryDesk(tarnholt, at("2026-03-04T09:00:00"));
  made = 0;
});

function arrive(
  fields: Record<string, string> = {},
  key = "plan-your-sauna",
  leadId: string | null = null,
): string {
  const source = tarnholt.sources.find((s) => s.key === key)!;
  const n = ++made;
  const said = {
    name: `Ana Ruiz${n}`,
    phone: `303555${String(100 + n).padStart(4, "0")}`,
    email: `ana${n}@example.com`,
    product: "barrel",
    ...fields,
  };
  const understood = understand(source, tarnholt.policies, said);
  if (!understood.ok) throw new Error(understood.reason);
  const decided = desk.commit(
    receive(desk.look(leadId), {
      inquiryId: `inq_${n}`,
      source,
      facts: understood.facts,
      matchedOn: leadId && "phone",
      by: { kind: "lead" },
      goesTo: { kind: "rules" },
    }),
  );
  return plan(decided).leadId;
}
const plan = (decided: Decided) => {
  if (!decided.ok) throw new Error(decided.problem.detail);
  return decided.plan;
};
const lead = (id: string): Lead => desk.leads.get(id)!;
const count = (id: string, kind: EventKind) => desk.events.get(id)!.filter((e) => e.kind === kind).length;
const last = <K extends EventKind>(id: string, kind: K) =>
  desk.events.get(id)!.findLast((e) => e.kind === kind) as Extract<LeadEvent, { kind: K }>;

describe("an inquiry arrives", () => {
  it("is answered by email and text, gets a bell of five open minutes, and is offered to one person", () => {
    const id = arrive({ message: "Will it fit a 3 m deck?" });
    expect(desk.messages.map((m) => [m.channel, m.to])).toEqual([
      ["email", "ana1@example.com"],
      ["text", "+13035550101"],
    ]);
    expect(desk.messages[0]!.body).toContain("Hi Ana,");
    expect(desk.messages[0]!.body).toContain("our barrel sauna");
    expect(desk.messages[0]!.body).toContain("Will it fit a 3 m deck?");
    expect(lead(id).bell).toMatchObject({ state: "waiting", dueAt: at("2026-03-04T09:05:00") });
    expect(lead(id).handOff).toMatchObject({ state: "offered", until: at("2026-03-04T09:02:00") });
    expect(desk.alerts.map((a) => a.channel)).toEqual(["chat", "text"]);
    expect(desk.alerts[1]!.link?.personId).toBe(lead(id).handOff!.to[0]);
  });
  it("is not counted as tried by the automatic reply", () => {
    const id = arrive();
    expect(lead(id).tries).toBe(0);
    expect(lead(id).bell?.answeredAt).toBeNull();
  });
  it("answers French speakers in French and offers them to somebody who speaks it", () => {
    const id = arrive({ postal_code: "G1R 2B5", phone: "418 555 0123" });
    expect(desk.messages[0]!.body).toContain("Bonjour Ana");
    expect(["p_luc", "p_hanne"]).toContain(lead(id).handOff!.to[0]);
    expect(lead(id).facts.zone).toBe("America/Toronto");
  });
  it("carries the bell over the night: 17:58 rings at 8:03 the next open day", () => {
    desk.now = at("2026-03-04T17:58:00");
    const id = arrive();
    expect(wall(lead(id).bell!.dueAt)).toBe("Thu 08:03:00");
    desk.advance(24 * 60 * MIN);
    expect(wall(lead(id).bell!.rangAt)).toBe("Thu 08:03:00");
  });
  it("joins a further inquiry to the same lead, keeps the running bell and tells the owner", () => {
    const id = arrive();
    const bell = lead(id).bell;
    plan(desk.commit(take(desk.look(id), lead(id).handOff!.to[0]!)));
    desk.advance(MIN);
    arrive({ email: "second@example.org", message: "And delivery?" }, "ad-barrel", id);
    expect(lead(id)).toMatchObject({
      inquiries: 2,
      bell,
      emails: ["ana1@example.com", "second@example.org"],
    });
    expect(desk.alerts.at(-1)).toMatchObject({ purpose: "again", personId: lead(id).ownerId });
  });
  it("opens a closed lead again with a new bell, and routes it when nobody has it", () => {
    const id = arrive();
    plan(desk.commit(close(desk.look(id), "p_ines", "Never reached")));
    expect(desk.timers.size).toBe(0);
    arrive({}, "plan-your-sauna", id);
    expect(lead(id)).toMatchObject({
      closed: null,
      bell: { n: 1, state: "waiting" },
      handOff: { state: "offered" },
    });
  });
});

describe("rotation", () => {
  it("spreads ten inquiries over those on duty with a difference of one at most, and names why not others", () => {
    const ids = Array.from({ length: 10 }, () => arrive());
    const counts: Record<string, number> = {};
    for (const id of ids) counts[lead(id).handOff!.to[0]!] = (counts[lead(id).handOff!.to[0]!] ?? 0) + 1;
    expect(Object.keys(counts).sort()).toEqual(["p_emeka", "p_idris", "p_luc", "p_mara", "p_noor", "p_sol"]);
    expect(Math.max(...Object.values(counts)) - Math.min(...Object.values(counts))).toBeLessThanOrEqual(1);
    const why = last(ids[0]!, "offered").why!;
    expect(why.steps).toContainEqual({
      kind: "candidate",
      name: "Yuki Navarro",
      result: "no",
      reason: "away: parental leave until 16 March",
    });
    expect(why.outcome).toContain("Everybody else");
  });
  it("stops at a ceiling", () => {
    for (let i = 0; i < 60; i++) arrive();
    expect(desk.loads.p_sol).toBe(6);
    expect(desk.loads.p_mara).toBeGreaterThan(6);
  });
});

describe("hand-off", () => {
  it("a pass goes to another person, who is not asked twice", () => {
    const id = arrive();
    const first = lead(id).handOff!.to[0]!;
    plan(desk.commit(pass(desk.look(id), first, "Driving")));
    expect(lead(id).handOff!.to[0]).not.toBe(first);
    expect(lead(id).refused).toEqual([first]);
  });
  it("what lapses goes to the next at that moment", () => {
    const id = arrive();
    const first = lead(id).handOff!;
    desk.advance(2 * MIN);
    expect(lead(id).handOff!.to).not.toEqual(first.to);
    expect(wall(last(id, "lapsed").at)).toBe("Wed 09:02:00");
  });
  it("goes to standby and onto the manager's list when nobody is left", () => {
    const id = arrive({ product: "lodge" });
    for (let i = 0; i < 2; i++) plan(desk.commit(pass(desk.look(id), lead(id).handOff!.to[0]!, "Driving")));
    expect(lead(id)).toMatchObject({
      ownerId: "p_tomasz",
      listed: { reason: "everyone in Lodges was asked; nobody took it" },
    });
    expect(desk.alerts.at(-1)).toMatchObject({ purpose: "listed", to: "@greta" });
  });
  it("at night it is listed without waking anybody, and offered when the desk opens", () => {
    desk.now = at("2026-03-04T22:00:00");
    const id = arrive();
    expect(lead(id)).toMatchObject({ ownerId: null, handOff: null });
    // Luc works on Halifax time, from 6:00 at the desk, but does not get the whole night's leads.
    expect(wall(lead(id).listed!.retryAt)).toBe("Thu 08:00:00");
    expect(desk.alerts).toHaveLength(0);
    desk.advance(10 * 60 * MIN);
    expect(lead(id)).toMatchObject({ listed: null, handOff: { state: "offered" } });
    expect(wall(lead(id).handOff!.until)).toBe("Thu 08:02:00");
  });
  it("the second taker is told who has it; taking it twice oneself changes nothing", () => {
    const id = arrive();
    plan(desk.commit(take(desk.look(id), "p_mara")));
    expect(plan(take(desk.look(id), "p_mara")).events).toHaveLength(0);
    expect(take(desk.look(id), "p_idris")).toMatchObject({
      ok: false,
      problem: { status: 409, detail: "Mara Whitehorse has this lead already." },
    });
  });
  it("only somebody asked can pass, and must say why", () => {
    const id = arrive();
    expect(pass(desk.look(id), "p_hanne", "Driving")).toMatchObject({ ok: false, problem: { status: 409 } });
    expect(pass(desk.look(id), lead(id).handOff!.to[0]!, " ")).toMatchObject({
      ok: false,
      problem: { status: 422, errors: [{ path: "reason" }] },
    });
  });
  it("given by hand to a person they have it at once, and both sides are told", () => {
    const id = arrive();
    plan(desk.commit(take(desk.look(id), "p_mara")));
    plan(desk.commit(give(desk.look(id), "p_ines", "p_noor", "Speaks Spanish")));
    expect(lead(id)).toMatchObject({ ownerId: "p_noor", handOff: { state: "taken" } });
    expect(desk.alerts.filter((a) => a.purpose === "gone").map((a) => a.personId)).toEqual(["p_mara"]);
    expect(desk.alerts.filter((a) => a.purpose === "given").map((a) => a.personId)).toEqual([
      "p_noor",
      "p_noor",
    ]);
  });
  it("given to a group it is asked in the group's way", () => {
    const id = arrive();
    plan(desk.commit(give(desk.look(id), "p_ines", "g_lodges", "It is an inn")));
    expect(["p_hanne", "p_ravi"]).toContain(lead(id).handOff!.to[0]);
    expect(lead(id).handOff!.state).toBe("offered");
  });
  it("stays where it is when nobody in the group can have it, and says why of each", () => {
    const id = arrive();
    desk.now = at("2026-03-04T21:00:00");
    const before = lead(id);
    expect(give(desk.look(id), "p_ines", "g_lodges", "An inn")).toMatchObject({
      ok: false,
      problem: { status: 409, detail: expect.stringContaining("Ravi Thornbury outside their working hours") },
    });
    expect(lead(id)).toBe(before);
  });
  it("cannot be given to nobody", () => {
    expect(give(desk.look(arrive()), "p_ines", "p_ghost", "")).toMatchObject({
      ok: false,
      problem: { status: 422 },
    });
  });
});

describe("the bell", () => {
  it("nudges at 60 %, rings at 100 %, goes to standby ten open minutes later, each once", () => {
    const id = arrive();
    plan(desk.commit(take(desk.look(id), "p_mara")));
    desk.advance(60 * MIN);
    expect([count(id, "nudged"), count(id, "rang"), count(id, "stood-by")]).toEqual([1, 1, 1]);
    expect(["nudged", "rang", "stood-by"].map((k) => wall(last(id, k as "rang").at))).toEqual([
      "Wed 09:03:00",
      "Wed 09:05:00",
      "Wed 09:15:00",
    ]);
    expect(lead(id)).toMatchObject({
      ownerId: "p_tomasz",
      bell: { state: "rung" },
      listed: { reason: "nobody called after the bell" },
    });
    expect(desk.alerts.filter((a) => a.purpose === "ring").map((a) => a.to)).toEqual([
      "#lead-desk",
      "@greta",
    ]);
  });
  it("never rings once a person has tried", () => {
    const id = arrive();
    plan(desk.commit(logTry(desk.look(id), { personId: "p_mara", channel: "call", outcome: "voicemail" })));
    desk.advance(24 * 60 * MIN);
    expect(count(id, "rang")).toBe(0);
    expect(lead(id)).toMatchObject({ tries: 1, ownerId: "p_mara", bell: { state: "answered" } });
  });
  it("the answer at the last second wins", () => {
    const id = arrive();
    desk.advance(5 * MIN - 1);
    plan(desk.commit(logTry(desk.look(id), { personId: "p_mara", channel: "call", outcome: "no answer" })));
    desk.advance(MIN);
    expect(count(id, "rang")).toBe(0);
  });
  it("is answered late by a try after it rang, and the ladder stops", () => {
    const id = arrive();
    desk.advance(6 * MIN);
    plan(desk.commit(logTry(desk.look(id), { personId: "p_idris", channel: "call", outcome: "Reached" })));
    desk.advance(60 * MIN);
    expect(count(id, "stood-by")).toBe(0);
    expect(lead(id)).toMatchObject({
      stage: "Talking",
      reached: true,
      bell: { state: "answered", rangAt: at("2026-03-04T09:05:00") },
    });
  });
});

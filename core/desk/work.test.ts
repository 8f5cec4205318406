import { beforeEach, describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { Bench, MIN, planOf as plan, wall } from "../../tests/support/memory.ts";
import type { EventKind } from "../lead/events.ts";
import { describeEvent } from "../words/describe.ts";
import { give, pass } from "./hand-off.ts";
import { hearFrom } from "./hear.ts";
import type { MemoryDesk } from "./memory.ts";
import { addNote } from "./notes.ts";
import { close } from "./stage.ts";
import { undo } from "./undo.ts";
import { logTry, setNextStep, writeTo } from "./work.ts";

let bench: Bench;
let desk: MemoryDesk;
beforeEach(() => {
  bench = new Bench();
  desk = bench.desk;
});
const arrive = (fields: Record<string, string> = {}) => bench.arrive({ email: "ana@example.com", ...fields });
const lead = (id: string) => bench.lead(id);
const count = (id: string, kind: EventKind) => bench.events(id, kind).length;
const kinds = (id: string) => desk.events.get(id)!.map((e) => e.kind);

describe("work on a lead", () => {
  it("a voicemail on Wednesday sets the next call three days on, off the weekend", () => {
    const id = arrive();
    plan(desk.commit(logTry(desk.look(id), { personId: "p_mara", channel: "call", outcome: "voicemail" })));
    expect(wall(lead(id).nextStep!.dueAt)).toBe("Mon 09:00:00");
    expect(lead(id).nextStep).toMatchObject({ kind: "call", note: "Call again", personId: "p_mara" });
  });
  it("an outcome that is none is refused with those that are", () => {
    const decided = logTry(desk.look(arrive()), { personId: "p_mara", channel: "call", outcome: "sneezed" });
    expect(decided).toMatchObject({
      ok: false,
      problem: { status: 422, detail: expect.stringContaining("voicemail") },
    });
  });
  it("a personal text is a try and goes to the lead's number", () => {
    const id = arrive({ phone: "303 555 0101" });
    plan(
      desk.commit(writeTo(desk.look(id), { personId: "p_ines", channel: "text", body: "When may we call?" })),
    );
    expect(desk.messages.at(-1)).toMatchObject({
      to: "+13035550101",
      purpose: "reply",
      from: "+17205550102",
    });
    expect(lead(id)).toMatchObject({ tries: 1, bell: { state: "answered" } });
  });
  it("writing to somebody without that way is refused", () => {
    const id = arrive({ email: "" });
    expect(writeTo(desk.look(id), { personId: "p_ines", channel: "email", body: "Hello" })).toMatchObject({
      ok: false,
      problem: { status: 422 },
    });
  });
  it("a reply waits on top and tells the owner; a try settles it", () => {
    const id = arrive();
    plan(desk.commit(logTry(desk.look(id), { personId: "p_mara", channel: "call", outcome: "voicemail" })));
    desk.advance(60 * MIN);
    plan(
      desk.commit(
        hearFrom(desk.look(id), {
          channel: "text",
          from: "+13035550101",
          subject: null,
          body: "Call me now",
        }),
      ),
    );
    expect(lead(id).replyWaiting).toBe(desk.now);
    expect(desk.alerts.at(-1)).toMatchObject({ purpose: "reply", personId: "p_mara" });
    plan(desk.commit(logTry(desk.look(id), { personId: "p_mara", channel: "call", outcome: "reached" })));
    expect(lead(id).replyWaiting).toBeNull();
  });
  it("a next step can be put off, not into the past", () => {
    const id = arrive();
    const step = { kind: "call", note: "After their holiday", dueAt: desk.now + 90 * 24 * 60 * MIN } as const;
    plan(desk.commit(setNextStep(desk.look(id), "p_ines", step)));
    expect(lead(id).nextStep).toMatchObject(step);
    expect(setNextStep(desk.look(id), "p_ines", { ...step, dueAt: desk.now - 1 })).toMatchObject({
      ok: false,
    });
  });
});

describe("undo", () => {
  it("puts a try back: the bell waits again with its timers, and rings when it should", () => {
    const id = arrive();
    const before = lead(id);
    const timers = [...desk.timers.keys()];
    const act = plan(
      desk.commit(logTry(desk.look(id), { personId: "p_mara", channel: "call", outcome: "busy" })),
    ).actId;
    plan(desk.commit(undo(desk.look(id), "p_ines", act, desk.events.get(id)!)));
    expect(lead(id)).toMatchObject({
      tries: 0,
      bell: before.bell,
      handOff: before.handOff,
      ownerId: null,
      nextStep: null,
      stage: "New",
    });
    expect([...desk.timers.keys()].sort()).toEqual(timers.sort());
    desk.advance(6 * MIN);
    expect(count(id, "rang")).toBe(1);
  });
  it("is too late once something else has happened", () => {
    const id = arrive();
    const act = plan(
      desk.commit(logTry(desk.look(id), { personId: "p_mara", channel: "call", outcome: "busy" })),
    ).actId;
    plan(desk.commit(give(desk.look(id), "p_ines", "p_noor", "")));
    expect(undo(desk.look(id), "p_ines", act, desk.events.get(id)!)).toMatchObject({
      ok: false,
      problem: { title: "Too late to undo" },
    });
  });
  it("does not stand back for a note", () => {
    const id = arrive();
    const act = plan(desk.commit(close(desk.look(id), "p_ines", "No fit"))).actId;
    plan(desk.commit(addNote(desk.look(id), "p_ines", "Checked twice")));
    plan(desk.commit(undo(desk.look(id), "p_ines", act, desk.events.get(id)!)));
    expect(lead(id).closed).toBeNull();
  });
  it("cannot call back a message", () => {
    const id = arrive();
    const act = plan(
      desk.commit(writeTo(desk.look(id), { personId: "p_ines", channel: "text", body: "Hi" })),
    ).actId;
    expect(undo(desk.look(id), "p_ines", act, desk.events.get(id)!)).toMatchObject({
      ok: false,
      problem: { status: 409 },
    });
  });
});

it("says every event in words", () => {
  const id = arrive();
  desk.advance(3 * MIN);
  plan(desk.commit(pass(desk.look(id), lead(id).handOff!.to[0]!, "Driving")));
  plan(desk.commit(give(desk.look(id), "p_ines", "p_noor", "Speaks Spanish")));
  plan(desk.commit(logTry(desk.look(id), { personId: "p_noor", channel: "call", outcome: "voicemail" })));
  const words = desk.events.get(id)!.map((e) => describeEvent(e, tarnholt));
  expect(words).toContain("Given to Noor Castellanos: Speaks Spanish");
  expect(words).toContain("Noor Castellanos called: voicemail");
  expect(words).toContain("Next: Call again, Mon 9 Mar 09:03");
  expect(words.filter((w) => w.includes("undefined") || w.includes("no longer here"))).toEqual([]);
  expect(kinds(id)[0]).toBe("inquiry");
});

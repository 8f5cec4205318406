import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { startCadence } from "../../core/desk/cadence.ts";
import { take } from "../../core/desk/hand-off.ts";
import { markStop } from "../../core/desk/work.ts";
import type { Cadence } from "../../core/policy/cadence.ts";
import { NO_MAPPING } from "../../core/policy/mapping.ts";
import type { Source } from "../../core/policy/source.ts";
import { NINE, testDesk } from "../../tests/support/desk.ts";
import { MovableClock } from "../clock.ts";
import type { Desk } from "../desk.ts";
import { type Carrier, Dialer, type OutReport } from "./dialer.ts";

/** Calls made from the desk, with a carrier that does what it is told and remembers what it was asked. */

let desk: Desk;
let clock: MovableClock;
let dialer: Dialer;
let asked: string[];
let carrier: Carrier;
let leadId: string;

beforeEach(async () => {
  clock = new MovableClock(NINE, { frozen: true });
  desk = await testDesk({ clock });
  asked = [];
  carrier = {
    place: async ({ us, them, from }) => void asked.push(`${us} then ${them} from ${from}`),
    hangUp: async (id) => void asked.push(`hang up ${id}`),
  };
  dialer = new Dialer(desk, carrier);
  leadId = await inquiry();
});
afterEach(() => desk.close());

let n = 0;
async function inquiry(
  fields: Record<string, string> = { phone: `303 555 01${String(10 + n++)}` },
): Promise<string> {
  const source = desk.setup.sources.find((s) => s.key === "plan-your-sauna")!;
  const raw = Buffer.from(JSON.stringify({ name: "Ana Ruiz", ...fields }));
  const receipt = await desk.intake.submit(source, { contentType: "application/json", headers: {}, raw });
  return receipt.leadId!;
}
const lead = () => desk.looker.lead(leadId)!;
const events = () => desk.reader.events(leadId).map((e) => e.kind);
async function placed(personId = "p_mara") {
  const call = await dialer.place(leadId, personId);
  if (!call.ok) throw new Error(call.problem.detail);
  return call.call;
}
const report = (callId: string, state: OutReport["state"], more: Partial<OutReport> = {}) =>
  dialer.report({ direction: "out", call_id: callId, state, seconds: 0, ...more });

describe("placing a call", () => {
  it("rings our person first, then the lead, from a line of ours, and holds what would take the lead away", async () => {
    const call = await placed();
    const mara = desk.setup.people.find((p) => p.id === "p_mara")!;
    expect(asked).toEqual([`${mara.phone} then ${lead().phones[0]} from ${call.fromAddress}`]);
    expect(call).toMatchObject({ state: "ringing-us", leadId, personId: "p_mara", ended: null });
    expect(lead().engaged).toMatchObject({ personId: "p_mara", how: "call" });
    expect(dialer.openOf("p_mara")?.id).toBe(call.id);
    expect(dialer.personOf(call.id)).toBe("p_mara");
  });
  it("is refused to somebody who wants no calls, until that is lifted", async () => {
    const mark = (stop: boolean) =>
      desk.act(leadId, (world) => markStop(world, "p_mara", "call", stop, "on the phone"));
    expect(mark(true).ok).toBe(true);
    expect(await dialer.place(leadId, "p_mara")).toMatchObject({
      ok: false,
      problem: { code: "they-want-no-calls", detail: expect.stringContaining("They want no calls") },
    });
    expect(asked).toEqual([]);
    mark(false);
    expect((await dialer.place(leadId, "p_mara")).ok).toBe(true);
  });
  it("goes out from one’s own line, else from one’s group’s, else from the source’s", async () => {
    const lineFor = (change: object) => {
      const made = {
        id: "src_own",
        key: "own",
        name: "Own",
        channel: "call",
        state: "live",
        mapping: NO_MAPPING,
      };
      const own = { ...made, line: "+13035550777", ...change } as Source;
      desk.changeSetup({
        ...desk.setup,
        sources: [...desk.setup.sources.filter((s) => s.id !== own.id), own],
      });
    };
    const group = desk.setup.groups.find((g) => g.members.some((m) => m.personId === "p_mara"))!;
    const usual = (await placed()).fromAddress;
    expect(usual).not.toBe("+13035550777");
    for (const change of [{ lineOwnerId: "p_mara" }, { lineGroupId: group.id }]) {
      lineFor(change);
      const call = dialer.openOf("p_mara")!;
      await report(call.id, "ended", { result: "no-answer" });
      expect((await placed()).fromAddress).toBe("+13035550777");
    }
    lineFor({ lineOwnerId: "p_luc" });
    await report(dialer.openOf("p_mara")!.id, "ended", { result: "no-answer" });
    expect((await placed()).fromAddress).toBe(usual);
  });
  it("is refused in words when there is no lead, no number, no phone of one's own, or a call already", async () => {
    expect(await dialer.place("lead_none", "p_mara")).toMatchObject({ ok: false, problem: { status: 404 } });
    const byMail = await inquiry({ email: "ana@example.com", phone: "" });
    expect(await dialer.place(byMail, "p_mara")).toMatchObject({
      ok: false,
      problem: { title: "No number to call", detail: expect.stringContaining("Write to them") },
    });
    expect(await dialer.place(leadId, "p_nobody")).toMatchObject({ ok: false, problem: { status: 422 } });
    await placed();
    expect(await dialer.place(leadId, "p_mara")).toMatchObject({
      ok: false,
      problem: { title: "You are in a call" },
    });
    expect(asked).toHaveLength(1);
  });
  it("that the carrier does not take leaves nothing behind: no call, and nobody with the lead", async () => {
    carrier.place = () => Promise.reject(new Error("The carrier answered 503."));
    expect(await dialer.place(leadId, "p_mara")).toMatchObject({
      ok: false,
      problem: { detail: expect.stringContaining("503. Try again, or call from your own phone.") },
    });
    expect(dialer.openOf("p_mara")).toBeNull();
    expect(lead().engaged).toBeNull();
    expect(await dialer.place(leadId, "p_mara")).toMatchObject({ ok: false });
  });
});

describe("what the carrier reports", () => {
  it("moves the call along; when it has ended it stands in the thread, and waits for what it came to", async () => {
    const { id } = await placed();
    await report(id, "ringing-them");
    expect(dialer.openOf("p_mara")).toMatchObject({ state: "ringing-them", talkedFrom: null });
    clock.hold(NINE + 8_000);
    await report(id, "talking");
    expect(dialer.openOf("p_mara")).toMatchObject({ state: "talking", talkedFrom: NINE + 8_000 });
    clock.hold(NINE + 68_000);
    await report(id, "ended", { result: "talked", seconds: 60 });
    expect(dialer.openOf("p_mara")).toMatchObject({
      state: "ended",
      ended: { result: "talked", seconds: 60, recording: null },
    });
    expect(events().filter((k) => k === "called-out")).toHaveLength(1);
    expect(lead().tries).toBe(0);
    // Its outcome is being chosen: still nothing takes the lead away.
    expect(lead().engaged).toMatchObject({ personId: "p_mara" });
  });
  it("twice, or late, changes nothing any more", async () => {
    const { id } = await placed();
    await report(id, "ended", { result: "busy" });
    const before = events();
    expect(await report(id, "ended", { result: "talked", seconds: 99 })).toBe(true);
    expect(await report(id, "talking")).toBe(true);
    expect(dialer.openOf("p_mara")).toMatchObject({ state: "ended", ended: { result: "busy" } });
    expect(events()).toEqual(before);
  });
  it("of a call nobody made is told to be unknown", async () => {
    expect(await report("call_none", "talking")).toBe(false);
  });
  it("without a result is a line that was cut", async () => {
    const { id } = await placed();
    await report(id, "ended");
    expect(dialer.openOf("p_mara")?.ended?.result).toBe("lost");
  });
});

describe("a call", () => {
  it("is one at a time for each person: colleagues call meanwhile, and an ended one makes room", async () => {
    const first = await placed("p_mara");
    leadId = await inquiry();
    await placed("p_idris");
    await report(first.id, "ended", { result: "no-answer" });
    const next = await placed("p_mara");
    expect(dialer.openOf("p_mara")?.id).toBe(next.id);
  });
  it("keeps what is typed while talking, and is let be once it is put aside", async () => {
    const { id } = await placed();
    expect(dialer.note(id, "Wants a bench")).toBe(true);
    expect(dialer.note("call_none", "x")).toBe(false);
    expect(dialer.openOf("p_mara")?.notes).toBe("Wants a bench");
    expect(dialer.putAside(id)).toBe(true);
    expect(dialer.openOf("p_mara")).toBeNull();
    expect(lead().engaged).toBeNull();
  });
  it("that is hung up is ended by the carrier, not by us", async () => {
    const { id } = await placed();
    await dialer.hangUp(id);
    expect(asked.at(-1)).toBe(`hang up ${id}`);
    expect(dialer.openOf("p_mara")?.state).toBe("ringing-us");
  });
  it("on the line when the desk goes down was cut with it, and its outcome can still be said", async () => {
    const { id } = await placed();
    const again = new Dialer(desk, carrier);
    expect(again.openOf("p_mara")).toMatchObject({
      id,
      state: "ended",
      ended: { result: "lost", seconds: 0 },
    });
  });
});

describe("a call of a cadence that rings on its own", () => {
  const ringing: Cadence = {
    id: "cad_ring",
    version: 1,
    live: {
      name: "Rings",
      reason: "a test",
      touches: [{ kind: "call", after: "PT5M", from: "before", ring: true }],
      stops: [],
      enters: [],
      spreadMinutes: 0,
      precedence: 1,
      byHandHours: 0,
    },
    draft: null,
    publishedAt: 0,
    kept: [],
  };
  const begin = () => {
    desk.changeSetup({ ...desk.setup, policies: { ...desk.setup.policies, cadences: [ringing] } });
    desk.act(leadId, (world) => take(world, "p_mara"));
    desk.act(leadId, (world) => startCadence(world, "p_mara", { cadenceId: "cad_ring" }));
    clock.hold(clock.now() + 5 * 60_000);
  };
  it("rings its owner’s phone, then theirs; it is their next step all the same", async () => {
    begin();
    desk.timers.runDue();
    await expect.poll(() => dialer.openOf("p_mara")?.leadId).toBe(leadId);
    expect(asked).toHaveLength(1);
    expect(lead().nextStep).toMatchObject({ kind: "call", touch: { n: 0 } });
  });
  it("does not ring while its owner talks: the step alone is set", async () => {
    begin();
    const other = await inquiry();
    await dialer.place(other, "p_mara");
    desk.timers.runDue();
    await new Promise((resolve) => setImmediate(resolve));
    await new Promise((resolve) => setImmediate(resolve));
    expect(dialer.openOf("p_mara")?.leadId).toBe(other);
    expect(asked).toHaveLength(1);
    expect(lead().nextStep).toMatchObject({ kind: "call", touch: { n: 0 } });
  });
});

import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { Bench, companyWith, DAY, HOUR, wall } from "../../tests/support/memory.ts";
import { placeOf } from "../lead/queue.ts";
import { timersOf } from "../lead/timers.ts";
import type { Touch } from "../policy/cadence.ts";
import type { WakeRule } from "../policy/parking.ts";
import type { Setup } from "../policy/setup.ts";
import { describeEvent } from "../words/describe.ts";
import { calledIn } from "./call.ts";
import { routeByHand, take } from "./hand-off.ts";
import { clicked, hearFrom, visited } from "./hear.ts";
import { park } from "./park.ts";
import { undo } from "./undo.ts";
import { logTry } from "./work.ts";

const { policies } = tarnholt;
const text = (body: string) => ({ channel: "text" as const, from: "+13035551001", subject: null, body });
const rule = (more: Partial<WakeRule>): WakeRule => ({
  id: "w_test",
  name: "Test",
  signals: ["reply", "call", "form", "click", "visit"],
  when: null,
  does: "route",
  tag: null,
  calmHours: 0,
  ...more,
});

/** A lead that Mara had and tried, then parked. */
function parked(setup: Setup = tarnholt, planId: string | null = "sp_quarter") {
  const bench = new Bench(setup);
  const id = bench.arrive({ email: "ana@example.com" });
  bench.act(id, (w) => take(w, "p_mara"));
  bench.act(id, (w) => logTry(w, { personId: "p_mara", channel: "call", outcome: "reached" }));
  bench.act(id, (w) => park(w, "p_mara", "Builds next spring", planId));
  return { bench, id };
}

describe("parking", () => {
  it("takes nobody’s time: no owner, no step, no bell, no place in the queue; only a next look", () => {
    const { bench, id } = parked();
    expect(bench.lead(id)).toMatchObject({
      ownerId: null,
      nextStep: null,
      others: [],
      lastOwner: { personId: "p_mara" },
      parked: { reason: "Builds next spring" },
      cadences: [{ cadenceId: "sp_quarter", state: "running" }],
    });
    expect(placeOf(bench.lead(id)).place).toBe("parked");
    expect(timersOf(bench.lead(id)).map((t) => t.kind)).toEqual(["touch"]);
    // Ninety days on, at nine, off the weekend: a manager decides.
    expect(wall(bench.lead(id).cadences[0]?.at)).toBe("Tue 09:00:00");
    bench.desk.advance(91 * DAY);
    expect(bench.lead(id).listed?.reason).toBe("parked (Builds next spring): time for the next look");
  });
  it("needs a reason, and nobody who waits for an answer is put away", () => {
    const bench = new Bench();
    const id = bench.arrive();
    expect(park(bench.desk.look(id), "p_ines", "  ", null)).toMatchObject({ problem: { status: 422 } });
    expect(park(bench.desk.look(id), "p_ines", "Later", "sp_none")).toMatchObject({
      problem: { errors: [{ path: "planId" }] },
    });
    bench.act(id, (w) => hearFrom(w, text("Hello?")));
    expect(park(bench.desk.look(id), "p_ines", "Later", null)).toMatchObject({ problem: { status: 409 } });
  });
  it("is taken back whole", () => {
    const { bench, id } = parked();
    const events = bench.desk.events.get(id)!;
    bench.act(id, (w) => undo(w, "p_mara", events.at(-1)!.actId, events));
    expect(bench.lead(id)).toMatchObject({ ownerId: "p_mara", parked: null, nextStep: { kind: "call" } });
  });
  it("sends its letters at ten, so often and no more, and only by way of restraint", () => {
    const { bench, id } = parked(tarnholt, "sp_seasons");
    const parkedAt = bench.desk.now;
    const letters = () => bench.desk.messages.filter((m) => m.purpose === "cadence");
    bench.desk.advance(29 * DAY);
    expect(letters().map((m) => m.subject)).toEqual(["Ana, what a season in the cedar looks like"]);
    bench.desk.advance(120 * DAY);
    expect(letters()).toHaveLength(4);
    expect(
      bench
        .events(id, "message-out")
        .filter((e) => e.data.auto && e.at > parkedAt)
        .map((e) => wall(e.at)?.slice(4)),
    ).toEqual(["10:00:00", "10:00:00", "10:00:00", "10:00:00"]);
    const silent = parked(tarnholt, "sp_seasons");
    silent.bench.desk.suppressed.add("ana@example.com");
    silent.bench.desk.advance(29 * DAY);
    expect(silent.bench.desk.messages.filter((m) => m.purpose === "cadence")).toEqual([]);
    expect(silent.bench.events(silent.id, "cadence-touched")).toMatchObject([
      {
        data: {
          did: "skipped",
          reason: "ana@example.com is on the list of those who must not be written to",
        },
      },
    ]);
  });
  it("follows from a cadence whose last touch parks", () => {
    const park: Touch = {
      kind: "park",
      after: "PT0M",
      from: "before",
      note: "Not reached",
      planId: "sp_quarter",
    };
    const call: Touch = { kind: "call", after: "P1D", from: "before" };
    const cadences = policies.cadences.map((c) =>
      c.id === "cad_not_reached" ? { ...c, live: { ...c.live!, touches: [call, park] } } : c,
    );
    const bench = new Bench(companyWith({ cadences }));
    const id = bench.arrive();
    bench.act(id, (w) => take(w, "p_mara"));
    for (let i = 0; i < 2; i++)
      bench.act(id, (w) => logTry(w, { personId: "p_mara", channel: "call", outcome: "no-answer" }));
    bench.desk.advance(0);
    expect(bench.lead(id).parked).toMatchObject({ reason: "Not reached" });
    expect(bench.lead(id).cadences.map((r) => [r.cadenceId, r.state])).toEqual([
      ["cad_not_reached", "done"],
      ["sp_quarter", "running"],
    ]);
  });
});

describe("waking", () => {
  it("happens three times by three signals, each time routed, to cover while the former owner is away", () => {
    const wakes = [rule({ does: "former", tag: "came back" })];
    const base = companyWith({ wakes });
    const { bench, id } = parked(base);

    bench.desk.advance(10 * DAY);
    bench.act(id, (w) => hearFrom(w, text("We are ready now")));
    expect(bench.lead(id)).toMatchObject({ ownerId: "p_mara", parked: null, tags: ["came back"] });
    expect(bench.desk.alerts.at(-1)).toMatchObject({ purpose: "woke", personId: "p_mara" });

    bench.act(id, (w) => logTry(w, { personId: "p_mara", channel: "call", outcome: "reached" }));
    bench.act(id, (w) => park(w, "p_mara", "Permit is late", "sp_quarter"));
    bench.desk.advance(3 * DAY);
    const { now } = bench.desk;
    bench.desk.setup = {
      ...base,
      people: base.people.map((p) =>
        p.id === "p_mara"
          ? { ...p, absences: [{ from: now - DAY, to: now + DAY, reason: "holiday", coverId: "p_noor" }] }
          : p,
      ),
    };
    bench.act(id, (w) => clicked(w, "msg_1", "https://www.tarnholt.example/built"));
    expect(bench.lead(id)).toMatchObject({
      ownerId: "p_noor",
      coversFor: "p_mara",
      bell: { state: "waiting" },
    });

    bench.desk.setup = base;
    bench.act(id, (w) => logTry(w, { personId: "p_noor", channel: "call", outcome: "reached" }));
    bench.act(id, (w) => park(w, "p_noor", "Next spring after all", null));
    bench.desk.advance(2 * DAY);
    bench.arrive({ phone: "303 555 1001" }, id);
    expect(bench.lead(id)).toMatchObject({ parked: null, bell: { state: "waiting", n: 4 } });
    expect(bench.events(id, "woken").map((e) => e.data.signal)).toEqual(["reply", "click", "form"]);
    expect(bench.lead(id).ownerId ?? bench.lead(id).handOff?.to[0]).toBeTruthy();
  });
  it("routes like new: a bell, an offer by the rules, and whoever is asked hears of it", () => {
    const { bench, id } = parked(companyWith({ wakes: [rule({})] }));
    bench.desk.advance(DAY);
    bench.act(id, (w) => visited(w, "www.tarnholt.example/barrel"));
    const lead = bench.lead(id);
    expect(lead).toMatchObject({
      parked: null,
      ownerId: null,
      handOff: { state: "offered" },
      bell: { n: 2 },
    });
    expect(bench.desk.alerts.filter((a) => a.purpose === "woke").map((a) => a.personId)).toContain(
      lead.handOff?.to[0],
    );
    expect(describeEvent(bench.events(id, "woken")[0]!, tarnholt)).toBe(
      "Woken: they come back to our website (Test)",
    );
  });
  it("holds weak signals back while it is calm, and never a person who writes", () => {
    const { bench, id } = parked(companyWith({ wakes: [rule({ does: "tell", calmHours: 72 })] }));
    const told = () => bench.desk.alerts.filter((a) => a.purpose === "woke").length;
    bench.act(id, (w) => clicked(w, "msg_1", "https://example.com"));
    const once = told();
    expect(once).toBeGreaterThan(0);
    bench.desk.advance(71 * HOUR);
    bench.act(id, (w) => clicked(w, "msg_1", "https://example.com"));
    expect(told()).toBe(once);
    bench.desk.advance(2 * HOUR);
    bench.act(id, (w) => clicked(w, "msg_1", "https://example.com"));
    expect(told()).toBe(2 * once);
    bench.act(id, (w) => hearFrom(w, text("Hello?")));
    expect(bench.lead(id).listed?.reason).toBe("parked, and they write");
  });
  it("without any rule puts whoever calls on the manager’s list, and ignores a click", () => {
    const { bench, id } = parked(companyWith({ wakes: [] }));
    bench.act(id, (w) => clicked(w, "msg_1", "https://example.com"));
    expect(bench.lead(id)).toMatchObject({ listed: null, parked: { reason: "Builds next spring" } });
    const call = { callId: "c1", line: "+17205550100", from: "+13035551001", result: "missed" as const };
    bench.act(id, (w) => calledIn(w, { ...call, seconds: 0, recording: null, personId: null }));
    expect(bench.lead(id).listed?.reason).toBe("parked, and they call");
  });
  it("asks the rules in order, each for the leads it fits", () => {
    const lodge = rule({
      id: "w_lodge",
      name: "Lodges",
      does: "former",
      when: { field: "product", is: "equal", value: "lodge" },
    });
    const { bench, id } = parked(companyWith({ wakes: [lodge, rule({ id: "w_rest", name: "Rest" })] }));
    bench.act(id, (w) => hearFrom(w, text("Hello?")));
    expect(bench.events(id, "woken")[0]?.data.ruleName).toBe("Rest");
  });
  it("drops what the slow plan still had waiting", () => {
    const { bench, id } = parked(tarnholt, "sp_seasons");
    // Held for the morning: texts wait, and so would a letter.
    bench.desk.advance(20 * DAY);
    bench.act(id, (w) => hearFrom(w, text("Ready")));
    bench.desk.advance(60 * DAY);
    expect(bench.desk.messages.filter((m) => m.purpose === "cadence")).toEqual([]);
  });
  it("is done by hand as well", () => {
    const { bench, id } = parked();
    bench.act(id, (w) => routeByHand(w, "p_ines"));
    expect(bench.lead(id)).toMatchObject({ parked: null, handOff: { state: "offered" } });
  });
});

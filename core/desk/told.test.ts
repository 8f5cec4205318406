import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { Bench, companyWith, MIN } from "../../tests/support/memory.ts";
import type { Person } from "../policy/people.ts";
import type { Setup } from "../policy/setup.ts";
import { messagesFor, whyUntold } from "../policy/told.ts";
import { route } from "../routing/route.ts";
import type { MessageWay } from "../vocabulary.ts";
import { give } from "./hand-off.ts";

const salespeople = tarnholt.people.filter((p) => p.role === "salesperson");
const changed = (change: (person: Person) => Person): Setup => ({
  ...tarnholt,
  people: tarnholt.people.map((p) => (p.role === "salesperson" ? change(p) : p)),
});
const mara = tarnholt.people.find((p) => p.id === "p_mara")!;

describe("somebody who can't be told", () => {
  it("is offered nothing, and the why says so", () => {
    const dumb = { phone: "", email: "", chat: "" };
    const bench = new Bench(changed((p) => (p.id === "p_mara" ? { ...p, ...dumb } : p)));
    const offered = new Set<string>();
    for (let i = 0; i < salespeople.length * 3; i++) {
      const id = bench.arrive();
      for (const { data } of bench.events(id, "offered")) for (const to of data.to) offered.add(to);
      for (const event of bench.events(id, "offered"))
        for (const step of event.why?.steps ?? [])
          if (step.name === mara.name) expect(step.reason).toMatch(/^can’t be told: no phone/);
    }
    expect(offered.size).toBeGreaterThan(1);
    expect(offered).not.toContain("p_mara");
  });
  it("by any way the house has set up goes on no standby either: the lead is listed", () => {
    const people = tarnholt.people.map((p) => ({ ...p, email: "" }));
    const bench = new Bench({ ...tarnholt, people });
    const id = bench.arrive();
    const world = { ...bench.desk.look(id), unset: new Set<MessageWay>(["text", "chat"]) };
    const decision = route(world, { ...bench.lead(id), handOff: null });
    expect(decision.kind).toBe("list");
    expect(decision.trace.steps.filter((s) => s.kind === "standby").map((s) => s.result)).not.toContain(
      "yes",
    );
    expect(whyUntold(tarnholt, { ...mara, email: "" }, world.unset)).toBe(
      "can’t be told: team chat and texts not set up",
    );
  });
  it("hears by the Desk in the browser where the house has set up no way at all: a house begins so", () => {
    const bench = new Bench();
    const id = bench.arrive();
    const world = { ...bench.desk.look(id), unset: new Set<MessageWay>(["text", "email", "chat"]) };
    expect(whyUntold(tarnholt, mara, world.unset)).toBeNull();
    expect(route(world, { ...bench.lead(id), handOff: null }).kind).not.toBe("list");
  });
  it("as they have chosen is told by what works, of what can't wait and of that alone", () => {
    const person = {
      ...mara,
      phone: "",
      chat: "",
      alerts: { "hand-off": ["text"], given: ["text"] },
    } as const;
    expect(messagesFor(tarnholt, person, "hand-off")).toEqual(["email"]);
    expect(messagesFor(tarnholt, person, "given")).toEqual([]);
    expect(messagesFor(tarnholt, mara, "hand-off", new Set<MessageWay>(["chat"]))).toEqual(["text"]);
  });
});

describe("the reminder that a lead still waits", () => {
  /** A nudge in just the moment in which the first offer lapses. */
  const at = (minutes: number) => {
    const [ladder, ...others] = tarnholt.policies.ladders;
    const rungs = [{ act: "nudge" as const, fraction: 0, plusMinutes: minutes }];
    return new Bench(
      companyWith({
        ladders: [{ ...ladder!, rungs }, ...others],
        rules: tarnholt.policies.rules.map((r) => ({ ...r, offerMinutes: 3 })),
      }),
    );
  };
  it("does not come with the offer: whoever was asked just now is left in peace", () => {
    const bench = at(3);
    const id = bench.arrive();
    bench.desk.advance(4 * MIN);
    expect(bench.events(id, "offered").length).toBeGreaterThan(1);
    const asked = bench.desk.alerts.filter((a) => a.leadId === id && a.purpose === "hand-off");
    const nudged = bench.desk.alerts.filter((a) => a.leadId === id && a.purpose === "nudge");
    const last = bench.lead(id).handOff!.to;
    expect(asked.some((a) => last.includes(a.personId!))).toBe(true);
    expect(nudged.filter((a) => last.includes(a.personId!))).toEqual([]);
    expect(bench.rungs(id).some((r) => r.includes("nudge: they were asked only just now"))).toBe(true);
  });
  it("comes to whoever was asked a while ago", () => {
    const bench = at(2);
    const id = bench.arrive();
    const [to] = bench.lead(id).handOff!.to;
    bench.desk.advance(2.5 * MIN);
    expect(bench.events(id, "nudged").map((e) => e.data.to)).toEqual([[to]]);
  });
  it("does not come to whoever was given it a moment before", () => {
    const bench = at(2);
    const id = bench.arrive();
    bench.desk.advance(1.5 * MIN);
    bench.act(id, (world) => give(world, "p_ines", "p_mara", ""));
    bench.desk.advance(MIN);
    expect(bench.events(id, "nudged")).toEqual([]);
  });
});

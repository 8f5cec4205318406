import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { demand, queueOf } from "../../tests/support/queue.ts";
import type { LeadEvent } from "../lead/events.ts";
import type { Setup } from "../policy/setup.ts";
import { accountOf } from "../report/account.ts";
import { Draws } from "../statistics/draws.ts";
import { erlangC } from "../statistics/erlang.ts";
import { hourOfWeek } from "../time/week-hours.ts";
import { compare, tellRun } from "./compare.ts";
import { arrivalsOf } from "./demand.ts";
import { type Behaviour, habitsOf, USUAL_HABITS } from "./habits.ts";
import { type LabRecord, runLab } from "./run.ts";

const HOUR = 3_600_000;
const START = Date.parse("2026-03-02T15:00:00Z");
const waitsOf = (record: LabRecord) =>
  [...record.events.values()].flatMap((events) => {
    const account = accountOf(events)?.lead;
    return account?.triedAt ? [account.triedAt - account.came] : [];
  });
const meanOf = (list: readonly number[]) => list.reduce((sum, n) => sum + n, 0) / list.length;
/** A record without its ids, which only count. */
const bytes = (record: LabRecord) =>
  JSON.stringify(
    [...record.events.values()].map((events) =>
      events.map(({ kind, at, data }: LeadEvent) => [kind, at, data]),
    ),
  );

describe("the lab", () => {
  it.each([
    [0.6, 1],
    [3, 4],
    [5, 7],
  ])(
    "as a plain queue of %d erlang and %d on duty waits as Erlang says, within its own interval",
    (erlang, agents) => {
      const { setup, behaviour } = queueOf(agents);
      const perHour = (erlang * 3600) / 360;
      const [from, to] = [START, START + (450 / perHour) * HOUR];
      const runs = Array.from({ length: 16 }, (_, i) =>
        runLab({
          setup,
          behaviour,
          arrivals: arrivalsOf(demand(perHour), from, to, 100 + i),
          from,
          to,
          seed: 500 + i,
        }),
      );
      const { waits, meanWait, within } = erlangC({ erlang, agents, seconds: 360 }, 120);
      const agrees = (of: (waits: readonly number[]) => number, expected: number) => {
        const values = runs.map((r) => of(waitsOf(r)));
        const mean = meanOf(values);
        const deviation = Math.sqrt(meanOf(values.map((v) => (v - mean) ** 2)) / (values.length - 1));
        // 99 %: Student's t of 15 degrees.
        expect(Math.abs(mean - expected)).toBeLessThan(2.947 * deviation);
      };
      agrees((all) => meanOf(all) / 1000, meanWait);
      agrees((all) => meanOf(all.map((w) => (w > 1 ? 1 : 0))), waits);
      agrees((all) => meanOf(all.map((w) => (w <= 120_000 ? 1 : 0))), within);
    },
  );

  it("keeps Little's law: who waited at a time is who came, times how long they waited", () => {
    const { setup, behaviour } = queueOf(3);
    for (const seed of [1, 2, 3]) {
      const to = START + 40 * HOUR;
      const record = runLab({
        setup,
        behaviour,
        arrivals: arrivalsOf(demand(25), START, to, seed),
        from: START,
        to,
        seed,
      });
      let sum = 0;
      for (const events of record.events.values()) {
        const { came, triedAt } = accountOf(events)!.lead;
        sum += (triedAt ?? to) - came;
      }
      expect(record.waited).toBe(sum);
      expect(record.waited / (to - START)).toBeGreaterThan(0);
    }
  });

  it("runs the company's own policies, and gives the same for the same seed, to the byte", () => {
    const from = START;
    const to = START + 5 * 24 * HOUR;
    const behaviour: Behaviour = {
      people: new Map(),
      others: USUAL_HABITS,
      leads: { reached: [0.4, 0.3, 0.2], won: 0.15 },
      outcomes: { reached: "reached", missed: "voicemail" },
    };
    const run = (seed: number, setup: Setup = tarnholt) =>
      runLab({ setup, behaviour, arrivals: arrivalsOf(demand(1.2), from, to, seed), from, to, seed });
    const one = run(5);
    expect(bytes(run(5))).toBe(bytes(one));
    expect(bytes(run(6))).not.toBe(bytes(one));
    const kinds = new Set([...one.events.values()].flatMap((events) => events.map((e) => e.kind)));
    for (const kind of ["offered", "taken", "passed", "lapsed", "tried", "rang", "next-step"] as const)
      expect([...kinds]).toContain(kind);
    expect(one.messages).toBeGreaterThan(0);
    expect(one.won).toBeGreaterThan(0);
    // Other policies meet the same people: as many come, at the same times.
    const faster = {
      ...tarnholt,
      policies: {
        ...tarnholt.policies,
        rules: tarnholt.policies.rules.map((r) => ({ ...r, offerMinutes: 1 })),
      },
    };
    const other = run(5, faster);
    const came = (record: LabRecord) => [...record.events.values()].map((events) => events[0]!.at);
    expect(came(other)).toEqual(came(one));
    expect(bytes(other)).not.toBe(bytes(one));
  });

  it("nobody works while off duty, and nobody on two leads at once", () => {
    const to = START + 4 * 24 * HOUR;
    const handling = 10 * 60_000;
    const behaviour: Behaviour = {
      people: new Map(),
      others: { ...USUAL_HABITS, handling },
      leads: { reached: [0.5], won: 0 },
      outcomes: { reached: "reached", missed: "voicemail" },
    };
    const record = runLab({
      setup: tarnholt,
      behaviour,
      arrivals: arrivalsOf(demand(4), START, to, 9),
      from: START,
      to,
      seed: 9,
    });
    const tries = [...record.events.values()].flat().filter((e) => e.kind === "tried");
    expect(tries.length).toBeGreaterThan(100);
    for (const { at, data } of tries) {
      const { hours } = tarnholt.people.find((p) => p.id === data.personId)!;
      const hour = hourOfWeek(at, hours.zone);
      const spans = hours.week[(Math.floor(hour / 24) + 1) as 1] ?? [];
      const open = spans.some(
        ([a, b]) =>
          Number(a.slice(0, 2)) <= hour % 24 &&
          hour % 24 < Number(b.slice(0, 2)) + (b.endsWith("00") ? 0 : 1),
      );
      expect([data.personId, hour, open]).toEqual([data.personId, hour, true]);
    }
    for (const [id, busy] of record.busy) {
      expect(busy).toBeLessThanOrEqual(to - START);
      expect(busy > 0).toBe(tries.some((t) => t.data.personId === id));
    }
  });
});

describe("who comes, in the lab", () => {
  it("is Poisson by the hour of the week, grows, and comes in bursts", () => {
    const perHour = Array.from({ length: 168 }, (_, h) => (h === 10 ? 6 : h === 34 ? 2 : 0));
    const weeks = 400;
    const to = START + weeks * 168 * HOUR;
    const flat = arrivalsOf({ ...demand(0), perHour }, START, to, 1);
    const at = (hour: number, list = flat) =>
      list.filter((a) => hourOfWeek(a.at, "America/Denver") === hour).length;
    expect(at(10) + at(34)).toBe(flat.length);
    expect(Math.abs(at(10) - 6 * weeks)).toBeLessThan(4 * Math.sqrt(6 * weeks));
    expect(Math.abs(at(34) - 2 * weeks)).toBeLessThan(4 * Math.sqrt(2 * weeks));
    const grown = arrivalsOf({ ...demand(0), perHour, growth: 0.01 }, START, START + 100 * 168 * HOUR, 1);
    // The sum of 1.01^k over a hundred weeks.
    const expected = 8 * ((1.01 ** 100 - 1) / 0.01);
    expect(Math.abs(grown.length - expected)).toBeLessThan(5 * Math.sqrt(expected) + 20);
    const burst = { from: START, to: START + HOUR, sourceId: tarnholt.sources[0]!.id, more: 50 };
    const sudden = arrivalsOf({ ...demand(0), bursts: [burst] }, START, to, 1);
    expect(sudden.length).toBeGreaterThan(20);
    expect(sudden.every((a) => a.at >= START && a.at < START + HOUR)).toBe(true);
    expect(arrivalsOf({ ...demand(5), like: [] }, START, to, 1)).toEqual([]);
    expect(flat.every((a, i) => i === 0 || a.at >= flat[i - 1]!.at)).toBe(true);
  });
});

describe("habits", () => {
  it("are how people have answered, and nothing is said of those who were hardly asked", () => {
    const draws = new Draws(3);
    const events = Array.from({ length: 100 }, (_, i) => {
      const leadId = `l${i}`;
      const did = draws.next();
      const at = START + i * HOUR;
      const asked = { kind: "offered", leadId, at, data: { to: ["p_mara"] } };
      const then =
        did < 0.6
          ? { kind: "taken", leadId, at: at + 30_000, data: { personId: "p_mara" } }
          : did < 0.8
            ? { kind: "passed", leadId, at: at + 30_000, data: { personId: "p_mara" } }
            : { kind: "lapsed", leadId, at: at + 120_000, data: { to: ["p_mara"] } };
      return [asked, then];
    }).flat() as unknown as LeadEvent[];
    const habits = habitsOf(events, ["p_mara", "p_luc"], 1000);
    expect([...habits.keys()]).toEqual(["p_mara"]);
    const mara = habits.get("p_mara")!;
    expect(mara.takes).toBeCloseTo(events.filter((e) => e.kind === "taken").length / 100, 9);
    expect(mara.passes).toBeCloseTo(events.filter((e) => e.kind === "passed").length / 100, 9);
    expect(new Set(mara.answersAfter)).toEqual(new Set([30_000]));
  });
});

describe("two policies", () => {
  const from = START;
  const to = START + 3 * 24 * HOUR;
  const behaviour: Behaviour = {
    people: new Map(),
    others: USUAL_HABITS,
    leads: { reached: [0.4, 0.3], won: 0.2 },
    outcomes: { reached: "reached", missed: "voicemail" },
  };
  const runs = (setup: Setup) =>
    Array.from(
      { length: 6 },
      (_, seed) =>
        tellRun(
          runLab({ setup, behaviour, arrivals: arrivalsOf(demand(2), from, to, seed), from, to, seed }),
          setup,
          { from, to },
        ).measured,
    );

  it("that are the same differ by exactly nothing, and one that asks longer lets fewer offers lapse", () => {
    const live = runs(tarnholt);
    for (const { key, a, b, mean, low, high } of compare(live, runs(tarnholt)))
      expect([key, a === b, mean, low, high]).toEqual([key, true, 0, 0, 0]);
    const { rules } = tarnholt.policies;
    const patient = {
      ...tarnholt,
      policies: {
        ...tarnholt.policies,
        rules: rules.map((r) => ({ ...r, offerMinutes: r.offerMinutes * 3 })),
      },
    };
    const told = new Map(compare(live, runs(patient)).map((d) => [d.key, d]));
    expect(told.get("lapsed")!.high!).toBeLessThan(0);
    expect(told.get("inTarget")!.a!).toBeGreaterThan(0);
    // A quick and a slow look at it: Student's interval of the differences by hand.
    const slow = runs(patient);
    const lapsed = live.map((run, i) => slow[i]!.lapsed! - run.lapsed!);
    const mean = meanOf(lapsed);
    const deviation = Math.sqrt(lapsed.reduce((sum, d) => sum + (d - mean) ** 2, 0) / 5 / 6);
    expect(told.get("lapsed")).toMatchObject({ mean });
    // 2.571: Student's t of five degrees (published tables).
    expect((told.get("lapsed")!.high! - mean) / deviation).toBeCloseTo(2.571, 3);
  });

  it("of which nothing is known differ by nothing that could be said", () => {
    const none = tellRun(
      { day: null, events: new Map(), messages: 0, waited: 0, busy: new Map(), won: 0 },
      tarnholt,
      {
        from,
        to,
      },
    );
    expect(none.people).toEqual([]);
    expect(none.tried.every((share) => share === 0)).toBe(true);
    expect(none.measured).toMatchObject({ medianMinutes: null, inTarget: null, evenness: null, tries: 0 });
    expect(compare([none.measured], [none.measured]).every((d) => d.mean === null)).toBe(true);
    expect(compare([], []).every((d) => d.a === null && d.mean === null)).toBe(true);
  });
});

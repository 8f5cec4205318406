import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { Draws } from "./draws.ts";
import { erlangA, erlangB, erlangC, neededFor } from "./erlang.ts";

/** States of a desk with so many on duty, by the balance of what comes and goes: the definition, without any formula. */
function balance(erlang: number, agents: number, leave: number, most = 4000): number[] {
  // In logarithms: a long queue has weights no number holds.
  const logs = [0];
  for (let k = 1; k <= most; k++) {
    const out = Math.min(k, agents) + Math.max(0, k - agents) * leave;
    logs.push(logs[k - 1]! + Math.log(erlang / out));
  }
  const top = Math.max(...logs);
  const all = logs.reduce((sum, log) => sum + Math.exp(log - top), 0);
  return logs.map((log) => Math.exp(log - top) / all);
}

describe("Erlang C", () => {
  // Widely published worked examples; values from memory, recomputed.
  it.each([
    [10, 14, 180, 20, 0.174, 0.888, 7.8, 0.714],
    [48, 55, 240, 15, 0.239, 0.846, 8.2, 0.873],
  ])(
    "with %d erlang and %d on duty is the published example",
    (erlang, agents, seconds, by, waits, within, mean, busy) => {
      const told = erlangC({ erlang, agents, seconds }, by);
      expect(told.waits).toBeCloseTo(waits, 3);
      expect(told.within).toBeCloseTo(within, 3);
      expect(told.meanWait).toBeCloseTo(mean, 1);
      expect(told.busy).toBeCloseTo(busy, 3);
    },
  );
  it("is the sum over its states", () => {
    for (const [erlang, agents] of [
      [0.5, 1],
      [3, 4],
      [10, 14],
      [20, 21],
    ] as const) {
      const states = balance(erlang, agents, 0);
      const waits = states.slice(agents).reduce((sum, p) => sum + p, 0);
      expect(erlangC({ erlang, agents, seconds: 60 }, 0).waits).toBeCloseTo(waits, 6);
    }
  });
  it("with nobody to serve, too few, or nothing to do says so in figures", () => {
    expect(erlangC({ erlang: 2, agents: 2, seconds: 60 }, 60)).toMatchObject({
      waits: 1,
      within: 0,
      busy: 1,
    });
    expect(erlangC({ erlang: 0, agents: 0, seconds: 60 }, 60)).toMatchObject({
      waits: 0,
      within: 1,
      busy: 0,
    });
  });
});

describe("Erlang A", () => {
  it("is Erlang C where nobody loses interest, and Erlang B where all do at once", () => {
    const load = { erlang: 10, agents: 14, seconds: 180 };
    const [patient, c] = [erlangA(load, 20, 1e9), erlangC(load, 20)];
    expect(patient.waits).toBeCloseTo(c.waits, 6);
    expect(patient.within).toBeCloseTo(c.within, 6);
    expect(patient.meanWait).toBeCloseTo(c.meanWait, 3);
    expect(erlangA(load, 20, Number.POSITIVE_INFINITY)).toEqual(c);
    expect(erlangA(load, 20, 1e-4).lost).toBeCloseTo(erlangB(10, 14), 5);
    expect(erlangA(load, 20, 0).lost).toBe(erlangB(10, 14));
  });
  it("waits and loses as the balance of its states says, under any load", () => {
    const any = fc.record({
      erlang: fc.double({ min: 0.1, max: 40, noNaN: true }),
      agents: fc.integer({ min: 1, max: 40 }),
      patience: fc.double({ min: 0.1, max: 50, noNaN: true }),
    });
    fc.assert(
      fc.property(any, ({ erlang, agents, patience }) => {
        const told = erlangA({ erlang, agents, seconds: 1 }, 1, patience);
        const states = balance(erlang, agents, 1 / patience);
        const waits = states.slice(agents).reduce((sum, p) => sum + p, 0);
        const queue = states.reduce((sum, p, k) => sum + p * Math.max(0, k - agents), 0);
        expect(told.waits).toBeCloseTo(waits, 4);
        // Who leaves the queue: as many as wait, over how long each would.
        expect(told.lost).toBeCloseTo(queue / patience / erlang, 4);
      }),
      { numRuns: 60 },
    );
  });
  it("serves as many in time as a played queue does", () => {
    const [erlang, agents, patience, by] = [5, 5, 2, 0.5];
    const draws = new Draws(11);
    const free = Array.from({ length: agents }, () => 0);
    let [now, inTime] = [0, 0];
    const all = 60_000;
    for (let i = 0; i < all; i++) {
      now += draws.wait(1 / erlang);
      const wait = Math.max(0, Math.min(...free) - now);
      const handling = draws.wait(1);
      if (draws.wait(patience) < wait) continue;
      if (wait <= by) inTime++;
      free[free.indexOf(Math.min(...free))] = now + wait + handling;
    }
    expect(inTime / all).toBeCloseTo(erlangA({ erlang, agents, seconds: 1 }, by, patience).within, 1.7);
  });
  it("never leaves the bounds of a share, however great the overload", () => {
    for (const patience of [1, 3600, 259_200])
      for (const agents of [1, 3, 30]) {
        const told = erlangA({ erlang: 60, agents, seconds: 600 }, 300, patience);
        for (const share of [told.waits, told.within, told.busy, told.lost]) {
          expect(share).toBeGreaterThanOrEqual(0);
          expect(share).toBeLessThanOrEqual(1 + 1e-9);
        }
      }
  });
});

describe("how many are needed", () => {
  it("is the fewest that keep the goal", () => {
    const serve = (agents: number) => erlangC({ erlang: 10, agents, seconds: 180 }, 20);
    expect(neededFor(0.888, serve)).toBe(14);
    expect(serve(13).within).toBeLessThan(0.88);
    expect(neededFor(1.1, serve)).toBeNull();
    expect(neededFor(0.8, (agents) => erlangC({ erlang: 0, agents, seconds: 60 }, 5))).toBe(0);
  });
});

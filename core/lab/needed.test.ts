import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { demand, queueOf } from "../../tests/support/queue.ts";
import { erlangC } from "../statistics/erlang.ts";
import { USUAL_HABITS } from "./habits.ts";
import { type InTime, isWorthMore, runAlike, tellNeeded, weeksFor } from "./needed.ts";

const HOUR = 3_600_000;
const MONDAY = Date.parse("2026-03-02T07:00:00Z");

describe("how many are needed, by running the desk", () => {
  it("in a plain queue is what Erlang C says, within the run's own interval", () => {
    // 8 an hour, six minutes each: 0.8 erlang.
    const world = queueOf(1);
    const stretch = { from: MONDAY, to: MONDAY + 30 * HOUR };
    for (const agents of [1, 2, 3]) {
      const shares = Array.from({ length: 14 }, (_, i) => {
        const hours = runAlike(world, demand(8), agents, stretch, { minutes: 4, seconds: null }, 70 + i);
        const [n, hits] = hours.reduce(([a, b], h) => [a + h.n, b + h.hits], [0, 0]);
        return hits / n;
      });
      const mean = shares.reduce((sum, s) => sum + s, 0) / shares.length;
      const error = Math.sqrt(shares.reduce((sum, s) => sum + (s - mean) ** 2, 0) / 13 / 14);
      const { within } = erlangC({ erlang: 0.8, agents, seconds: 360 }, 240);
      // 99.9 %: Student's t of 13 degrees; a queue of one is far from settled after thirty hours and does better.
      if (agents > 1) expect(Math.abs(mean - within)).toBeLessThan(4.221 * Math.max(error, 0.002));
      else expect(mean).toBeGreaterThan(within);
    }
  });

  it("tells of each hour the fewest that kept the goal, and says where none did", () => {
    const week = (hours: Readonly<Record<number, InTime>>) =>
      Array.from({ length: 168 }, (_, hour) => hours[hour] ?? { n: 0, hits: 0 });
    const runs = [
      week({
        9: { n: 100, hits: 60 },
        10: { n: 50, hits: 45 },
        11: { n: 40, hits: 0 },
        12: { n: 9, hits: 9 },
      }),
      week({
        9: { n: 100, hits: 85 },
        10: { n: 50, hits: 50 },
        11: { n: 40, hits: 4 },
        12: { n: 9, hits: 9 },
      }),
    ];
    const told = tellNeeded(runs, { goal: 0.8 });
    expect(told.map(({ hour, needed, n, within }) => [hour, needed, n, within])).toEqual([
      [9, 2, 100, 0.85],
      [10, 1, 50, 0.9],
      [11, null, 40, 0.1],
    ]);
    // Newcombe's way of Wilson's interval of 85 of 100 (value from memory of published tables).
    expect([told[0]!.low, told[0]!.high].map((x) => x.toFixed(3))).toEqual(["0.767", "0.907"]);
    expect(tellNeeded([], { goal: 0.8 })).toEqual([]);
    // That it was kept once with fewer was luck.
    const lucky = [week({ 9: { n: 20, hits: 16 } }), week({ 9: { n: 20, hits: 15 } }), runs[1]!];
    expect(tellNeeded(lucky, { goal: 0.8 }).map((h) => h.needed)).toEqual([3]);
    expect(isWorthMore(runs, { goal: 0.8 })).toBe(true);
    // Nobody more helps: two others have changed nothing of the one hour that is late.
    expect(isWorthMore([runs[1]!, runs[1]!, runs[1]!], { goal: 0.8 })).toBe(false);
    expect(isWorthMore([runs[0]!, runs[1]!, runs[1]!], { goal: 0.8 })).toBe(true);
    expect(isWorthMore(runs, { goal: 0.05 })).toBe(false);
  });

  it("by the desk's own hours and offers: those who let offers lapse are needed in vain", () => {
    const stretch = { from: MONDAY, to: MONDAY + 7 * 24 * HOUR };
    const { behaviour } = queueOf(1);
    const world = (takes: number) => ({
      setup: tarnholt,
      behaviour: { ...behaviour, others: { ...USUAL_HABITS, takes, passes: 0 } },
    });
    const run = (takes: number, count: number) =>
      runAlike(world(takes), demand(2), count, stretch, { minutes: 5, seconds: null }, 1);
    const hours = run(0.9, 4);
    expect(run(0.9, 4)).toEqual(hours);
    // Nobody works while the desk is closed: what comes then is work as it opens, at eight on Monday.
    const withWork = hours.flatMap(({ n }, hour) => (n > 0 ? [hour] : []));
    expect(withWork[0]).toBe(8);
    expect(hours[8]!.n).toBeGreaterThan(10);
    // But for the hours it opens in, with all that came overnight.
    const share = (told: readonly InTime[]) => {
      const [n, hits] = told
        .filter((_, hour) => hour % 24 !== 8)
        .reduce(([a, b], h) => [a + h.n, b + h.hits], [0, 0]);
      return hits / n;
    };
    expect(share(hours)).toBeGreaterThan(0.6);
    expect(share(run(0.1, 4))).toBeLessThan(0.4);
    expect(share(run(0.1, 12)) - share(run(0.1, 4))).toBeLessThan(0.15);
  });

  it("runs as many weeks as an hour needs to say something, and no more than a year", () => {
    expect(weeksFor({ perHour: [10] })).toBe(60);
    expect(weeksFor({ perHour: Array(168).fill(4) })).toBe(3);
    expect(weeksFor({ perHour: [] })).toBe(60);
  });
});

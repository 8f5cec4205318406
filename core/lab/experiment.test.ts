import { DateTime } from "luxon";
import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import type { LeadEvent } from "../lead/events.ts";
import type { TryAccount } from "../report/account.ts";
import {
  arrivalsIn,
  assumptions,
  type Experiment,
  expectedIn,
  learn,
  liveWorld,
  stretchOf,
} from "./experiment.ts";
import { busiestDay, runSide, tellExperiment } from "./result.ts";

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const ZONE = "America/Denver";
const at = (iso: string) => DateTime.fromISO(iso, { zone: ZONE }).toMillis();
const [site, barrel] = tarnholt.sources;
const FACTS = {
  name: "Ana Ruiz",
  emails: ["ana@example.com"],
  phones: [],
  company: null,
  product: "barrel",
  value: null,
  message: null,
  postalCode: null,
  territory: null,
  zone: ZONE,
  language: null,
  answers: {},
  tags: [],
};

let n = 0;
const inquiry = (when: string, more: object = {}, sourceId = site!.id) =>
  ({
    kind: "inquiry",
    leadId: `l${++n}`,
    at: at(when),
    data: { inquiryId: `i${n}`, sourceId, channel: "website", facts: FACTS, match: "new", on: null, ...more },
  }) as unknown as LeadEvent;
const tried = (nth: number, reached: 0 | 1): TryAccount => ({
  leadId: `t${nth}`,
  n: nth,
  at: 0,
  person: "p_mara",
  channel: "call",
  reached,
  talked: null,
  wrapped: null,
});
const experiment = (more: Partial<Experiment> = {}): Experiment => ({
  from: at("2026-02-02T00:00"),
  to: at("2026-02-16T00:00"),
  demand: { kind: "made", weeks: 2, times: 1, growth: 0, bursts: [] },
  runs: 2,
  seed: 1,
  a: [],
  b: [],
  ...more,
});

describe("what the lab learns", () => {
  it("is who was new, how well each try reached, and what those reached came to", () => {
    const events = [
      inquiry("2026-02-02T10:00"),
      inquiry("2026-02-02T11:00", { match: "sure" }),
      inquiry("2026-02-03T10:00", { test: true }),
      inquiry("2026-02-03T12:00", { kept: true }),
      inquiry("2026-02-04T10:00", {}, barrel!.id),
    ];
    const tries = [
      ...Array.from({ length: 40 }, (_, i) => tried(1, i < 10 ? 1 : 0)),
      ...Array.from({ length: 20 }, (_, i) => tried(2, i < 12 ? 1 : 0)),
      // Too few to be believed: from here on it is as the second.
      tried(3, 1),
    ];
    const { arrivals, behaviour, known } = learn(events, tries, { reached: 30, won: 6 }, tarnholt);
    expect(arrivals.map((a) => [a.sourceId, a.at])).toEqual([
      [site!.id, at("2026-02-02T10:00")],
      [barrel!.id, at("2026-02-04T10:00")],
    ]);
    expect(behaviour.leads).toEqual({ reached: [0.25, 0.6], won: 0.2 });
    expect(known).toEqual({ inquiries: 2, answers: 0, tries: 61, calls: 0, handling: 360_000 });
  });

  it("of an empty record is common practice, without a number that is none", () => {
    const nothing = learn([], [], { reached: 0, won: 0 }, tarnholt);
    expect(nothing.behaviour.leads).toEqual({ reached: [0.5], won: 0 });
    expect(arrivalsIn(experiment(), nothing, tarnholt, { from: 0, to: DAY }, 1)).toEqual([]);
    for (const sentence of assumptions(experiment(), nothing))
      expect(sentence).not.toMatch(/NaN|undefined|null/);
  });
});

describe("a run", () => {
  const learned = learn(
    Array.from({ length: 60 }, (_, i) =>
      inquiry(
        DateTime.fromMillis(at("2026-02-02T09:10") + (i % 10) * DAY + Math.floor(i / 10) * HOUR, {
          zone: ZONE,
        }).toISO()!,
      ),
    ),
    [],
    { reached: 0, won: 0 },
    tarnholt,
  );

  it("of the past is the span itself; made ones begin on the next Monday of the desk, also when clocks change", () => {
    const past = experiment({ demand: { kind: "past" } });
    expect(stretchOf(past, tarnholt, at("2026-03-04T09:40"))).toEqual({ from: past.from, to: past.to });
    expect(arrivalsIn(past, learned, tarnholt, past, 5)).toBe(learned.arrivals);
    // The Monday after 4 March is 9 March, a day after the clocks went on.
    const made = stretchOf(experiment(), tarnholt, at("2026-03-04T09:40"));
    expect(made.from).toBe(at("2026-03-09T00:00"));
    expect(made.to - made.from).toBe(14 * DAY);
    expect(stretchOf(experiment(), tarnholt, at("2026-03-09T00:00")).from).toBe(at("2026-03-16T00:00"));
  });

  it("brings as many as usual, times as many, in the hours of the week in which they come", () => {
    const stretch = stretchOf(experiment(), tarnholt, at("2026-03-04T09:40"));
    const many = experiment({ demand: { kind: "made", weeks: 2, times: 40, growth: 0, bursts: [] } });
    const arrivals = arrivalsIn(many, learned, tarnholt, stretch, 3);
    // 60 in two weeks, forty times: Poisson, within four of its standard deviations.
    expect(Math.abs(arrivals.length - 2_400)).toBeLessThan(4 * Math.sqrt(2_400));
    const hours = new Set(arrivals.map((a) => DateTime.fromMillis(a.at, { zone: ZONE }).hour));
    expect([...hours].sort((a, b) => a - b)).toEqual([9, 10, 11, 12, 13, 14]);
    expect(arrivalsIn(many, learned, tarnholt, stretch, 3)).toEqual(arrivals);
    // So many are told of before any is drawn, however fast they would grow.
    expect(Math.abs(expectedIn(many, learned, tarnholt, stretch) - 2_400)).toBeLessThan(1);
    const wild = experiment({ demand: { kind: "made", weeks: 26, times: 200, growth: 1, bursts: [] } });
    const long = stretchOf(wild, tarnholt, at("2026-03-04T09:40"));
    expect(expectedIn(wild, learned, tarnholt, long)).toBeGreaterThan(1e9);
    const burst = { sourceId: barrel!.id, afterHours: 24, hours: 2, more: 50 };
    const sudden = arrivalsIn(
      experiment({ demand: { kind: "made", weeks: 1, times: 0.05, growth: 0, bursts: [burst] } }),
      learned,
      tarnholt,
      stretch,
      3,
    );
    const inBurst = sudden.filter((a) => a.at >= stretch.from + DAY && a.at < stretch.from + DAY + 2 * HOUR);
    expect(inBurst.length).toBeGreaterThan(25);
  });

  it("is told as a side: who hung on the wire on its busiest day, who had how much, who was tried by when", () => {
    const past = experiment({ demand: { kind: "past" } });
    const world = liveWorld(tarnholt, learned);
    const day = busiestDay(learned.arrivals, tarnholt)!;
    expect(DateTime.fromMillis(day.from, { zone: ZONE }).hour).toBe(9);
    const run = runSide(world, learned.arrivals, past, 7, day);
    const other = runSide(world, learned.arrivals, past, 7, null);
    expect({ ...run, day: null }).toEqual(other);
    expect(run.day!.leads).toHaveLength(6);
    for (const { states } of run.day!.leads) {
      expect(states[0]).toMatchObject({ rung: false, ownerId: null, tries: 0 });
      expect(states.map((s) => s.at)).toEqual([...states.map((s) => s.at)].sort((a, b) => a - b));
    }
    const told = tellExperiment(
      { a: [run, run], b: [run, run] },
      { a: tarnholt, b: tarnholt },
      [60, 60],
      past,
    );
    expect(told).toMatchObject({ runs: 2, came: 60, stretch: past });
    expect(told.differences.filter((d) => d.mean !== null && d.mean !== 0)).toEqual([]);
    expect(told.people.reduce((sum, p) => sum + p.a!.tries, 0)).toBe(run.measured.tries);
    expect(told.people.every((p) => p.name !== p.id && p.a!.tries === p.b!.tries)).toBe(true);
    const shares = told.tried.map((t) => t.a);
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    expect(shares.at(-1)).toBeGreaterThan(0.9);
  });

  it("of nobody has no busiest day, and comes to nothing", () => {
    expect(busiestDay([], tarnholt)).toBeNull();
    const told = tellExperiment({ a: [], b: [] }, { a: tarnholt, b: tarnholt }, [], { from: 0, to: DAY });
    expect(told).toMatchObject({ runs: 0, came: 0, people: [], days: { a: null, b: null } });
    expect(told.tried.every((t) => t.a === 0 && t.b === 0)).toBe(true);
  });
});

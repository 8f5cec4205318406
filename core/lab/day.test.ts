import { expect, it } from "vitest";
import { Bench, MIN } from "../../tests/support/memory.ts";
import { logTry } from "../desk/work.ts";
import { DayWatch, hangingAt } from "./day.ts";

const REACHED = { personId: "p_mara", channel: "call", outcome: "reached" } as const;

it("who comes in the night and is listed hangs until morning, and has not rung", () => {
  const bench = new Bench(undefined, Date.parse("2026-03-05T04:00:00Z"));
  const from = bench.desk.now;
  const watch = new DayWatch(from, from + 720 * MIN);
  bench.desk.onPlan = ({ after }) => watch.see(after, bench.desk.now);
  const id = bench.arrive();
  expect(bench.lead(id).listed).not.toBeNull();
  const [lead] = watch.told().leads;
  expect(hangingAt(lead!.states, from)).toMatchObject({ dueAt: bench.lead(id).bell!.dueAt, rung: false });
});

it("a lead hangs on the wire until somebody tries, rings when nobody does, and is not watched past its day", () => {
  const bench = new Bench();
  const from = bench.desk.now;
  const watch = new DayWatch(from, from + 60 * MIN);
  bench.desk.onPlan = ({ after }) => watch.see(after, bench.desk.now);
  const tried = bench.arrive();
  const left = bench.arrive();
  bench.desk.advance(2 * MIN);
  bench.act(tried, (world) => logTry(world, REACHED));
  bench.desk.advance(90 * MIN);
  bench.act(left, (world) => logTry(world, REACHED));
  const late = bench.arrive();
  const { leads } = watch.told();
  expect(leads.map((l) => l.id)).toEqual([tried, left]);
  expect(leads.some((l) => l.id === late)).toBe(false);
  const [first, second] = leads.map((l) => l.states);
  const due = bench.lead(left).bell!.dueAt;
  expect(hangingAt(first!, from)).toMatchObject({ dueAt: expect.any(Number), rung: false, tries: 0 });
  expect(hangingAt(first!, from + 3 * MIN)).toBeNull();
  expect(hangingAt(second!, due - 1)).toMatchObject({ dueAt: due, rung: false });
  expect(hangingAt(second!, due + MIN)).toMatchObject({ dueAt: due, rung: true });
  // What happened after the day was over is not told of.
  expect(second!.every((s) => s.at < from + 60 * MIN)).toBe(true);
  expect(hangingAt(first!, from - 1)).toBeNull();
});

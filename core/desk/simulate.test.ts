import { expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { Bench, companyWith, DAY, wall } from "../../tests/support/memory.ts";
import { OTHER_BELLS } from "../policy/bells.ts";
import { take } from "./hand-off.ts";
import { simulateBell } from "./simulate.ts";
import { close } from "./stage.ts";
import { logTry } from "./work.ts";

const lines = (steps: ReturnType<typeof simulateBell>["steps"]) =>
  steps.map((s) => `${wall(s.at)} ${s.said}`);

it("says what really happens when nobody does anything, to the second", () => {
  const bench = new Bench();
  const id = bench.arrive();
  bench.act(id, (w) => take(w, "p_mara"));
  const simulated = simulateBell(tarnholt, bench.lead(id), "inquiry", bench.lead(id).createdAt);
  bench.desk.advance(DAY);
  expect(lines(simulated.steps).slice(0, 3)).toEqual([
    "Wed 09:03:00 Nudged Mara Whitehorse",
    "Wed 09:05:00 Rang: nobody had tried in time",
    "Wed 09:05:00 Told the managers",
  ]);
  const at = (what: string) => simulated.steps.find((s) => s.said.startsWith(what))?.at;
  expect(at("Rang")).toBe(bench.events(id, "rang")[0]?.at);
  expect(at("Goes to")).toBe(bench.events(id, "stood-by")[0]?.at);
  expect(simulated.steps[2]?.told).toEqual(["the team’s chat", "Greta Mbeki"]);
});

it("runs every kind of bell, also over a lead that is closed or answered, and leaves it as it is", () => {
  const bench = new Bench();
  const id = bench.arrive();
  bench.act(id, (w) => logTry(w, { personId: "p_mara", channel: "call", outcome: "reached" }));
  bench.act(id, (w) => close(w, "p_mara", "No fit"));
  const before = structuredClone(bench.lead(id));
  for (const about of OTHER_BELLS) {
    const { target, dueAt, steps } = simulateBell(tarnholt, bench.lead(id), about, bench.desk.now);
    expect(target, about).not.toBeNull();
    expect(steps.find((s) => s.said.startsWith("Rang"))?.at, about).toBe(dueAt);
  }
  expect(bench.lead(id)).toEqual(before);
});

it("says so when no target fits", () => {
  const bench = new Bench();
  const id = bench.arrive();
  const none = companyWith({ targets: [] });
  expect(simulateBell(none, bench.lead(id), "inquiry", bench.desk.now)).toMatchObject({
    target: null,
    steps: [],
  });
});

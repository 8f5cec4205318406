import { expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { atDesk, Bench, DAY } from "../../tests/support/memory.ts";
import { park } from "../desk/park.ts";
import { asCadences } from "./before-cadences.ts";
import type { Policies } from "./setup.ts";

/** The demo company as it was kept when it had slow plans. */
function before(times: number): Policies {
  const { cadences: _, ...old } = tarnholt.policies;
  const plan = { id: "sp_x", name: "Seasons", everyDays: 28, times, templateId: "season", lookAfterDays: 90 };
  return { ...old, slowPlans: [plan] } as unknown as Policies;
}

it("a slow plan is the cadence that sends the same letters and looks again on the same day", () => {
  const policies = asCadences(before(4));
  expect("slowPlans" in policies).toBe(false);
  const [cadence] = policies.cadences;
  expect(cadence).toMatchObject({
    id: "sp_x",
    version: 2,
    live: { reason: "parked" },
    kept: [{ version: 1 }],
  });
  expect(cadence!.live!.touches.map((t) => `${t.kind} ${t.after}`)).toEqual([
    "email P28D",
    "email P56D",
    "email P84D",
    "list P90D",
    "email P112D",
  ]);
  expect(cadence!.kept[0]!.plan.touches).toHaveLength(4);
  const bench = new Bench({ ...tarnholt, policies }, atDesk("2026-03-04T10:00:00"));
  const id = bench.arrive({ email: "ana@example.com" });
  bench.act(id, (w) => park(w, "p_ines", "Spring", "sp_x"));
  bench.desk.advance(91 * DAY);
  expect(bench.desk.messages.filter((m) => m.purpose === "cadence")).toHaveLength(3);
  expect(bench.lead(id).listed?.reason).toBe("parked (Spring): time for the next look");
});

it("one without letters only looks again, and policies with cadences stay as they are", () => {
  const [cadence] = asCadences(before(0)).cadences;
  expect(cadence!.live!.touches.map((t) => t.kind)).toEqual(["list"]);
  expect(asCadences(tarnholt.policies)).toBe(tarnholt.policies);
});

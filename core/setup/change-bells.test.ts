import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import type { Rung, Target } from "../policy/bells.ts";
import type { WakeRule } from "../policy/parking.ts";
import type { Changed } from "./change.ts";
import { changeBells, changeDeskHours, changeMorning, changeParking, closedFrom } from "./change-bells.ts";

const { policies } = tarnholt;
const { targets, ladders, late, counts, desk, wakes } = policies;
const bells = { targets, ladders, late, counts };
/** Where a change is refused. */
const at = (changed: Changed) => (changed.ok ? null : (changed.problem.errors?.[0]?.path ?? ""));
const first = (more: Partial<Target>) => ({ ...bells, targets: [{ ...targets[0]!, ...more }, ...targets] });
const withRung = (rung: Partial<Rung>) => ({
  ...bells,
  ladders: [
    { ...ladders[0]!, rungs: [{ fraction: 1, plusMinutes: 0, act: "nudge" as const, ...rung }] },
    ...ladders.slice(1),
  ],
});

describe("targets and ladders", () => {
  it("as they are can be kept", () =>
    expect(changeBells(tarnholt, bells)).toEqual({ ok: true, setup: tarnholt }));
  it.each([
    ["a name", first({ name: " " }), "targets.0.name"],
    ["a length", first({ minutes: 0 }), "targets.0.minutes"],
    ["a length within ninety days", first({ minutes: 200_000 }), "targets.0.minutes"],
    ["a ladder that is there", first({ ladderId: "l_gone" }), "targets.0.ladderId"],
    ["something that answers", { ...bells, counts: [] }, "counts"],
    ["rungs inside the target", withRung({ fraction: 1.2 }), "ladders.0.rungs.0.fraction"],
    [
      "minutes after the bell only",
      withRung({ fraction: 0.5, plusMinutes: 3 }),
      "ladders.0.rungs.0.plusMinutes",
    ],
    ["no minutes before it", withRung({ plusMinutes: -1 }), "ladders.0.rungs.0.plusMinutes"],
    ["a group that is there", withRung({ act: "group", groupId: "g_gone" }), "ladders.0.rungs.0.groupId"],
    ["a tag", withRung({ act: "tag" }), "ladders.0.rungs.0.tag"],
    ["a slow plan that is there", withRung({ act: "park", planId: "sp_gone" }), "ladders.0.rungs.0.planId"],
    ["a way to nudge by", withRung({ ways: [] }), "ladders.0.rungs.0.ways"],
    ["no second ring", withRung({ act: "ring" }), "ladders.0.rungs.0.act"],
    [
      "ladders of different names",
      { ...bells, ladders: [...ladders, { ...ladders[0]!, id: "l_twin" }] },
      "ladders.0.name",
    ],
  ])("need %s", (_what, change, path) => expect(at(changeBells(tarnholt, change))).toBe(path));
  it("must leave no lead without a bell", () => {
    const when = { field: "product", is: "equal", value: "lodge" } as const;
    const some = targets.map((t) => (t.about ? t : { ...t, when }));
    expect(at(changeBells(tarnholt, { ...bells, targets: some }))).toBe("targets");
    expect(at(changeBells(tarnholt, { ...bells, targets: some.filter((t) => t.about) }))).toBe("targets");
    const off = targets.map((t) => (t.about ? t : { ...t, off: true }));
    expect(at(changeBells(tarnholt, { ...bells, targets: off }))).toBe("targets");
  });
});

describe("desk hours", () => {
  const hours = (more: object) => changeDeskHours(tarnholt, { desk: { ...desk, ...more }, holidays: null });
  it.each([
    ["open before they close", { week: { 1: [["18:00", "08:00"]] } }, "desk.week.1"],
    [
      "do not overlap",
      {
        week: {
          1: [
            ["08:00", "12:00"],
            ["11:00", "17:00"],
          ],
        },
      },
      "desk.week.1",
    ],
    ["open at some time", { week: {} }, "desk.week"],
    [
      "name their days",
      { exceptions: { "2026-03-04": { name: " ", spans: [] } } },
      "desk.exceptions.2026-03-04.name",
    ],
    ["have real dates", { exceptions: { soon: { name: "Closed", spans: [] } } }, "desk.exceptions.soon"],
  ])("must %s", (_what, more, path) => expect(at(hours(more))).toBe(path));
  it("end early on one day, and keep what came before", () => {
    const spans = (from: string, date = "2026-03-04") =>
      closedFrom(tarnholt, date, from).policies.desk.exceptions?.[date]?.spans;
    expect(spans("13:00")).toEqual([["08:00", "13:00"]]);
    expect(spans("07:00")).toEqual([]);
    expect(spans("19:00")).toEqual([["08:00", "18:00"]]);
    // A Saturday has hours of its own.
    expect(spans("10:30", "2026-03-07")).toEqual([["09:00", "10:30"]]);
  });
});

describe("parking", () => {
  const wakeRule = (more: Partial<WakeRule>) => ({ wakes: [{ ...wakes[0]!, ...more }] });
  it.each([
    ["a rule’s name", wakeRule({ name: "" }), "wakes.0.name"],
    ["a signal", wakeRule({ signals: [] }), "wakes.0.signals"],
    ["a calm-down that ends", wakeRule({ calmHours: 9_999 }), "wakes.0.calmHours"],
  ])("needs %s", (_what, change, path) => expect(at(changeParking(tarnholt, change))).toBe(path));
  it("a ladder parks into a cadence for parked leads alone", () => {
    expect(at(changeBells(tarnholt, withRung({ act: "park", planId: "sp_quarter" })))).toBe(null);
    expect(at(changeBells(tarnholt, withRung({ act: "park", planId: "cad_not_reached" })))).toBe(
      "ladders.0.rungs.0.planId",
    );
  });
});

it("a morning summary that is on must reach somebody", () => {
  expect(at(changeMorning(tarnholt, { on: true, ways: [] }))).toBe("morning.ways");
  expect(changeMorning(tarnholt, { on: false, ways: [] }).ok).toBe(true);
});

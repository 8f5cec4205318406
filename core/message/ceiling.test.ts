import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { Bench, companyWith } from "../../tests/support/memory.ts";
import { letGo } from "../desk/send.ts";
import { replyCeiling } from "./ceiling.ts";

describe("how many a source answers on its own", () => {
  it.each([
    [0, null, 60],
    [4, null, 60],
    [30, null, 150],
    [30, 20, 20],
    [0, 1_000, 1_000],
  ])("usually %d an hour, decided %j: %d", (usual, own, most) => {
    expect(replyCeiling(usual, own)).toBe(most);
  });

  const bench = (perSourceHour: number | null) =>
    new Bench(companyWith({ restraint: { ...tarnholt.policies.restraint, perSourceHour } }));
  const firstReplies = (b: Bench) => b.desk.messages.filter((m) => m.purpose === "first-reply").length;

  it("the next ones wait, offered and belled all the same", () => {
    const b = bench(3);
    const ids = Array.from({ length: 5 }, () => b.arrive());
    const before = firstReplies(b);
    expect(before).toBe(3);
    for (const id of ids.slice(3)) {
      expect(b.lead(id).scheduled.map((s) => s.held)).toEqual([true]);
      expect(b.lead(id).handOff?.state).toBe("offered");
      expect(b.lead(id).bell?.state).toBe("waiting");
    }
    // Nothing lets them go but somebody.
    b.desk.advance(3 * 86_400_000);
    expect(firstReplies(b)).toBe(before);
  });

  it("go when somebody lets them go, and not to those who were reached meanwhile or asked for no texts", () => {
    const b = bench(1);
    const [, second, third] = [b.arrive(), b.arrive(), b.arrive()];
    b.act(second, (world) => letGo(world, "p_ines", true));
    expect(b.lead(second).scheduled).toEqual([]);
    expect(b.events(second, "message-out")).toHaveLength(1);
    b.act(third, (world) => letGo(world, "p_ines", false));
    expect(b.events(third, "message-out")).toHaveLength(0);
    expect(b.events(third, "unscheduled")).toHaveLength(1);
  });
});

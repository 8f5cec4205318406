import { describe, expect, it } from "vitest";
import { ClockWatch } from "./health.ts";

describe("the machine's clock", () => {
  const at = (steps: readonly (readonly [steady: number, wall: number])[]) => {
    let [steady, wall] = [0, 1_000_000];
    const watch = new ClockWatch(
      () => wall,
      () => steady,
    );
    return steps.map(([s, w]) => {
      steady += s;
      wall += w;
      return watch.look();
    });
  };

  it("that was set is noticed once, forwards and backwards; what a time server mends little by little is not", () => {
    expect(
      at([
        [1_000, 1_000],
        [1_000, 1_003],
        [1_000, 3_601_000],
        [1_000, 1_000],
      ]),
    ).toEqual([0, 0, 3_600_000, 0]);
    expect(
      at([
        [1_000, -7_199_000],
        [1_000, 1_000],
      ]),
    ).toEqual([-7_200_000, 0]);
    expect(at(Array.from({ length: 50 }, () => [1_000, 1_200] as const)).every((by) => by === 0)).toBe(true);
  });
});

import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { sayWhen } from "./say-when.ts";

const DENVER = "America/Denver";
/** Wednesday 4 March 2026, 9:40 in Denver. */
const NOW = Date.parse("2026-03-04T09:40:00-07:00");
const at = (text: string) => {
  const due = sayWhen(text, NOW, DENVER);
  return due === null ? null : new Date(due).toISOString();
};

describe("a time as people type it", () => {
  it.each([
    ["in 2 h", "2026-03-04T18:40:00.000Z"],
    ["90 min", "2026-03-04T18:10:00.000Z"],
    ["in 3 days", "2026-03-07T16:40:00.000Z"],
    ["tomorrow", "2026-03-05T16:00:00.000Z"],
    ["Tomorrow 10", "2026-03-05T17:00:00.000Z"],
    ["tomorrow at 2:30 pm", "2026-03-05T21:30:00.000Z"],
    ["fri 9:30", "2026-03-06T16:30:00.000Z"],
    ["wed", "2026-03-11T15:00:00.000Z"],
    ["monday", "2026-03-09T15:00:00.000Z"],
    ["17:00", "2026-03-05T00:00:00.000Z"],
    ["8:00", "2026-03-05T15:00:00.000Z"],
    ["24 Mar 10:00", "2026-03-24T16:00:00.000Z"],
    ["3 march", "2027-03-03T16:00:00.000Z"],
    ["today 8:00", null],
    ["31 jun", null],
    ["25:00", null],
    ["13 pm", null],
    ["whenever", null],
    ["", null],
  ])("%j: %s", (text, expected) => expect(at(text)).toBe(expected));
  it("an hour on the night clocks go forward is an hour", () =>
    expect(sayWhen("in 24 h", Date.parse("2026-03-07T20:00:00-07:00"), DENVER)).toBe(
      Date.parse("2026-03-08T21:00:00-06:00"),
    ));
  it("is never in the past, whatever is typed", () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 24 }), (text) => {
        const due = sayWhen(text, NOW, DENVER);
        if (due !== null) expect(due).toBeGreaterThan(NOW);
      }),
    );
  });
});

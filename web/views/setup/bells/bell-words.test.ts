import { describe, expect, it } from "vitest";
import { RUNG_ACTS } from "../../../../core/policy/bells.ts";
import { minutesSaid, rungSaid, rungWhen } from "./bell-words.ts";

describe("bells in words", () => {
  it.each([
    [{ minutes: 5, clock: "desk" }, "5 min of desk time"],
    [{ minutes: 90, clock: "wall" }, "1 h 30 min"],
    [{ minutes: 14_400, clock: "wall" }, "10 days"],
    [{ minutes: 60, clock: "desk", zone: "lead" }, "1 h of desk time, where they are"],
    [{ minutes: 0, clock: "desk" }, "at its time"],
  ] as const)("%o is %s", (target, said) => expect(minutesSaid(target)).toBe(said));

  it.each([
    [{ fraction: 0, plusMinutes: 0 }, "at once"],
    [{ fraction: 0.6, plusMinutes: 0 }, "at 60 %"],
    [{ fraction: 1, plusMinutes: 0 }, "as it rings"],
    [{ fraction: 1, plusMinutes: 90 }, "1 h 30 min later"],
  ])("a rung at %o comes %s", (rung, said) => expect(rungWhen(rung)).toBe(said));

  const at = { fraction: 1, plusMinutes: 0 } as const;
  const groups = [{ id: "g", name: "Lodges" }];
  const plans = [{ id: "p", name: "Seasons" }];
  it("names what a rung names", () => {
    expect(rungSaid({ ...at, act: "group", groupId: "g" }, groups, plans)).toBe("Offer it to Lodges");
    expect(rungSaid({ ...at, act: "group", groupId: "gone" }, groups, plans)).toBe("Offer it to a group");
    expect(rungSaid({ ...at, act: "park", planId: "p" }, groups, plans)).toBe("Park it: Seasons");
    expect(rungSaid({ ...at, act: "tag", tag: "late" }, groups, plans)).toBe("Tag it “late”");
    expect(rungSaid({ ...at, act: "nudge", ways: ["chat", "text"] }, groups, plans)).toBe(
      "Nudge whoever has it by chat and text",
    );
  });
  it("has words for everything a rung can do, no two the same", () => {
    const said = RUNG_ACTS.map((act) => rungSaid({ ...at, act }, groups, plans));
    expect(new Set(said).size).toBe(RUNG_ACTS.length);
  });
});

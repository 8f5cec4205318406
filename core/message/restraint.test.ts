import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { MemoryDesk } from "../desk/memory.ts";
import { receive } from "../desk/receive.ts";
import { understand } from "../intake/understand.ts";
import type { Lead } from "../lead/lead.ts";
import { allowedFrom, optWord, restrain, warnings, whereabouts } from "./restraint.ts";

function lead(fields: Record<string, string>): Lead {
  const source = tarnholt.sources[0]!;
  const understood = understand(source, tarnholt.policies, fields);
  if (!understood.ok) throw new Error(understood.reason);
  const decided = receive(new MemoryDesk(tarnholt, Date.parse("2026-01-05T18:00:00Z")).look(null), {
    inquiryId: "i",
    source,
    facts: understood.facts,
    matchedOn: null,
    by: { kind: "lead" },
    goesTo: { kind: "kept" },
  });
  if (!decided.ok) throw new Error(decided.problem.detail);
  return decided.plan.after;
}

const NOBODY: ReadonlySet<string> = new Set();
const text = (someone: Lead, at: string) =>
  restrain(tarnholt, someone, { channel: "text", to: someone.phones[0]! }, Date.parse(at), NOBODY);
const held = (someone: Lead, at: string) => {
  const verdict = text(someone, at);
  return verdict.does === "hold" ? new Date(verdict.until).toISOString() : verdict.does;
};

/** 47 CFR 64.1200(c)(1): not before 8 a.m. or after 9 p.m. at the called person's place. */
describe("quiet hours at the lead's own place", () => {
  // Numbers of the four zones of the contiguous United States, none of which spans two.
  const eastern = lead({ phone: "617 555 0100" });
  const central = lead({ phone: "312 555 0100" });
  const mountain = lead({ phone: "303 555 0100" });
  const pacific = lead({ phone: "206 555 0100" });

  it.each([
    ["just before eight in New York", eastern, "2026-01-06T12:59:59Z", "2026-01-06T13:00:00.000Z"],
    ["at eight in New York", eastern, "2026-01-06T13:00:00Z", "send"],
    ["a second before nine in Chicago", central, "2026-01-07T02:59:59Z", "send"],
    ["at nine in Chicago", central, "2026-01-07T03:00:00Z", "2026-01-07T14:00:00.000Z"],
    ["midnight in Denver", mountain, "2026-01-06T07:00:00Z", "2026-01-06T15:00:00.000Z"],
    ["seven in Los Angeles, ten in New York", pacific, "2026-01-06T15:00:00Z", "2026-01-06T16:00:00.000Z"],
    // 8 March 2026: clocks go from 2:00 to 3:00; eight o'clock comes an hour sooner.
    ["the night clocks go forward, New York", eastern, "2026-03-08T04:00:00Z", "2026-03-08T12:00:00.000Z"],
    ["the night clocks go forward, Los Angeles", pacific, "2026-03-08T08:00:00Z", "2026-03-08T15:00:00.000Z"],
    ["the morning after it, Denver", mountain, "2026-03-08T13:59:59Z", "2026-03-08T14:00:00.000Z"],
    // 1 November 2026: clocks go back; eight o'clock comes an hour later.
    ["the night clocks go back, Chicago", central, "2026-11-01T04:00:00Z", "2026-11-01T14:00:00.000Z"],
    ["the night clocks go back, Denver", mountain, "2026-11-01T06:00:00Z", "2026-11-01T15:00:00.000Z"],
    ["the evening of it, New York", eastern, "2026-11-02T01:59:59Z", "send"],
  ])("%s", (_, someone, at, expected) => expect(held(someone, at)).toBe(expected));

  it("are those of every place they may be in, when the signs disagree", () => {
    // A Boston number, and a postal code in Seattle: nine in the east is six in the west.
    const moved = lead({ phone: "617 555 0101", postal_code: "98101" });
    expect(whereabouts(tarnholt, moved, moved.phones[0]!).map((w) => w.by)).toEqual([
      "postal code 98101",
      "area code 617",
    ]);
    expect(held(moved, "2026-01-06T14:00:00Z")).toBe("2026-01-06T16:00:00.000Z");
    expect(held(moved, "2026-01-07T02:30:00Z")).toBe("2026-01-07T16:00:00.000Z");
    expect(held(moved, "2026-01-06T20:00:00Z")).toBe("send");
  });
  it("are the desk's own where nothing tells, and say so", () => {
    const unknown = lead({ phone: "+44 20 7946 0100" });
    const verdict = text(unknown, "2026-01-06T07:00:00Z");
    expect(verdict).toMatchObject({ does: "hold", until: Date.parse("2026-01-06T15:00:00Z") });
    expect(verdict.does === "hold" && verdict.reason).toContain("their place is not known");
  });
  it("hold mails as well as texts, and no answer the company lets go at any hour", () => {
    const someone = lead({ phone: "617 555 0102", email: "x@example.com" });
    const night = Date.parse("2026-01-06T07:00:00Z");
    const mail = { channel: "email" as const, to: "x@example.com" };
    expect(restrain(tarnholt, someone, mail, night, NOBODY).does).toBe("hold");
    expect(restrain(tarnholt, someone, { ...mail, anyHour: true }, night, NOBODY).does).toBe("send");
    const any = { channel: "text" as const, to: someone.phones[0]!, anyHour: true };
    expect(restrain(tarnholt, someone, any, night, NOBODY).does).toBe("send");
  });
  it("end for every place there is, however far apart", () => {
    const places = ["Pacific/Honolulu", "America/St_Johns", "America/Anchorage"].map((zone) => ({
      zone,
      by: "",
    }));
    const at = allowedFrom(places, { from: "08:00", to: "21:00" }, Date.parse("2026-01-06T05:00:00Z"));
    // Eight in Honolulu is half past two in St. John's.
    expect(new Date(at).toISOString()).toBe("2026-01-06T18:00:00.000Z");
  });
});

describe("restraint", () => {
  const noon = Date.parse("2026-01-06T19:00:00Z");
  const someone = lead({ phone: "303 555 0103", email: "y@example.com" });
  const mail = { channel: "email" as const, to: "y@example.com" };
  const sms = { channel: "text" as const, to: someone.phones[0]! };

  it("refuses what they stopped, by that way alone", () => {
    const stopped = { ...someone, stops: [{ channel: "text", at: noon, how: "word", said: "Stop" }] } as Lead;
    const verdict = restrain(tarnholt, stopped, sms, noon, NOBODY);
    expect(verdict).toMatchObject({ does: "refuse" });
    expect(verdict.does === "refuse" && verdict.reason).toContain("they wrote “Stop”");
    expect(restrain(tarnholt, stopped, mail, noon, NOBODY).does).toBe("send");
    expect(warnings(tarnholt, stopped, sms, noon, NOBODY)[0]).toMatchObject({ forbids: true });
  });
  it("refuses who is on the list, whatever lead they are", () =>
    expect(restrain(tarnholt, someone, mail, noon, new Set(["y@example.com"]))).toMatchObject({
      does: "refuse",
      reason: expect.stringContaining("y@example.com is on the list"),
    }));
  it("keeps to the ceiling of a day, over all channels, and lets go after it", () => {
    const { perDay } = tarnholt.policies.restraint;
    const automatic = Array.from({ length: perDay }, (_, i) => noon - 3_600_000 + i);
    expect(restrain(tarnholt, { ...someone, automatic }, mail, noon, NOBODY).does).toBe("refuse");
    expect(restrain(tarnholt, { ...someone, automatic }, mail, noon + 86_400_000, NOBODY).does).toBe("send");
    // It is for the desk to keep, and not for a person who writes by hand.
    expect(warnings(tarnholt, { ...someone, automatic }, mail, noon, NOBODY)).toEqual([]);
  });
  it("warns whoever writes in a quiet hour, and leaves it to them", () => {
    const [warning] = warnings(tarnholt, someone, sms, Date.parse("2026-01-06T07:00:00Z"), NOBODY);
    expect(warning).toMatchObject({ forbids: false });
    expect(warning?.said).toMatch(/It is 00:00 where they are/);
    expect(warning?.said).not.toContain("Held");
  });
});

/** What counts as an opt-out is written beside `optWord`. */
describe("opt-out words", () => {
  const { restraint } = tarnholt.policies;
  it.each([
    ["STOP", "stop"],
    ["stop", "stop"],
    [" Stop. ", "stop"],
    ["STOP!!!", "stop"],
    ["Stop please", "stop"],
    ["Stop texting me please", "stop"],
    ["stopall", "stop"],
    ["Unsubscribe", "stop"],
    ["cancel", "stop"],
    ["END", "stop"],
    ["quit", "stop"],
    ["ARRET", "stop"],
    ["Arrêt svp", "stop"],
    ["alto por favor", "stop"],
    ["START", "start"],
    ["start please", "start"],
    ["HELP", "help"],
    ["Aide", "help"],
    ["Stop by tomorrow?", null],
    ["stop by", null],
    ["Please stop", null],
    ["Can you help me", null],
    ["Quit my job, now I have time for a sauna", null],
    ["End of March would suit us", null],
    ["Start on Monday", null],
    ["nonstop", null],
    ["", null],
  ] as const)("%j: %s", (written, expected) => expect(optWord(written, restraint)).toBe(expected));
});

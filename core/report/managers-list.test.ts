import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { Bench, DAY, HOUR, MIN } from "../../tests/support/memory.ts";
import { take } from "../desk/hand-off.ts";
import { hearFrom } from "../desk/hear.ts";
import { park } from "../desk/park.ts";
import { close } from "../desk/stage.ts";
import { logTry, setNextStep } from "../desk/work.ts";
import { onList } from "./managers-list.ts";
import { isWorthTelling, morningParts, morningText } from "./morning.ts";

const place = (bench: Bench, id: string) => onList(bench.lead(id), tarnholt, bench.desk.now);
const owned = () => {
  const bench = new Bench();
  const id = bench.arrive();
  bench.act(id, (w) => take(w, "p_mara"));
  return { bench, id };
};

describe("the manager’s list", () => {
  it("leaves out what is on its way", () => {
    const { bench, id } = owned();
    expect(place(bench, id)).toBeNull();
    bench.act(id, (w) => logTry(w, { personId: "p_mara", channel: "call", outcome: "voicemail" }));
    expect(place(bench, id)).toBeNull();
  });
  it("names what has rung, since when, and with whom", () => {
    const { bench, id } = owned();
    bench.desk.advance(7 * MIN);
    expect(place(bench, id)).toMatchObject({
      part: "rung",
      why: "waits for a first call, with Mara Whitehorse",
      since: bench.lead(id).bell?.dueAt,
    });
  });
  it("tells what nobody took from what waits for the morning", () => {
    const nobody = { ...tarnholt, people: tarnholt.people.map((p) => ({ ...p, offDuty: true })) };
    const bench = new Bench(nobody);
    expect(place(bench, bench.arrive())?.part).toBe("passed");
    // At night people come on duty again on their own.
    const night = new Bench(tarnholt, Date.parse("2026-03-05T06:00:00Z"));
    const id = night.arrive();
    expect(place(night, id)).toMatchObject({ part: "nobody", why: expect.stringContaining("asked again") });
  });
  it("finds replies, stuck steps, tries that stopped, and parked leads to look at", () => {
    const { bench, id } = owned();
    bench.act(id, (w) => logTry(w, { personId: "p_mara", channel: "call", outcome: "reached" }));
    bench.act(id, (w) => hearFrom(w, { channel: "text", from: "+13035551001", subject: null, body: "Hi?" }));
    bench.desk.advance(16 * MIN);
    expect(place(bench, id)).toMatchObject({
      part: "rung",
      why: expect.stringContaining("waits for an answer"),
    });
    bench.act(id, (w) => logTry(w, { personId: "p_mara", channel: "call", outcome: "reached" }));
    bench.act(id, (w) => setNextStep(w, "p_mara", null));
    bench.desk.advance(6 * HOUR);
    expect(place(bench, id)).toMatchObject({ part: "stuck", why: "has no next step" });

    const unreached = bench.arrive();
    bench.act(unreached, (w) => take(w, "p_mara"));
    bench.act(unreached, (w) => logTry(w, { personId: "p_mara", channel: "call", outcome: "voicemail" }));
    const later = { kind: "call" as const, dueAt: bench.desk.now + 30 * DAY, note: "Later" };
    bench.act(unreached, (w) => setNextStep(w, "p_mara", later));
    bench.desk.advance(11 * DAY);
    expect(place(bench, unreached)?.part).toBe("stalled");

    bench.act(unreached, (w) => park(w, "p_mara", "Next spring", "sp_quarter"));
    expect(place(bench, unreached)).toBeNull();
    bench.desk.advance(95 * DAY);
    expect(place(bench, unreached)?.part).toBe("look");
    bench.act(unreached, (w) => close(w, "p_mara", "No fit"));
    expect(place(bench, unreached)).toBeNull();
  });
});

describe("the morning summary", () => {
  const now = Date.parse("2026-03-05T15:00:00Z");
  const facts = {
    zone: "America/Denver",
    now,
    since: now - 14 * HOUR,
    cameIn: [
      { source: "Website", count: 3 },
      { source: "Text line", count: 1 },
    ],
    waiting: { answer: 4, rung: 1, again: 2, today: 5 },
    rang: { leads: 2, untried: 1 },
    away: [{ name: "Sol", until: now + 3 * DAY, reason: "holiday", cover: null }],
    quiet: ["Ad: lodge brochure"],
  };
  it("says what came, what waits, what rang and what became of it, who is away, what is silent", () => {
    const parts = morningParts(facts);
    expect(parts.map((p) => p.heading)).toEqual([
      "Since Wed 4 Mar 18:00 (MST)",
      "Waiting now",
      "Rang on the last day",
      "Away",
      "Gone quiet",
    ]);
    const text = morningText(parts, false, (page) => `https://desk.example${page}`);
    expect(text).toContain("4 inquiries came in: Website 3, Text line 1.");
    expect(text).toContain("2 leads rang; 1 is not tried yet.");
    // In short: what the list has whole is a link, not the list again.
    expect(text).toContain("4 to answer, 1 rung, 2 to try again, 5 due today.\n  https://desk.example/list");
    expect(text.split("\n").length).toBeLessThan(20);
    // Over the clock change.
    expect(text).toContain("Sol until Sun 8 Mar 09:00 (holiday): nobody covers");
    expect(morningText(parts, true, String)).toContain("*Waiting now*");
  });
  it("says plainly when there was nothing", () => {
    const quiet = morningText(
      morningParts({ ...facts, cameIn: [], rang: { leads: 0, untried: 0 }, away: [], quiet: [] }),
      false,
      String,
    );
    const nothing = {
      ...facts,
      cameIn: [],
      rang: { leads: 0, untried: 0 },
      waiting: { answer: 0, rung: 0, again: 0, today: 0 },
    };
    expect([isWorthTelling(facts), isWorthTelling(nothing)]).toEqual([true, false]);
    for (const line of ["Nothing came in.", "Nothing rang.", "Nobody is away."])
      expect(quiet).toContain(line);
  });
});

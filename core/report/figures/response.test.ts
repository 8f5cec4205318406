import fc from "fast-check";
import { DateTime } from "luxon";
import { describe, expect, it } from "vitest";
import { tarnholt } from "../../../demo/tarnholt.ts";
import { account, offerOf } from "../../../tests/support/accounts.ts";
import { atDesk, DAY, HOUR, MIN } from "../../../tests/support/memory.ts";
import { inTargetOf, type ResponseAsked, tellResponse } from "./response.ts";

const NINE = atDesk("2026-03-04T09:00:00");
const asked = (more: Partial<ResponseAsked> = {}): ResponseAsked => ({
  from: NINE - 7 * DAY,
  to: NINE + DAY,
  now: NINE + 8 * HOUR,
  clock: "wall",
  until: "try",
  by: null,
  split: null,
  ...more,
});
const tell = (
  accounts: Parameters<typeof tellResponse>[0],
  more: Partial<ResponseAsked> = {},
  offers = [] as Parameters<typeof tellResponse>[1],
) => tellResponse(accounts, offers, asked(more), tarnholt);
/** Everything that is told, no figure of it none. */
const isTold = (value: unknown): boolean =>
  typeof value === "number"
    ? Number.isFinite(value)
    : typeof value !== "object" || value === null || Object.values(value).every(isTold);

describe("how long leads waited", () => {
  it("counts those who still wait, were closed or set aside as long as they were seen to, and leaves none out", () => {
    // Freireich’s 6-MP patients (1963) as leads: weeks are minutes; some still wait, some were closed untouched.
    const weeks = [6, 6, 6, 7, 10, 13, 16, 22, 23].map((m) =>
      account({ came: NINE, triedAt: NINE + m * MIN }),
    );
    const out = [6, 9, 10, 11, 17, 19, 20, 25, 32, 32, 34].map((m) =>
      account({ came: NINE, untriedAt: NINE + m * MIN }),
    );
    const waits = account({ came: NINE });
    const told = tell([...weeks, ...out, waits], { now: NINE + 35 * MIN });
    expect(told).toMatchObject({ n: 21, censored: 12, median: { at: 23, low: 13, high: null } });
    const s = (t: number) => told.curve.find((p) => p.t === t)!.s;
    expect([6, 7, 10, 13, 16, 22, 23].map((t) => Number(s(t).toFixed(3)))).toEqual([
      0.857, 0.807, 0.753, 0.69, 0.627, 0.538, 0.448,
    ]);
  });

  it("by the desk’s clock counts open minutes alone, over a night, a weekend and a change of clocks", () => {
    // Saturday 12:50 until Monday 8:10 over the spring change: ten minutes open on either side.
    const came = atDesk("2026-03-07T12:50:00");
    const triedAt = atDesk("2026-03-09T08:10:00");
    const at = (clock: "desk" | "wall") =>
      tell([account({ came, triedAt })], { clock, now: triedAt + HOUR }).median.at;
    expect(at("desk")).toBe(20);
    expect(at("wall")).toBe(
      DateTime.fromISO("2026-03-09T08:10", { zone: "America/Denver" }).diff(
        DateTime.fromISO("2026-03-07T12:50", { zone: "America/Denver" }),
        "minutes",
      ).minutes,
    );
  });

  it("leaves out what is only kept from a list, and tells milestones apart", () => {
    const kept = account({ came: NINE, kept: 1 });
    const one = account({
      came: NINE,
      repliedAt: NINE + MIN,
      triedAt: NINE + 3 * MIN,
      talkedAt: NINE + HOUR,
    });
    expect(tell([kept]).n).toBe(0);
    const median = (until: "try" | "talk" | "reply") => tell([kept, one], { until }).median.at;
    expect([median("reply"), median("try"), median("talk")]).toEqual([1, 3, 60]);
  });

  it("holds before against after a day, each by its own leads", () => {
    const day = NINE - DAY;
    const before = Array.from({ length: 20 }, (_, i) =>
      account({
        came: day - HOUR,
        triedAt: day - HOUR + (20 + i) * MIN,
        repliedAt: day - HOUR,
        dueAt: day - 55 * MIN,
      }),
    );
    const after = Array.from({ length: 20 }, (_, i) =>
      account({ came: NINE, triedAt: NINE + (1 + i / 10) * MIN, repliedAt: NINE, dueAt: NINE + 5 * MIN }),
    );
    const { split, target } = tell([...before, ...after], { split: day });
    expect(target).toBe(5);
    expect([split!.before.n, split!.after.n]).toEqual([20, 20]);
    expect([split!.before.median.at, split!.after.median.at]).toEqual([29, 1.9]);
    expect(split!.logRank!.p).toBeLessThan(0.001);
    expect(split!.atTarget).toBeNull();
    // With one in each part the other way round there is something to vary.
    const mixed = tell(
      [
        ...before,
        ...after,
        account({ came: day - HOUR, triedAt: day - HOUR + MIN }),
        account({ came: NINE }),
      ],
      { split: day },
    ).split!;
    expect(mixed.atTarget!.difference).toBeCloseTo(20 / 21 - 1 / 21, 9);
    expect(mixed.atTarget!.low).toBeGreaterThan(0.6);
  });

  it("groups hold every lead once, the largest first, and what is no longer set up says so", () => {
    const some = [
      account({ came: NINE, source: "src_site", triedAt: NINE + MIN }),
      account({ came: NINE, source: "src_gone" }),
      account({ came: NINE, source: "src_site", person: "p_mara" }),
    ];
    const bySource = tell(some, { by: "source" }).groups;
    expect(bySource.map((g) => [g.name, g.n])).toEqual([
      [tarnholt.sources.find((s) => s.id === "src_site")!.name, 2],
      ["src_gone (no longer here)", 1],
    ]);
    expect(tell(some, { by: "person" }).groups.map((g) => [g.key, g.n])).toEqual([
      [null, 2],
      ["p_mara", 1],
    ]);
    expect(tell(some, { by: "hour" }).groups).toMatchObject([{ key: "57", name: "Wed 9:00", n: 3 }]);
  });

  it("of nobody, of one, of those who all wait, or without open hours tells no figure that is none", () => {
    const never = {
      ...tarnholt,
      policies: { ...tarnholt.policies, desk: { ...tarnholt.policies.desk, week: {}, exceptions: {} } },
    };
    for (const some of [
      [],
      [account({ came: NINE, triedAt: NINE })],
      [account({ came: NINE }), account({ came: NINE })],
    ])
      for (const setup of [tarnholt, never])
        for (const clock of ["desk", "wall"] as const) {
          const told = tellResponse(some, [], asked({ clock, by: "source", split: NINE }), setup);
          expect(isTold(told)).toBe(true);
          expect(told.n).toBe(some.length);
          expect(told.everOpen).toBe(clock === "wall" || setup === tarnholt);
        }
    expect(tell([]).median).toEqual({ at: null, low: null, high: null });
  });
});

describe("the share within the target", () => {
  it("counts those due and those answered, and not what was let off before", () => {
    const due = NINE + 5 * MIN;
    const now = NINE + HOUR;
    expect(inTargetOf(account({ dueAt: due, answeredAt: due }), now)).toBe(true);
    expect(inTargetOf(account({ dueAt: due, answeredAt: due + 1 }), now)).toBe(false);
    expect(inTargetOf(account({ dueAt: due }), now)).toBe(false);
    expect(inTargetOf(account({ dueAt: due }), NINE)).toBeNull();
    expect(inTargetOf(account({ dueAt: due, letOffAt: NINE + MIN }), now)).toBeNull();
    expect(inTargetOf(account({ dueAt: due, letOffAt: due + MIN }), now)).toBe(false);
    expect(inTargetOf(account(), now)).toBeNull();
  });
  it("has Wilson’s interval: Newcombe 1998’s 81 of 263", () => {
    const some = Array.from({ length: 263 }, (_, i) =>
      account({ came: NINE, dueAt: NINE + 5 * MIN, answeredAt: NINE + (i < 81 ? 1 : 9) * MIN }),
    );
    const { inTarget } = tell(some);
    expect([inTarget.hits, inTarget.n]).toEqual([81, 263]);
    expect(inTarget.low).toBeCloseTo(0.2553, 4);
    expect(inTarget.high).toBeCloseTo(0.3662, 4);
  });
});

describe("offers", () => {
  it("adds up by person, and those somebody else took first count as long as they could be taken", () => {
    const how = fc.constantFrom("took", "passed", "lapsed", "gone", null);
    const any = fc.array(
      fc.record({ person: fc.constantFrom("p_mara", "p_luc"), how, after: fc.nat({ max: 20 }) }),
      {
        maxLength: 40,
      },
    );
    fc.assert(
      fc.property(any, (list) => {
        const offers = list.map(({ person, how: end, after }) =>
          offerOf({ person, at: NINE, how: end, endedAt: end && NINE + after * MIN }),
        );
        const { offers: told } = tell([], {}, offers);
        expect(told.reduce((sum, o) => sum + o.asked, 0)).toBe(list.length);
        for (const o of told) {
          const own = list.filter((l) => l.person === o.person);
          const count = (end: string) => own.filter((l) => l.how === end).length;
          expect([o.took.hits, o.passed, o.lapsed, o.gone]).toEqual([
            count("took"),
            count("passed"),
            count("lapsed"),
            count("gone"),
          ]);
          expect(o.took.n).toBe(count("took") + count("passed") + count("lapsed"));
        }
      }),
    );
  });
});

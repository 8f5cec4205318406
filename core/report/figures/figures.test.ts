import fc from "fast-check";
import { DateTime } from "luxon";
import { describe, expect, it } from "vitest";
import { tarnholt } from "../../../demo/tarnholt.ts";
import { account, offerOf, tryOf } from "../../../tests/support/accounts.ts";
import { atDesk, DAY, HOUR, MIN } from "../../../tests/support/memory.ts";
import { leadsBehind } from "./behind.ts";
import { MOST_TRIES, tellEffort } from "./effort.ts";
import { tellPeople } from "./people.ts";
import { costOf, monthsOf, type Spend, tellSources } from "./sources.ts";
import { handlingOf, tellStaffing } from "./staffing.ts";

const NINE = atDesk("2026-03-04T09:00:00");
const span = { from: NINE - 28 * DAY, to: NINE + DAY, now: NINE + 8 * HOUR };
const never = () => null;

describe("effort", () => {
  it("tells the n-th try of leads not reached before it, and who got in touch themselves stands aside", () => {
    const lead = (tries: number, talkedAtTry: number | null) =>
      account({
        came: NINE,
        tries,
        talkedAtTry,
        triedAt: NINE,
        talkedAt: talkedAtTry === null ? null : NINE,
      });
    const told = tellEffort(
      [lead(1, 1), lead(3, 2), lead(2, null), lead(2, 0), lead(0, null), lead(14, 12)],
      [],
      never,
      span,
      tarnholt,
    );
    expect(told.triesPerLead).toEqual([1, 1, 2, 1, 0, 0, 0, 0, 0, 0, 1]);
    expect(told.nth.slice(0, 3).map(({ reached }) => [reached.hits, reached.n])).toEqual([
      [1, 4],
      [1, 3],
      [0, 1],
    ]);
    const last = told.nth.at(-1)!;
    expect([last.n, last.orMore, last.reached.hits, last.reached.n]).toEqual([MOST_TRIES, true, 1, 1]);
  });

  it("puts calls into the hour of the lead’s own clock", () => {
    const lead = account({ came: NINE, zone: "America/New_York" });
    const at = DateTime.fromISO("2026-03-04T17:30", { zone: "America/New_York" }).toMillis();
    const told = tellEffort([lead], [tryOf({ leadId: lead.leadId, at, reached: 1 })], never, span, tarnholt);
    expect(told.byHour.flatMap((h) => (h.reached.n > 0 ? [[h.key, h.reached.hits]] : []))).toEqual([
      ["17", 1],
    ]);
    expect(told.tries).toBe(1);
    // A zone that is none counts as the desk's: 15:30 in Denver.
    const odd = account({ came: NINE, zone: "Mars/Olympus" });
    const there = tellEffort([odd], [tryOf({ leadId: odd.leadId, at })], never, span, tarnholt);
    expect(there.byHour.flatMap((h) => (h.reached.n > 0 ? [h.key] : []))).toEqual(["15"]);
  });

  it("makes alike what an earlier try is held against: where only the mix differs nothing is left", () => {
    // Easy leads (from the showroom line, 80 of 100 reached) are tried at once, hard ones (20 of 100) late: within each
    // source it does not matter when. Raw, an earlier try seems to be worth a lot.
    const old = NINE - 20 * DAY;
    const lead = (source: string, minutes: number, reached: boolean) =>
      account({
        came: old,
        source,
        triedAt: old + minutes * MIN,
        talkedAt: reached ? old + HOUR : null,
        tries: 1,
      });
    const some = (source: string, minutes: number, n: number, share: number) =>
      Array.from({ length: n }, (_, i) => lead(source, minutes, i < n * share));
    const told = tellEffort(
      [
        ...some("easy", 1, 80, 0.8),
        ...some("easy", 90, 20, 0.8),
        ...some("hard", 1, 20, 0.2),
        ...some("hard", 90, 80, 0.2),
      ],
      [],
      never,
      span,
      tarnholt,
    );
    const [fast, late] = told.reachedBy;
    expect([fast!.raw, late!.raw]).toEqual([0.68, 0.32]);
    expect(fast!.adjusted).toBeCloseTo(0.5, 9);
    expect(late!.adjusted).toBeCloseTo(0.5, 9);
    expect(fast!.low!).toBeLessThan(0.5);
    expect(fast!.high!).toBeGreaterThan(0.5);
  });

  it("judges only leads that had two weeks, and counts a talk later than that as none", () => {
    const old = account({
      came: NINE - 20 * DAY,
      triedAt: NINE - 20 * DAY,
      talkedAt: NINE - 5 * DAY,
      tries: 1,
    });
    const young = account({ came: NINE - DAY, triedAt: NINE - DAY, tries: 1 });
    const told = tellEffort([old, young, account({ came: NINE - 20 * DAY })], [], never, span, tarnholt);
    expect([told.judged, told.neverTried]).toEqual([2, 1]);
    expect(told.reachedBy.map((w) => [w.n, w.hits])).toEqual([[1, 0]]);
  });
});

describe("sources", () => {
  const spend = (more: Partial<Spend>): Spend => ({
    sourceId: "src_barrel",
    campaign: "",
    month: "2026-03",
    amount: 100_000,
    currency: "USD",
    ...more,
  });

  it("sets what was spent against what came, with the bounds of chance", () => {
    // Garwood’s interval of 10 is 4.795 to 18.39 (published tables; value from memory).
    const { each, low, high } = costOf(100_000, 10);
    expect(each).toBe(10_000);
    expect(low!).toBeCloseTo(100_000 / 18.39, -1);
    expect(high!).toBeCloseTo(100_000 / 4.795, -1);
    expect(costOf(100_000, 0)).toMatchObject({ each: null, high: null });
    expect(costOf(null, 3)).toEqual({ each: null, low: null, high: null });
  });

  it("adds up: groups are the whole, whatever they are told by, and other money stands apart", () => {
    const sources = ["src_barrel", "src_site"];
    const lead = fc.record({
      came: fc.integer({ min: span.from, max: span.to - 1 }),
      source: fc.constantFrom(...sources),
      campaign: fc.constantFrom(null, "spring", "x / y"),
      inquiries: fc.integer({ min: 1, max: 4 }),
      talkedAt: fc.constantFrom(null, NINE),
      boughtAt: fc.constantFrom(null, NINE),
    });
    const cost = fc.record({
      sourceId: fc.constantFrom(...sources),
      campaign: fc.constantFrom("", "spring"),
      month: fc.constantFrom("2026-02", "2026-03", "2025-01"),
      amount: fc.integer({ min: 0, max: 1e6 }),
      currency: fc.constantFrom("USD", "CAD"),
    });
    fc.assert(
      fc.property(
        fc.array(lead, { maxLength: 30 }),
        fc.array(cost, { maxLength: 10 }),
        fc.constantFrom("source", "campaign", "month"),
        (leads, spent, by) => {
          const accounts = leads.map((l) =>
            account({ ...l, lastSource: l.source, lastCampaign: l.campaign }),
          );
          const told = tellSources(
            accounts,
            (a) => (a.boughtAt === null ? null : { at: a.boughtAt, value: 700 }),
            spent,
            { ...span, by, attribution: "first" },
            tarnholt,
          );
          const sum = (of: (g: (typeof told.groups)[number]) => number) =>
            told.groups.reduce((all, g) => all + of(g), 0);
          expect(sum((g) => g.leads)).toBe(leads.length);
          expect(sum((g) => g.inquiries)).toBe(leads.reduce((all, l) => all + l.inquiries, 0));
          expect(sum((g) => g.won.hits)).toBe(leads.filter((l) => l.boughtAt !== null).length);
          expect(told.whole.value).toBe(700 * told.whole.won.hits);
          const inSpan = spent.filter((s) => s.month !== "2025-01");
          const money = (currency: string) =>
            inSpan.filter((s) => s.currency === currency).reduce((all, s) => all + s.amount, 0);
          expect(sum((g) => g.spend ?? 0)).toBe(money("USD"));
          expect(told.elsewhere.reduce((all, e) => all + e.amount, 0)).toBe(money("CAD"));
        },
      ),
    );
  });

  it("counts a lead for its first inquiry or its latest, as it is asked", () => {
    const lead = account({ came: NINE, source: "src_site", lastSource: "src_barrel", inquiries: 2 });
    const by = (attribution: "first" | "last") =>
      tellSources([lead], never, [spend({})], { ...span, by: "source", attribution }, tarnholt).groups.map(
        (g) => [g.key, g.leads, g.spend],
      );
    expect(by("first")).toEqual([
      ["src_site", 1, null],
      ["src_barrel", 0, 100_000],
    ]);
    expect(by("last")).toEqual([["src_barrel", 1, 100_000]]);
  });

  it("takes months as the desk’s zone has them", () => {
    // Midnight UTC of 1 March is still February in Denver.
    const at = Date.parse("2026-03-01T00:00:00Z");
    expect(monthsOf({ from: at, to: at + 1 }, "America/Denver")).toEqual(["2026-02"]);
    expect(monthsOf({ from: at, to: at + 40 * DAY }, "America/Denver")).toEqual([
      "2026-02",
      "2026-03",
      "2026-04",
    ]);
  });
});

describe("people", () => {
  it("are held against what anybody would have come to with the same leads", () => {
    // Mara has the hard leads, Luc the easy ones; within each source both do alike. Nobody stands out.
    const some = (person: string, source: string, n: number, share: number) =>
      Array.from({ length: n }, (_, i) =>
        account({ came: NINE, person, source, talkedAt: i < n * share ? NINE : null }),
      );
    const all = [
      ...some("p_mara", "src_barrel", 90, 0.2),
      ...some("p_luc", "src_barrel", 10, 0.2),
      ...some("p_mara", "src_line", 10, 0.9),
      ...some("p_luc", "src_line", 90, 0.9),
    ];
    const told = tellPeople(
      all,
      [],
      () => false,
      () => 3,
      span,
      tarnholt,
    ).people;
    const of = (id: string) => told.find((p) => p.key === id)!;
    expect([of("p_mara").reached.count, of("p_luc").reached.count]).toEqual([27, 83]);
    expect([of("p_mara").reached.expected, of("p_luc").reached.expected].map((x) => Math.round(x))).toEqual([
      27, 83,
    ]);
    expect(of("p_mara").reached.stands).toBe("as expected");
    expect(of("p_mara")).toMatchObject({ given: 100, open: 3 });
  });
  it("says where it is hardly chance, and ranks nobody with nothing", () => {
    const some = (person: string, n: number, hits: number) =>
      Array.from({ length: n }, (_, i) => account({ came: NINE, person, talkedAt: i < hits ? NINE : null }));
    const told = tellPeople(
      [...some("p_mara", 100, 90), ...some("p_luc", 100, 30)],
      [],
      () => false,
      () => 0,
      span,
      tarnholt,
    );
    const of = (id: string) => told.people.find((p) => p.key === id)!;
    expect(of("p_mara").reached.stands).toBe("more, hardly by chance");
    expect(of("p_luc").reached.stands).toBe("fewer, hardly by chance");
    const idle = told.people.find((p) => p.given === 0)!;
    expect(idle.reached).toMatchObject({ count: 0, of: 0, expected: 0, stands: "as expected" });
  });
  it("counts offers of a group’s members", () => {
    const told = tellPeople(
      [],
      [offerOf({ how: "took", at: NINE }), offerOf({ how: "lapsed", at: NINE })],
      () => false,
      () => 0,
      span,
      tarnholt,
    );
    const group = told.groups.find((g) =>
      tarnholt.groups.find((t) => t.id === g.key)!.members.some((m) => m.personId === "p_mara"),
    )!;
    expect([group.asked, group.took.hits, group.took.n]).toEqual([2, 1, 2]);
  });
});

describe("staffing", () => {
  const asked = { ...span, goal: 0.8, minutes: 5, seconds: 360, more: [] };

  it("needs what Erlang’s published example says for such an hour", () => {
    // 200 an hour of 180 s are 10 erlang; 14 keep 88.8 % within 20 s (value from memory), and 13 do not.
    const weeks = (span.now - span.from) / (7 * DAY);
    const came = atDesk("2026-02-25T10:30:00");
    const all = Array.from({ length: Math.round(200 * weeks) }, () => account({ came }));
    const told = tellStaffing(all, [], { ...asked, goal: 0.885, minutes: 20 / 60, seconds: 180 }, tarnholt);
    const wed = told.hours[2 * 24 + 10]!;
    expect(wed.expected).toBeCloseTo(200, 0);
    expect(wed.needed).toBe(14);
    expect(wed.spare).toBe(wed.onDuty - 14);
  });

  it("puts what came while the desk was closed to its next opening", () => {
    const told = tellStaffing([account({ came: atDesk("2026-03-01T20:00:00") })], [], asked, tarnholt);
    // Sunday evening is Monday at eight.
    expect(told.hours[8]).toMatchObject({ came: 1, waiting: 1, open: true });
    expect(told.hours.reduce((sum, h) => sum + h.came, 0)).toBe(1);
  });

  it("has on duty whose hours say so, and what is asked for beside", () => {
    const plain = tellStaffing([], [], asked, tarnholt).hours;
    const more = tellStaffing(
      [],
      [],
      {
        ...asked,
        more: [
          { hour: 58, people: 2 },
          { hour: 57, people: -50 },
        ],
      },
      tarnholt,
    ).hours;
    const sellers = tarnholt.people.filter((p) => p.role === "salesperson" && !p.left);
    // Wednesday at 10:30, by luxon on each one’s own wall.
    const there = sellers.filter(({ hours }) => {
      const at = DateTime.fromISO("2026-03-04T10:30", { zone: "America/Denver" }).setZone(hours.zone);
      const wall = at.toFormat("HH:mm");
      return (hours.week[at.weekday as 1] ?? []).some(([open, close]) => open <= wall && wall < close);
    });
    expect(plain[58]!.onDuty).toBe(there.length);
    expect([more[58]!.onDuty, more[57]!.onDuty]).toEqual([there.length + 2, 0]);
  });

  it("takes handling from calls of its own once there are enough", () => {
    const call = tryOf({ talked: 120_000, wrapped: 60_000 });
    expect(handlingOf(Array.from({ length: 19 }, () => call))).toBeNull();
    expect(handlingOf(Array.from({ length: 20 }, () => call))).toEqual({ seconds: 180, calls: 20 });
    expect(tellStaffing([], [], { ...asked, seconds: null }, tarnholt)).toMatchObject({
      seconds: 360,
      calls: 0,
    });
  });

  it("without leads, weeks or open hours tells no figure that is none", () => {
    const shut = {
      ...tarnholt,
      policies: { ...tarnholt.policies, desk: { ...tarnholt.policies.desk, week: {}, exceptions: {} } },
    };
    for (const setup of [tarnholt, shut])
      for (const all of [[], [account({ came: NINE })]])
        for (const { expected, low, high, within, spare } of tellStaffing(
          all,
          [],
          { ...asked, from: span.now, to: span.now },
          setup,
        ).hours)
          for (const figure of [expected, low, high, within, spare])
            expect(figure === null || Number.isFinite(figure)).toBe(true);
  });
});

describe("the leads behind a figure", () => {
  it("are as many as the figure counts", () => {
    const all = [
      account({
        came: NINE,
        triedAt: NINE,
        talkedAt: NINE,
        dueAt: NINE + 1,
        answeredAt: NINE,
        handedOverAt: NINE,
      }),
      account({ came: NINE + 1, dueAt: NINE + 2, source: "src_barrel" }),
      account({ came: NINE, kept: 1 }),
    ];
    const n = (
      part: Parameters<typeof leadsBehind>[3]["part"],
      by: "source" | null = null,
      key: string | null = null,
    ) => leadsBehind(all, never, () => [], { ...span, part, by, key }, tarnholt).length;
    expect([
      n("all"),
      n("untried"),
      n("in-target"),
      n("late"),
      n("reached"),
      n("qualified"),
      n("won"),
    ]).toEqual([2, 1, 1, 1, 1, 1, 0]);
    expect([n("all", "source", "src_barrel"), n("reached", "source", "src_barrel")]).toEqual([1, 0]);
    // Ten tries stand for more as well; who came at night is work in the hour the desk opens.
    const many = [3, 10, 14].map((tries) => account({ came: NINE, tries }));
    const behind = (list: typeof all, by: "tries" | "work-hour", key: string) =>
      leadsBehind(list, never, () => [], { ...span, part: "all", by, key }, tarnholt).length;
    expect([behind(many, "tries", "3"), behind(many, "tries", "10"), behind(many, "tries", "14")]).toEqual([
      1, 2, 0,
    ]);
    const { hours } = tellStaffing(
      all,
      [],
      { ...span, goal: 0.8, minutes: 5, seconds: 300, more: [] },
      tarnholt,
    );
    for (const { hour, came } of hours)
      expect([hour, behind(all, "work-hour", String(hour))]).toEqual([hour, came]);
    expect(hours.reduce((sum, h) => sum + h.came, 0)).toBe(2);
    // As effort tells them: by try, by how long the first took, by way, by the hour there.
    const old = NINE - 20 * DAY;
    const tried = [
      account({ came: old, tries: 1, talkedAtTry: 1, triedAt: old + 3 * MIN, talkedAt: old + 3 * MIN }),
      account({ came: old, tries: 3, talkedAtTry: 2, triedAt: old + 90 * MIN, talkedAt: old + DAY }),
      account({ came: NINE, tries: 2, triedAt: NINE + MIN }),
      account({ came: NINE, tries: 0, talkedAtTry: 0 }),
    ];
    const tries = tried.flatMap((a, i) => [
      tryOf({ leadId: a.leadId, at: NINE, channel: i === 2 ? "text" : "call", reached: i < 1 ? 1 : 0 }),
      tryOf({ leadId: a.leadId, at: NINE, channel: "call", n: i === 3 ? 0 : 2, reached: i === 1 ? 1 : 0 }),
    ]);
    const effort = tellEffort(tried, tries, never, span, tarnholt);
    const count = (part: "all" | "reached", by: "nth-try" | "delay" | "channel" | "call-hour", key: string) =>
      leadsBehind(tried, never, () => tries, { ...span, part, by, key }, tarnholt).length;
    for (const { n: nth, reached } of effort.nth)
      expect([nth, count("all", "nth-try", String(nth)), count("reached", "nth-try", String(nth))]).toEqual([
        nth,
        reached.n,
        reached.hits,
      ]);
    for (const { group, n: of, hits } of effort.reachedBy)
      expect([group, count("all", "delay", group), count("reached", "delay", group)]).toEqual([
        group,
        of,
        hits,
      ]);
    expect([count("all", "channel", "text"), count("all", "channel", "call")]).toEqual([1, 4]);
    expect([count("all", "call-hour", "9"), count("reached", "call-hour", "9")]).toEqual([4, 2]);
    expect(count("all", "call-hour", "10")).toBe(0);
    // The latest first.
    expect(
      leadsBehind(all, never, () => [], { ...span, part: "all", by: null, key: null }, tarnholt)[0],
    ).toBe(all[1]);
  });
});

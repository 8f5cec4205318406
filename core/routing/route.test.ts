import fc from "fast-check";
import { beforeEach, describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { foldAll } from "../lead/fold.ts";
import type { Lead, LeadFacts } from "../lead/lead.ts";
import type { Group, GroupWay } from "../policy/people.ts";
import type { Rule } from "../policy/routing.ts";
import type { Setup } from "../policy/setup.ts";
import { whyNotEligible } from "./eligible.ts";
import { type RoutingWorld, route } from "./route.ts";

const NINE = Date.parse("2026-03-04T16:00:00Z");

/** A lead as its first inquiry makes it. */
function lead(facts: Partial<LeadFacts> = {}, more: Partial<Lead> = {}): Lead {
  const said = {
    name: "Ana",
    emails: [],
    phones: ["+13035550100"],
    company: null,
    product: null,
    value: null,
    message: null,
    postalCode: null,
    territory: null,
    zone: null,
    language: null,
    answers: {},
    tags: [],
  };
  const first = foldAll([
    {
      id: "e1",
      leadId: "l1",
      seq: 1,
      actId: "a1",
      at: NINE,
      actor: { kind: "lead" },
      kind: "inquiry",
      data: {
        inquiryId: "i1",
        sourceId: "src_site",
        channel: "website",
        facts: said,
        match: "new",
        on: null,
      },
    },
  ])!;
  return { ...first, facts: { ...first.facts, ...facts }, ...more };
}

let world: RoutingWorld;
beforeEach(() => {
  world = { now: NINE, setup: tarnholt, loads: {}, today: {}, rotations: {}, household: () => [] };
});
const withGroup = (group: Partial<Group>): Setup => ({
  ...tarnholt,
  groups: tarnholt.groups.map((g) => (g.id === "g_homes" ? { ...g, ...group } : g)),
});

describe("rules", () => {
  it.each([
    [{ product: "lodge" }, "Lodge packages"],
    [{ language: "fr" }, "French speakers"],
    [{ product: "lodge", language: "fr" }, "Lodge packages"],
    [{ product: "barrel" }, "Everybody else"],
  ])("%j goes by “%s”", (facts, name) => {
    const decision = route(world, lead(facts));
    expect(decision.kind === "offer" && decision.rule.name).toBe(name);
  });
  it("trace every rule asked, with what kept it from holding", () => {
    const { trace } = route(world, lead({ product: "barrel" }));
    expect(trace.steps.filter((s) => s.kind === "rule")).toEqual([
      {
        kind: "rule",
        name: "Lodge packages",
        result: "no",
        reason: "needs product is Lodge package, but it is Barrel sauna",
      },
      {
        kind: "rule",
        name: "French speakers",
        result: "no",
        reason: "needs language is French, but it is English",
      },
      { kind: "rule", name: "Everybody else", result: "yes", reason: "fits every lead" },
    ]);
  });
  it("that name one person offer to them", () => {
    const rules = [{ id: "r", name: "To Hanne", when: null, to: { person: "p_hanne" }, offerMinutes: 2 }];
    const decision = route(
      { ...world, setup: { ...tarnholt, policies: { ...tarnholt.policies, rules } } },
      lead(),
    );
    expect(decision).toMatchObject({ kind: "offer", to: ["p_hanne"], rotation: null });
  });
  it("that fit nobody leave it to standby, and without standby to the list", () => {
    const policies = { ...tarnholt.policies, rules: [] };
    expect(route({ ...world, setup: { ...tarnholt, policies } }, lead())).toMatchObject({
      kind: "standby",
      to: "p_tomasz",
      reason: "no rule fits this lead",
    });
    expect(
      route({ ...world, setup: { ...tarnholt, policies: { ...policies, standby: [] } } }, lead()),
    ).toMatchObject({ kind: "list", retryAt: null });
  });
});

describe("ways of choosing", () => {
  it("rotation goes to whoever's turn it is, and says where it stands before and after", () => {
    const decision = route(world, lead());
    expect(decision).toMatchObject({
      kind: "offer",
      to: ["p_mara"],
      rotation: { groupId: "g_homes", turn: { personId: "p_mara" }, before: {} },
    });
    const after = decision.kind === "offer" ? decision.rotation!.after : {};
    expect(route({ ...world, rotations: { g_homes: after } }, lead())).toMatchObject({ to: ["p_idris"] });
  });
  it("fewest open goes to the one with the lightest load", () => {
    const loads = { p_mara: 3, p_idris: 1, p_noor: 2, p_luc: 9, p_emeka: 4, p_sol: 5 };
    const decision = route(
      { ...world, setup: withGroup({ way: "fewest-open" satisfies GroupWay }), loads },
      lead(),
    );
    expect(decision).toMatchObject({ to: ["p_idris"] });
    expect(decision.trace.steps.find((s) => s.kind === "choice")).toMatchObject({
      reason: "holds the fewest open leads (1)",
    });
  });
  it("open call goes to everybody who can have it", () => {
    const decision = route({ ...world, setup: withGroup({ way: "open-call" }) }, lead());
    expect(decision).toMatchObject({
      kind: "offer",
      open: true,
      to: ["p_mara", "p_idris", "p_noor", "p_luc", "p_emeka", "p_sol"],
    });
  });
});

describe("who can have it", () => {
  const person = (id: string) => tarnholt.people.find((p) => p.id === id)!;
  it.each([
    ["p_mara", {}, {}, {}, null],
    ["p_yuki", {}, {}, {}, "away: parental leave until 16 March"],
    ["p_mara", {}, { refused: ["p_mara"] }, {}, "passed on it already, or let it lapse"],
    ["p_sol", {}, {}, { p_sol: 6 }, "holds 6 open leads, the most they may"],
    ["p_sol", {}, {}, { p_sol: 5 }, null],
    ["p_mara", { product: "lodge" }, {}, {}, "does not sell Lodge package"],
    ["p_mara", { language: "fr" }, {}, {}, "does not speak French"],
    ["p_luc", { language: "fr" }, {}, {}, null],
  ])("%s, %j %j %j: %s", (id, facts, more, loads, reason) => {
    expect(
      whyNotEligible(person(id), lead(facts, more), { ...world, loads: loads as Record<string, number> }),
    ).toBe(reason);
  });
  it("by territory, where somebody has territories", () => {
    const local = { ...person("p_mara"), territories: ["lakes"] };
    expect(whyNotEligible(local, lead({ territory: "cascades" }), world)).toBe("does not cover Cascades");
    expect(whyNotEligible(local, lead({ territory: "lakes" }), world)).toBeNull();
    expect(whyNotEligible(local, lead(), world)).toBeNull();
  });
  it("is not asked about fit when somebody has decided by hand", () => {
    expect(
      whyNotEligible(person("p_mara"), lead({ product: "lodge", language: "fr" }), world, true),
    ).toBeNull();
  });
});

describe("a rule that comes to nothing", () => {
  const rules = (...list: Partial<Rule>[]): Setup => ({
    ...tarnholt,
    policies: {
      ...tarnholt.policies,
      rules: list.map((r, i) => ({
        id: `r${i}`,
        name: `Rule ${i}`,
        when: null,
        to: { group: "g_lodges" },
        offerMinutes: 3,
        ...r,
      })),
    },
  });
  const nobodyThere = { refused: ["p_hanne", "p_ravi"] };
  const decide = (setup: Setup, more: Partial<Lead> = {}) => route({ ...world, setup }, lead({}, more));
  it("goes to standby unless it says otherwise, and the next rules are not asked", () => {
    const decision = decide(rules({}, { to: { person: "p_mara" } }), nobodyThere);
    expect(decision).toMatchObject({ kind: "standby", to: "p_tomasz" });
    expect(decision.trace.steps.map((s) => `${s.kind} ${s.result}`)).toEqual([
      "rule yes",
      "candidate no",
      "candidate no",
      "standby yes",
    ]);
  });
  it("goes to the manager's list, past standby", () => {
    expect(decide(rules({ otherwise: "list" }), nobodyThere)).toMatchObject({ kind: "list", retryAt: null });
  });
  it("hands on to the next rules, and says so", () => {
    const decision = decide(rules({ otherwise: "onward" }, { to: { person: "p_mara" } }), nobodyThere);
    expect(decision).toMatchObject({ kind: "offer", to: ["p_mara"] });
    expect(decision.trace.steps.find((s) => s.reason.includes("the next rules are asked"))).toBeDefined();
  });
  it("is not asked when it is switched off", () => {
    expect(decide(rules({ off: true }, { to: { person: "p_mara" } }))).toMatchObject({ to: ["p_mara"] });
  });
  it("walks passes to standby, then to the list", () => {
    const all = ["p_hanne", "p_ravi", "p_tomasz", "p_greta"];
    expect(decide(rules({}), { refused: all })).toMatchObject({ kind: "list" });
    expect(decide(rules({}), { refused: all.slice(0, 3) })).toMatchObject({ kind: "standby", to: "p_greta" });
  });
  it("previous owner counts within so many days, and only then", () => {
    const to = { formerWithin: 30 };
    const days = (n: number) => ({ lastOwner: { personId: "p_sol", at: NINE - n * 86_400_000 } });
    const setup = rules({ to, otherwise: "onward" }, { to: { person: "p_mara" } });
    expect(decide(setup, days(29))).toMatchObject({ to: ["p_sol"] });
    expect(decide(setup, days(31))).toMatchObject({ to: ["p_mara"] });
    expect(decide(setup)).toMatchObject({ to: ["p_mara"] });
  });
  it("the credit holder is asked when there is one", () => {
    const setup = rules({ to: { credit: true }, otherwise: "onward" }, { to: { person: "p_mara" } });
    expect(decide(setup, { creditId: "p_noor" })).toMatchObject({ to: ["p_noor"] });
    expect(decide(setup)).toMatchObject({ to: ["p_mara"] });
  });
});

describe("further ways", () => {
  it("best match prefers who sells little else, covers the place and speaks the language; then who holds less", () => {
    const setup = withGroup({ way: "best-match" });
    const people = setup.people.map((p) =>
      p.id === "p_idris"
        ? { ...p, products: ["barrel"] }
        : p.id === "p_noor"
          ? { ...p, territories: ["lakes"] }
          : p,
    );
    const ask = (facts: Partial<LeadFacts>, loads = {}) =>
      route({ ...world, setup: { ...setup, people }, loads }, lead(facts));
    expect(ask({ product: "barrel" })).toMatchObject({ to: ["p_idris"] });
    expect(ask({ product: "plunge", territory: "lakes" })).toMatchObject({ to: ["p_noor"] });
    expect(
      ask({ product: "plunge" }, { p_mara: 4, p_noor: 3, p_luc: 1, p_emeka: 2, p_sol: 3 }),
    ).toMatchObject({
      to: ["p_luc"],
    });
  });
  it("a rule may ask a group in another way than usual", () => {
    const rule: Rule = {
      id: "r",
      name: "All",
      when: null,
      to: { group: "g_homes", way: "open-call" },
      offerMinutes: 2,
    };
    const setup = { ...tarnholt, policies: { ...tarnholt.policies, rules: [rule] } };
    expect(route({ ...world, setup }, lead())).toMatchObject({ open: true });
  });
  it("a daily ceiling counts what somebody has got today", () => {
    const people = tarnholt.people.map((p) => (p.id === "p_mara" ? { ...p, perDay: 3 } : p));
    const setup = { ...tarnholt, people };
    const ask = (n: number) => route({ ...world, setup, today: { p_mara: n } }, lead());
    expect(ask(2)).toMatchObject({ to: ["p_mara"] });
    expect(ask(3)).toMatchObject({ to: ["p_idris"] });
    expect(ask(3).trace.steps.find((s) => s.name === "Mara Whitehorse")?.reason).toBe(
      "has got 3 leads today, the most they may",
    );
  });
  it("a household stays together while that is the policy", () => {
    const household = () => [{ leadName: "Jo Ruiz", ownerId: "p_sol" }];
    expect(route({ ...world, household }, lead())).toMatchObject({ to: ["p_sol"] });
    const policies = { ...tarnholt.policies, setAside: { keepOwner: true, household: false } };
    expect(route({ ...world, household, setup: { ...tarnholt, policies } }, lead())).toMatchObject({
      to: ["p_mara"],
    });
  });
  it("whoever left is nobody any more", () => {
    const people = tarnholt.people.map((p) => (p.id === "p_mara" ? { ...p, left: true as const } : p));
    expect(route({ ...world, setup: { ...tarnholt, people } }, lead())).toMatchObject({ to: ["p_idris"] });
  });
  it("the same inputs always give the same decision, and silence changes nothing but the words", () => {
    const facts = fc.record({
      product: fc.constantFrom("lodge", "barrel", null),
      language: fc.constantFrom("en", "fr", "es"),
      territory: fc.constantFrom("lakes", "quebec", null),
    });
    const counts = fc.dictionary(fc.constantFrom("p_mara", "p_sol", "p_luc", "p_hanne"), fc.nat({ max: 9 }));
    fc.assert(
      fc.property(
        facts,
        counts,
        counts,
        fc.subarray(["p_mara", "p_luc", "p_ravi"]),
        (f, loads, standing, refused) => {
          const at = { ...world, loads, rotations: { g_homes: standing } };
          const one = lead(f as Partial<LeadFacts>, { refused });
          const { trace: _, ...decision } = route(at, one);
          const { trace: __, ...again } = route(at, one);
          const { trace: ___, ...silent } = route(at, one, true);
          expect(again).toEqual(decision);
          expect(silent).toEqual(decision);
        },
      ),
    );
  });
});

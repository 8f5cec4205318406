import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { namesIn } from "../lead/fields.ts";
import type { Person } from "../policy/people.ts";
import type { Rule, RuleSet } from "../policy/routing.ts";
import type { Setup } from "../policy/setup.ts";
import { holes } from "../policy/week.ts";
import { ruleSentence } from "../routing/sentence.ts";
import { type RuleWarning, warningsOf } from "../routing/warnings.ts";
import { alterations } from "./audit.ts";
import type { Changed } from "./change.ts";
import { removeGroup, removePerson, saveGroup, savePerson } from "./change-people.ts";
import { changeTurns, draftRules, dropDraft, publishRules } from "./change-routing.ts";

const NOW = Date.parse("2026-03-04T16:00:00Z");
const { rules, setAside } = tarnholt.policies;
const live: RuleSet = { rules, setAside };
const rule = (more: Partial<Rule> = {}): Rule => ({
  id: "r_new",
  name: "New",
  when: null,
  to: { group: "g_homes" },
  offerMinutes: 5,
  ...more,
});
const done = (changed: Changed): Setup => {
  if (!changed.ok) throw new Error(changed.problem.detail);
  return changed.setup;
};
const why = (changed: Changed) =>
  changed.ok ? null : (changed.problem.errors?.[0]?.path ?? changed.problem.title);
const publish = (...list: Rule[]) =>
  publishRules(done(draftRules(tarnholt, { ...live, rules: list }, "p_ines", NOW)), "p_greta", NOW);

describe("rules", () => {
  it("are drafted without effect, published as the next version, and thrown away", () => {
    const drafted = done(draftRules(tarnholt, { ...live, rules: [rule()] }, "p_ines", NOW));
    expect(drafted.policies.rules).toBe(tarnholt.policies.rules);
    expect(drafted.policies.routing.draft).toMatchObject({ by: "p_ines", at: NOW });
    const published = done(publishRules(drafted, "p_greta", NOW + 1));
    expect(published.policies).toMatchObject({
      rules: [{ name: "New" }],
      routing: { version: 2, by: "p_greta", draft: null },
    });
    expect(done(dropDraft(drafted)).policies.routing.draft).toBeNull();
    expect(why(publishRules(tarnholt, "p_greta", NOW))).toBe("Nothing to publish");
  });
  it.each<[string, Rule[]]>([
    ["rules.0.name", [rule({ name: " " })]],
    ["rules.1.name", [rule(), rule({ id: "r_2", name: "new" })]],
    ["rules.0.offerMinutes", [rule({ offerMinutes: 0 })]],
    ["rules.0.to", [rule({ to: { group: "gone" } })]],
    ["rules.0.to", [rule({ to: { person: "gone" } })]],
    ["rules.0.to", [rule({ to: { formerWithin: 0 } })]],
    ["rules.0.when.field", [rule({ when: { field: "own.gone", is: "known" } })]],
    ["rules.0.when.is", [rule({ when: { field: "product", is: "at-least", value: 3 } })]],
    [
      "rules.0.when.all.0.value",
      [rule({ when: { all: [{ field: "value", is: "at-least", value: "many" }] } })],
    ],
    ["rules.0.when.value", [rule({ when: { field: "time-of-day", is: "between", value: ["8", "12"] } })]],
    ["rules.0.when.value", [rule({ when: { field: "first-came", is: "from", value: "yesterday" } })]],
    ["rules.0.when.any.0", [rule({ when: { any: [{ all: [] }] } })]],
    ["rules", [rule({ off: true })]],
  ])("can't be published with %s wrong", (path, list) => expect(why(publish(...list))).toBe(path));
  it("read like sentences", () => {
    const known = { ...tarnholt, names: namesIn(tarnholt) };
    expect(tarnholt.policies.rules.map((r) => ruleSentence(known, r))[0]).toBe(
      "When product is Lodge package, offer to Lodges by strict rotation, 3 min each, then whoever is on standby.",
    );
    expect(ruleSentence(known, rule({ to: { formerWithin: 30 }, clock: "wall", otherwise: "onward" }))).toBe(
      "Offer every lead to whoever had it within the last 30 days, 5 plain min, then the next rules are asked.",
    );
  });
  it("turns, standby and reasons are checked", () => {
    const { turns, standby, passReasons } = tarnholt.policies;
    expect(why(changeTurns(tarnholt, { turns, standby: ["gone"], passReasons }))).toBe("standby.0");
    expect(why(changeTurns(tarnholt, { turns, standby, passReasons: [" "] }))).toBe("passReasons");
    expect(
      done(changeTurns(tarnholt, { turns, standby, passReasons: ["A ", "A"] })).policies.passReasons,
    ).toEqual(["A"]);
  });
});

describe("warnings", () => {
  const of = (list: Rule[], setup: Setup = tarnholt) => warningsOf(setup, { ...live, rules: list }, NOW);
  const kinds = (list: RuleWarning[]) => list.map((w) => w.kind);
  const lodge = { field: "product", is: "equal", value: "lodge" } as const;
  it("the demo's own rules have none but that nobody sells French on Saturdays", () => {
    expect(kinds(of([...rules])).filter((k) => k !== "hole")).toEqual([]);
  });
  it("a rule behind one that always takes what fits it can never fire, with the one before it named", () => {
    const list = [rule({ id: "a", name: "All" }), rule({ id: "b", name: "Lodges", when: lodge })];
    expect(of(list)).toContainEqual({ kind: "never", ruleId: "b", behind: "All" });
    expect(kinds(of([list[1]!, list[0]!]))).not.toContain("never");
    expect(kinds(of([{ ...list[0]!, otherwise: "onward" }, list[1]!]))).not.toContain("never");
    expect(kinds(of([{ ...list[0]!, off: true }, list[1]!]))).not.toContain("never");
  });
  it("also behind two that take it together", () => {
    const list = [
      rule({ id: "a", name: "Lodges", when: lodge }),
      rule({ id: "b", name: "Rest", when: { none: [lodge] } }),
      rule({ id: "c", name: "Texts", when: { field: "channel", is: "equal", value: "text" } }),
    ];
    expect(of(list)).toContainEqual({ kind: "never", ruleId: "c", behind: null });
  });
  it("says so when it hangs on what leads write", () => {
    const says = (value: string) => ({ field: "message", is: "contains", value }) as const;
    const list = [
      rule({ id: "a", name: "A", when: says("spa") }),
      rule({ id: "b", name: "B", when: says("s") }),
    ];
    expect(of(list)).toContainEqual({ kind: "unproved", ruleId: "b" });
  });
  it("names empty groups, hours without anybody, people in no rule and sources that reach none", () => {
    const setup: Setup = {
      ...tarnholt,
      groups: [
        ...tarnholt.groups,
        { id: "g_none", name: "None", way: "rotation", members: [] },
        { id: "g_emeka", name: "Part-time", way: "rotation", members: [{ personId: "p_emeka", weight: 1 }] },
      ],
    };
    const warnings = of(
      [
        rule({ when: lodge, to: { group: "g_none" } }),
        rule({ id: "r2", name: "R2", when: lodge, to: { group: "g_emeka" } }),
      ],
      setup,
    );
    expect(warnings).toContainEqual({ kind: "empty", ruleId: "r_new" });
    expect(warnings.find((w) => w.kind === "hole")).toMatchObject({ groupId: "g_emeka" });
    expect(warnings).toContainEqual({ kind: "in-no-rule", personId: "p_mara" });
    expect(warnings).toContainEqual({ kind: "no-rule", sourceId: "src_barrel" });
  });
});

describe("holes", () => {
  it("are desk hours nobody of the group works, cut to the minute", () => {
    const group = {
      id: "g",
      name: "G",
      way: "rotation" as const,
      members: [{ personId: "p_luc", weight: 1 }],
    };
    // Luc works 9 to 20 in Halifax, which is 6 to 17 at the desk: the last desk hour is without him.
    const [hole] = holes(
      tarnholt,
      group,
      Date.parse("2026-03-04T07:00:00Z"),
      Date.parse("2026-03-05T07:00:00Z"),
    );
    expect(hole).toEqual({
      from: Date.parse("2026-03-05T00:00:00Z"),
      to: Date.parse("2026-03-05T01:00:00Z"),
    });
  });
});

describe("people and groups", () => {
  const mara = tarnholt.people.find((p) => p.id === "p_mara")!;
  const save = (more: Partial<Person>) => savePerson(tarnholt, { ...mara, ...more });
  it.each<[string, Partial<Person>]>([
    ["name", { name: "" }],
    ["email", { email: "mara" }],
    ["email", { email: "idris@tarnholt.example" }],
    ["phone", { phone: "12" }],
    ["ceiling", { ceiling: -1 }],
    ["perDay", { perDay: 1.5 }],
    ["hours.zone", { hours: { zone: "Mars/Olympus", week: {} } }],
    ["hours.week.1.0", { hours: { zone: "UTC", week: { 1: [["9", "17:00"]] } } }],
    ["hours.week.1.0", { hours: { zone: "UTC", week: { 1: [["17:00", "09:00"]] } } }],
    [
      "hours.week.1.1",
      {
        hours: {
          zone: "UTC",
          week: {
            1: [
              ["09:00", "12:00"],
              ["11:00", "13:00"],
            ],
          },
        },
      },
    ],
    ["absences.0.to", { absences: [{ from: 2, to: 1, reason: "x", coverId: null }] }],
    ["absences.0.coverId", { absences: [{ from: 1, to: 2, reason: "x", coverId: "p_mara" }] }],
    ["absences.0.coverId", { absences: [{ from: 1, to: 2, reason: "x", coverId: "gone" }] }],
  ])("%s is checked: %j", (path, more) => expect(why(save(more))).toBe(path));
  it("the last administrator stays one", () => {
    const oskar = tarnholt.people.find((p) => p.id === "p_oskar")!;
    expect(why(savePerson(tarnholt, { ...oskar, role: "manager" }))).toBe("role");
    expect(why(removePerson(tarnholt, "p_oskar"))).toBe("role");
  });
  it("whoever leaves is out of every group, but not while a rule or standby needs them", () => {
    const without = done(removePerson(tarnholt, "p_mara"));
    expect(without.people.find((p) => p.id === "p_mara")?.left).toBe(true);
    expect(without.groups.flatMap((g) => g.members.map((m) => m.personId))).not.toContain("p_mara");
    expect(why(removePerson(tarnholt, "p_tomasz"))).toBe("Still needed");
    expect(why(removePerson(without, "p_mara"))).toBe("Nobody by that id");
  });
  it("groups are checked, and kept while a rule offers to them", () => {
    const group = {
      id: "",
      name: "New",
      way: "weighted" as const,
      members: [{ personId: "p_mara", weight: 2 }],
    };
    expect(done(saveGroup(tarnholt, { ...group, id: "g_x" })).groups).toHaveLength(4);
    expect(why(saveGroup(tarnholt, { ...group, name: "homes" }))).toBe("name");
    expect(why(saveGroup(tarnholt, { ...group, members: [{ personId: "gone", weight: 1 }] }))).toBe(
      "members.0",
    );
    expect(why(saveGroup(tarnholt, { ...group, members: [{ personId: "p_mara", weight: -1 }] }))).toBe(
      "members.0.weight",
    );
    expect(why(saveGroup(tarnholt, { ...group, members: [...group.members, ...group.members] }))).toBe(
      "members.1",
    );
    expect(why(removeGroup(tarnholt, "g_homes"))).toBe("It is in use");
    expect(why(removeGroup(tarnholt, "gone"))).toBe("No such group");
  });
});

describe("the audit list", () => {
  it("names what differs, and only that; secrets are not shown", () => {
    const after = done(savePerson(tarnholt, { ...tarnholt.people[2]!, ceiling: 5 }));
    expect(alterations(tarnholt, after)).toEqual([
      { what: "person Mara Whitehorse", before: { ceiling: null }, after: { ceiling: 5 } },
    ]);
    const source = { ...tarnholt.sources[1]!, signingSecret: "whsec_new" };
    const secret = alterations(tarnholt, {
      ...tarnholt,
      sources: tarnholt.sources.map((s) => (s.id === source.id ? source : s)),
    });
    expect(JSON.stringify(secret)).not.toContain("whsec_");
    expect(alterations(tarnholt, tarnholt)).toEqual([]);
    expect(alterations(tarnholt, { ...tarnholt, groups: [] })).toHaveLength(3);
  });
});

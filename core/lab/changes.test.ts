import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import type { Setup } from "../policy/setup.ts";
import { changeSaid, isOfRules, type LabChange, setupWith, withChanges } from "./changes.ts";
import { type Behaviour, USUAL_HABITS } from "./habits.ts";

const [rule] = tarnholt.policies.rules;
const [group] = tarnholt.groups;
const [ladder] = tarnholt.policies.ladders;
const [target] = tarnholt.policies.targets;
const cadence = tarnholt.policies.cadences.find((c) => c.live)!;
const behaviour: Behaviour = {
  people: new Map([["p_mara", { ...USUAL_HABITS, takes: 0.9, passes: 0.05 }]]),
  others: USUAL_HABITS,
  leads: { reached: [0.4, 0.8], won: 0.1 },
  outcomes: { reached: "reached", missed: "voicemail" },
};
const made = (...changes: LabChange[]) => {
  const answer = withChanges({ setup: tarnholt, behaviour }, changes, "b");
  if (!answer.ok) throw new Error(answer.problem.detail);
  return answer.world;
};
const refused = (...changes: LabChange[]) => {
  const answer = withChanges({ setup: tarnholt, behaviour }, changes, "b");
  return answer.ok ? null : answer.problem.errors?.[0]?.path;
};
const personIn = ({ people }: Setup, id: string) => people.find((p) => p.id === id)!;

/** Each kind of change, what it is said as, and what then holds. */
const EACH: readonly [LabChange, string, (world: ReturnType<typeof made>) => unknown, unknown][] = [
  [
    { kind: "offer", ruleId: rule!.id, minutes: 9 },
    `“${rule!.name}” gives each 9 minutes to take it`,
    (w) => w.setup.policies.rules[0]!.offerMinutes,
    9,
  ],
  [
    { kind: "way", groupId: group!.id, way: "open-call" },
    `${group!.name}: open call`,
    (w) => w.setup.groups[0]!.way,
    "open-call",
  ],
  [
    { kind: "weight", groupId: group!.id, personId: "p_mara", weight: 0 },
    `Mara Whitehorse is not in ${group!.name}`,
    (w) => w.setup.groups[0]!.members.some((m) => m.personId === "p_mara"),
    false,
  ],
  [
    { kind: "target", targetId: target!.id, minutes: 1 },
    `Target “${target!.name}”: 1 minute`,
    (w) => w.setup.policies.targets[0]!.minutes,
    1,
  ],
  [
    { kind: "rung", ladderId: ladder!.id, n: 1, fraction: 0.25 },
    `Rung 1 of “${ladder!.name}” at 25 % of the target`,
    (w) => w.setup.policies.ladders[0]!.rungs[0]!.fraction,
    0.25,
  ],
  [
    { kind: "hours", personId: "p_mara", days: [6], span: ["09:00", "13:00"] },
    "Mara Whitehorse, Sat: 09:00 to 13:00",
    (w) => personIn(w.setup, "p_mara").hours.week[6],
    [["09:00", "13:00"]],
  ],
  [
    { kind: "desk", days: [1, 2, 3, 4, 5, 6, 7], span: null },
    "The desk, every day: closed",
    (w) => Object.values(w.setup.policies.desk.week).flat(),
    [],
  ],
  [
    { kind: "away", personId: "p_mara" },
    "Without Mara Whitehorse",
    (w) => personIn(w.setup, "p_mara").left,
    true,
  ],
  [
    { kind: "ceiling", personId: "p_mara", open: 3 },
    "Mara Whitehorse holds 3 open leads at most",
    (w) => personIn(w.setup, "p_mara").ceiling,
    3,
  ],
  [
    { kind: "cadence", cadenceId: cadence.id, run: "off" },
    `Without the cadence “${cadence.live!.name}”`,
    (w) => w.setup.policies.cadences.find((c) => c.id === cadence.id)!.live,
    null,
  ],
  [
    { kind: "reply", channel: "text", on: false, delayMinutes: 0 },
    "No first replies by text",
    (w) => w.setup.policies.replies.usual.text.on,
    false,
  ],
  [
    { kind: "reach", times: 1.5 },
    "Tries reach 1.5 times as often",
    (w) => w.behaviour.leads.reached.map((share) => Math.round(share * 100) / 100),
    [0.6, 1],
  ],
  [
    { kind: "habits", personId: "p_mara", takes: 1, passes: null, answerMinutes: 2, handlingMinutes: null },
    "Mara Whitehorse: takes 100 % of offers, answers after 2 minutes",
    (w) => w.behaviour.people.get("p_mara"),
    { ...USUAL_HABITS, takes: 1, passes: 0, answersAfter: [120_000] },
  ],
];

describe("changes in the lab", () => {
  it.each(EACH)(
    "%j is said and made, and nothing of the live set-up moves",
    (change, said, look, expected) => {
      const before = JSON.stringify(tarnholt);
      expect(changeSaid(change, tarnholt)).toBe(said);
      expect(look(made(change))).toEqual(expected);
      expect(JSON.stringify(tarnholt)).toBe(before);
    },
  );

  it("one more like somebody is in their groups, acts as they do, and is there on the days that are named", () => {
    const { setup, behaviour: acts } = made({
      kind: "more",
      like: "p_mara",
      days: [6],
      span: ["10:00", "14:00"],
    });
    const one = setup.people.at(-1)!;
    expect(one).toMatchObject({
      name: "One more like Mara Whitehorse",
      ceiling: personIn(tarnholt, "p_mara").ceiling,
    });
    expect(one.hours.week[6]).toEqual([["10:00", "14:00"]]);
    expect(one.hours.week[1]).toEqual([]);
    const groupsOf = (id: string) =>
      setup.groups.filter((g) => g.members.some((m) => m.personId === id)).map((g) => g.id);
    expect(groupsOf(one.id)).toEqual(groupsOf("p_mara"));
    expect(acts.people.get(one.id)).toEqual(behaviour.people.get("p_mara"));
    // A second one is another person.
    const two = made(
      { kind: "more", like: "p_mara", days: [6], span: null },
      { kind: "more", like: "p_mara", days: [7], span: null },
    ).setup.people;
    expect(new Set(two.map((p) => p.id)).size).toBe(two.length);
    expect(two.at(-2)!.hours.week[6]).toEqual(personIn(tarnholt, "p_mara").hours.week[6] ?? undefined);
  });

  it("everybody can act otherwise at once, those the record knows nothing of too", () => {
    const { behaviour: acts } = made({
      kind: "habits",
      personId: null,
      takes: null,
      passes: null,
      answerMinutes: null,
      handlingMinutes: 3,
    });
    expect([acts.others.handling, acts.people.get("p_mara")!.handling]).toEqual([180_000, 180_000]);
    expect(acts.people.get("p_mara")!.takes).toBe(0.9);
  });

  it("what is not there can't be changed, and is named by its place; a ladder keeps its bell", () => {
    expect(refused({ kind: "away", personId: "nobody" })).toBe("b.0");
    expect(
      refused(
        { kind: "reach", times: 2 },
        { kind: "weight", groupId: group!.id, personId: "nobody", weight: 1 },
      ),
    ).toBe("b.1");
    const ring = ladder!.rungs.findIndex((r) => r.act === "ring") + 1;
    expect(refused({ kind: "rung", ladderId: ladder!.id, n: ring, fraction: null })).toBe("b.0");
    expect(refused({ kind: "rung", ladderId: ladder!.id, n: 99, fraction: 1 })).toBe("b.0");
    for (const gone of [
      { kind: "offer", ruleId: "x", minutes: 1 },
      { kind: "target", targetId: "x", minutes: 1 },
      { kind: "cadence", cadenceId: "x", run: "off" },
      { kind: "more", like: "x", days: [1], span: null },
      { kind: "hours", personId: "x", days: [1], span: null },
    ] satisfies LabChange[])
      expect([gone.kind, refused(gone)]).toEqual([gone.kind, "b.0"]);
  });

  it("rules that could not be published can't be run, and only rules can become a draft", () => {
    const { rules, setAside } = tarnholt.policies;
    const broken = { rules: [{ ...rules[0]!, to: { group: "nowhere" } }], setAside };
    expect(refused({ kind: "rules", ruleSet: broken, of: "draft" })).toBe("b.0");
    const sound: LabChange = { kind: "rules", ruleSet: { rules: rules.slice(0, 1), setAside }, of: 3 };
    expect(changeSaid(sound, tarnholt)).toBe("The rules of version 3");
    const set = setupWith(tarnholt, [sound, { kind: "offer", ruleId: rules[0]!.id, minutes: 7 }], "a");
    expect(set.ok && set.setup.policies.rules.map((r) => r.offerMinutes)).toEqual([7]);
    expect([isOfRules(sound), isOfRules({ kind: "reach", times: 1 })]).toEqual([true, false]);
  });
});

import { DateTime } from "luxon";
import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { calendarAround, namesApart, nextOnDuty, presence } from "./people.ts";
import { nameOf, personOf } from "./setup.ts";

const zone = "America/Denver";
const at = (iso: string) => DateTime.fromISO(iso, { zone }).toMillis();
const iso = (ms: number | null) => ms && DateTime.fromMillis(ms, { zone }).toFormat("ccc dd HH:mm");
const person = (id: string) => personOf(tarnholt, id)!;

describe("who is on duty", () => {
  it.each([
    ["p_mara", "2026-03-04T09:00", true],
    ["p_mara", "2026-03-04T07:29", false],
    ["p_mara", "2026-03-07T10:00", true],
    ["p_mara", "2026-03-08T10:00", false],
    // Part-time: Tuesday to Thursday.
    ["p_emeka", "2026-03-04T09:00", true],
    ["p_emeka", "2026-03-06T09:00", false],
    // Halifax time: 9:00 there is 6:00 at the desk.
    ["p_luc", "2026-03-04T06:00", true],
    ["p_luc", "2026-03-04T17:30", false],
    // On leave until 16 March.
    ["p_yuki", "2026-03-04T09:00", false],
    ["p_yuki", "2026-03-16T09:00", true],
  ])("%s at %s: %s", (id, when, there) => expect(presence(person(id), at(when)).onDuty).toBe(there));

  it("says why not", () => {
    expect(presence(person("p_yuki"), at("2026-03-04T09:00"))).toMatchObject({
      because: "away: parental leave until 16 March",
    });
    expect(presence({ ...person("p_mara"), offDuty: true }, at("2026-03-04T09:00"))).toMatchObject({
      because: "went off duty",
    });
    expect(presence(person("p_mara"), at("2026-03-04T22:00"))).toMatchObject({
      because: "outside their working hours",
    });
  });
});

describe("who is next on duty", () => {
  it("now, when they are there", () => {
    const now = at("2026-03-04T09:00");
    expect(nextOnDuty(person("p_mara"), now)).toBe(now);
  });
  it("tomorrow morning, on the next working day, after the leave", () => {
    expect(iso(nextOnDuty(person("p_mara"), at("2026-03-04T22:00")))).toBe("Thu 05 07:30");
    expect(iso(nextOnDuty(person("p_emeka"), at("2026-03-05T20:00")))).toBe("Tue 10 07:30");
    expect(iso(nextOnDuty(person("p_yuki"), at("2026-03-04T09:00")))).toBe("Mon 16 07:30");
  });
  it("never, when switched off by hand or without hours", () => {
    expect(nextOnDuty({ ...person("p_mara"), offDuty: true }, at("2026-03-04T09:00"))).toBeNull();
    expect(nextOnDuty({ ...person("p_mara"), hours: { zone, week: {} } }, at("2026-03-04T09:00"))).toBeNull();
  });
});

it("a calendar is compiled once while time stays near, and again when it has moved on", () => {
  const { hours } = person("p_mara");
  const first = calendarAround(hours, at("2026-03-04T09:00"));
  expect(calendarAround(hours, at("2026-03-20T09:00"))).toBe(first);
  expect(calendarAround(hours, at("2027-03-04T09:00"))).not.toBe(first);
});

it("names people, also those who are gone", () => {
  expect(nameOf(tarnholt, "p_mara")).toBe("Mara Whitehorse");
  expect(nameOf(tarnholt, "p_ghost")).toBe("somebody no longer here");
  expect(nameOf(tarnholt, null)).toBe("somebody no longer here");
});

it("every id the company's policies name exists", () => {
  const { policies, groups, people } = tarnholt;
  const ids = new Set(people.map((p) => p.id));
  for (const group of groups)
    for (const { personId } of group.members) expect(ids.has(personId), personId).toBe(true);
  for (const id of policies.standby) expect(ids.has(id), id).toBe(true);
  for (const { to } of policies.rules)
    if ("group" in to)
      expect(
        groups.some((g) => g.id === to.group),
        to.group,
      ).toBe(true);
  for (const { ladderId } of policies.targets)
    expect(
      policies.ladders.some((l) => l.id === ladderId),
      ladderId,
    ).toBe(true);
  const templates = new Set(policies.templates.map((t) => t.id));
  const { usual, again } = policies.replies;
  for (const { email, text } of [usual, ...tarnholt.sources.flatMap((s) => s.reply ?? [])])
    for (const { templateId } of [...email.choices, ...text.choices])
      expect(templates.has(templateId), templateId).toBe(true);
  for (const id of [again.email, again.text]) if (id) expect(templates.has(id), id).toBe(true);
});

it("namesakes are told apart where somebody is chosen; nobody else's name is changed", () => {
  const [a, b, c] = tarnholt.people;
  const twins = [{ ...a!, name: "Sam Ito" }, { ...b!, name: "sam ito " }, c!];
  expect([...namesApart(twins).values()]).toEqual([
    `Sam Ito (${a!.email})`,
    `sam ito (${b!.email})`,
    c!.name,
  ]);
});

describe("off duty until a time", () => {
  const now = Date.parse("2026-03-04T17:00:00Z");
  const mara = tarnholt.people.find((p) => p.id === "p_mara")!;
  const off = (until: number | null) => ({ ...mara, offDuty: true, offUntil: until });
  it("ends then, and says until when", () => {
    expect(presence(off(now + 1), now)).toMatchObject({
      onDuty: false,
      because: "went off duty until 10:00",
    });
    expect(presence(off(now), now)).toEqual({ onDuty: true });
    expect(presence(off(null), now + 365 * 86_400_000)).toMatchObject({ because: "went off duty" });
  });
  it("counts for when they are next there", () => {
    expect(nextOnDuty(off(null), now)).toBeNull();
    expect(nextOnDuty(off(now + 3_600_000), now)).toBe(now + 3_600_000);
  });
});

import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import type { Setup } from "../policy/setup.ts";
import { begun, starter } from "../policy/starter.ts";
import type { Changed } from "./change.ts";
import { changeDeskHours } from "./change-bells.ts";
import { changeCompany } from "./change-company.ts";
import { inGroups, savePerson } from "./change-people.ts";
import { type Around, FIRST_STEPS, firstSteps, seeTo, settleStep } from "./first-steps.ts";

const ALONE: Around = { mailUnset: "Mail is not set up.", hasInquired: false };
const fresh = begun(starter(0), {
  company: "Kauri Boats",
  name: "Aroha Ngata",
  email: "aroha@kauri.example",
  zone: "Pacific/Auckland",
});
const left = (setup: Setup, around = ALONE) =>
  firstSteps(setup, around)
    .filter((s) => !s.done && !s.spared)
    .map((s) => s.key);
function must(changed: Changed): Setup {
  if (!changed.ok) throw new Error(changed.problem.detail);
  return changed.setup;
}

describe("the first steps of a desk", () => {
  it("are all left on a new one, and none on one that has everything", () => {
    expect(left(fresh)).toEqual(Object.keys(FIRST_STEPS));
    expect(left(tarnholt, { mailUnset: null, hasInquired: true })).toEqual([]);
  });
  it("are done by doing them: who one is and when one is open by putting it in force", () => {
    const { company, sites, teamChat, desk, holidays } = fresh.policies;
    const named = must(changeCompany(fresh, { company, sites, teamChat }));
    expect(left(named)).not.toContain("company");
    expect(left(must(changeDeskHours(named, { desk, holidays })))).not.toContain("hours");
    expect(left(must(seeTo("tried")(fresh)))).not.toContain("tried");
  });
  it("people are there once somebody who sells is in a group; until then it says what they lack", () => {
    const sells = { ...fresh.people[0]!, id: "p_two", name: "Tane Walker", email: "t@kauri.example" };
    const hired = must(savePerson(fresh, { ...sells, role: "salesperson" }));
    const people = (setup: Setup) => firstSteps(setup, ALONE).find((s) => s.key === "people")!;
    expect(people(hired)).toMatchObject({ done: false, lacks: expect.stringContaining("in a group") });
    expect(people(must(inGroups(hired, "p_two", ["g_all"])))).toMatchObject({ done: true, lacks: null });
    // Whoever set the desk up sells nothing by that.
    expect(people(must(inGroups(fresh, "p_first", ["g_all"]))).done).toBe(false);
  });
  it("some can be done without, and wanted after all; those every desk needs can't", () => {
    const spared = must(settleStep(fresh, "territories", true));
    expect(firstSteps(spared, ALONE).find((s) => s.key === "territories")).toMatchObject({
      done: false,
      spared: true,
    });
    expect(left(must(settleStep(spared, "territories", false)))).toContain("territories");
    for (const step of ["source", "people", "made up"]) expect(settleStep(fresh, step, true).ok).toBe(false);
  });
  it("mail is there once it leaves, and what is missing is said until then", () => {
    expect(firstSteps(fresh, ALONE).find((s) => s.key === "mail")?.lacks).toBe("Mail is not set up.");
    expect(left(fresh, { ...ALONE, mailUnset: null })).not.toContain("mail");
  });
});

describe("the groups of a person", () => {
  const group = (setup: Setup, id: string) => setup.groups.find((g) => g.id === id)!;
  const [one, two] = tarnholt.groups;
  const somebody = tarnholt.people.find((p) => !one!.members.some((m) => m.personId === p.id))!;

  it("are those chosen and no others; a weight they have stays", () => {
    const joined = must(inGroups(tarnholt, somebody.id, [one!.id]));
    expect(group(joined, one!.id).members.at(-1)).toEqual({ personId: somebody.id, weight: 1 });
    expect(group(joined, two!.id).members).not.toContainEqual(
      expect.objectContaining({ personId: somebody.id }),
    );
    const [member] = one!.members;
    const stays = must(inGroups(tarnholt, member!.personId, [one!.id]));
    expect(group(stays, one!.id)).toBe(one);
    expect(group(must(inGroups(joined, somebody.id, [])), one!.id).members).toEqual(one!.members);
  });
  it("must be there", () => expect(inGroups(tarnholt, somebody.id, ["g_gone"]).ok).toBe(false));
});

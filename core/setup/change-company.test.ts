import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { starter } from "../policy/starter.ts";
import { type CompanyChange, changeCompany, changeWords, type WordsChange } from "./change-company.ts";

const { company, sites, teamChat, passReasons, giveReasons } = tarnholt.policies;
const now: CompanyChange = { company, sites, teamChat };
const words: WordsChange = { passReasons, giveReasons };
const at = (changed: ReturnType<typeof changeCompany>) =>
  changed.ok ? "changed" : changed.problem.errors?.[0]?.path;

describe("the company", () => {
  it("is kept as it can be used: numbers dialled from its country, sites as links name them", () => {
    const changed = changeCompany(starter(0), {
      company: {
        name: "  Kauri Boats ",
        email: "Hello@KauriBoats.example",
        textLine: "021 555 0123",
        currency: "NZD",
        country: "NZ",
        languages: ["de", "it", "de"],
      },
      sites: ["https://www.KauriBoats.example/boats", " ", "www.kauriboats.example"],
      teamChat: " #leads ",
    });
    if (!changed.ok) throw new Error(changed.problem.detail);
    expect(changed.setup.policies).toMatchObject({
      company: {
        name: "Kauri Boats",
        email: "hello@kauriboats.example",
        textLine: "+64215550123",
        languages: ["de", "it"],
      },
      sites: ["www.kauriboats.example"],
      teamChat: "#leads",
    });
  });
  it.each([
    [{ company: { ...company, name: " " } }, "company.name"],
    [{ company: { ...company, email: "hello" } }, "company.email"],
    [{ company: { ...company, textLine: "12" } }, "company.textLine"],
    [{ company: { ...company, country: "Atlantis" } }, "company.country"],
    [{ company: { ...company, currency: "shells" } }, "company.currency"],
    [{ company: { ...company, languages: [] } }, "company.languages"],
    [{ company: { ...company, languages: ["en", "xx"] } }, "company.languages"],
    [{ sites: ["www.example.com", "not a site"] }, "sites.1"],
  ])("%j: refused, naming the field", (change, path) =>
    expect(at(changeCompany(tarnholt, { ...now, ...change }))).toBe(path),
  );
  it("as it stands is no change", () => {
    const changed = changeCompany(tarnholt, now);
    expect(changed.ok && changed.setup).toEqual(tarnholt);
  });
});

describe("reasons for moving a lead", () => {
  it("are kept without blanks", () => {
    const changed = changeWords(tarnholt, { ...words, giveReasons: [" Closer by ", ""] });
    if (!changed.ok) throw new Error(changed.problem.detail);
    expect(changed.setup.policies.giveReasons).toEqual(["Closer by"]);
  });
  it.each([
    [{ passReasons: [" "] }, "passReasons"],
    [{ giveReasons: ["A", "a"] }, "giveReasons.1"],
  ])("%j: refused, naming the field", (change, path) =>
    expect(at(changeWords(tarnholt, { ...words, ...change }))).toBe(path),
  );
});

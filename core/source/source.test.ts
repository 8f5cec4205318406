import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { mapTo, NO_MAPPING } from "../policy/mapping.ts";
import type { Setup } from "../policy/setup.ts";
import type { Source } from "../policy/source.ts";
import { addSource, changeFields, changeSource, connectAdForm } from "../setup/change-sources.ts";
import { sourceOfLine } from "./lines.ts";
import { whatIsMissing } from "./missing.ts";

const site = tarnholt.sources[0]!;
const said = (source: Source, setup: Setup = tarnholt, samples: Record<string, string>[] = []) =>
  whatIsMissing(source, setup, samples)
    .map((l) => l.said)
    .join(" ");
const onlyLodges: Setup = {
  ...tarnholt,
  policies: { ...tarnholt.policies, rules: tarnholt.policies.rules.slice(0, 1) },
};

describe("a line that was replaced", () => {
  const given = (setup: typeof tarnholt, line: string) => {
    const changed = changeSource(setup, "src_text", { line }, []);
    if (!changed.ok) throw new Error(changed.problem.detail);
    return changed.setup;
  };
  it("is listened on for ever, whatever comes after it, and nobody else can have it", () => {
    const once = given(tarnholt, "720 555 0190");
    const twice = given(once, "720 555 0191");
    for (const line of ["+17205550102", "+17205550190", "+17205550191"])
      expect(sourceOfLine(twice.sources, ["text"], line)?.id).toBe("src_text");
    expect(sourceOfLine(twice.sources, ["text"], "+17205550199")).toBeUndefined();
    expect(
      addSource(twice, { id: "s", name: "Another", channel: "text", line: "720 555 0190" }),
    ).toMatchObject({
      ok: false,
      problem: { status: 409 },
    });
    // Taken up again it is the line, and the other one is former.
    const back = given(twice, "720 555 0102").sources.find((s) => s.id === "src_text")!;
    expect(back).toMatchObject({ line: "+17205550102", formerLines: ["+17205550190", "+17205550191"] });
  });
});

describe("what a source lacks", () => {
  it("a field for a phone number or an address, unless what came had one", () => {
    const bare = { ...site, form: undefined, mapping: NO_MAPPING } as unknown as Source;
    expect(said(bare)).toContain("No field is mapped to a phone number");
    expect(said(bare, tarnholt, [{ your_phone: "x" }])).not.toContain("No field is mapped");
  });
  it("a rule that could fit, as far as its product is settled", () => {
    const plunge = tarnholt.sources.find((s) => s.key === "ad-plunge")!;
    expect(said(plunge)).not.toContain("No routing rule");
    expect(said(plunge, onlyLodges)).toContain("No routing rule can ever fit");
    expect(said(site, onlyLodges)).not.toContain("No routing rule");
  });
  it.each([
    ["call", "No phone line"],
    ["email", "No mail address"],
    ["ad-form", "Not connected"],
  ] as const)("a %s without its line says so", (channel, words) => {
    const { line: _line, signingSecret: _secret, ...rest } = site;
    expect(said({ ...rest, channel })).toContain(words);
  });
});

describe("changing sources", () => {
  it("a new one is a draft under a key of its own, and takes no line that is taken", () => {
    const added = addSource(tarnholt, { id: "s1", name: "Showroom line", channel: "website" });
    expect(added).toMatchObject({ ok: true, source: { key: "showroom-line-2", state: "draft" } });
    expect(
      addSource(tarnholt, { id: "s2", name: "X", channel: "call", line: "(720) 555-0100" }),
    ).toMatchObject({
      ok: false,
      problem: { status: 409, detail: expect.stringContaining("Showroom line listens") },
    });
    expect(addSource(tarnholt, { id: "s3", name: "X", channel: "email", line: "nowhere" })).toMatchObject({
      ok: false,
    });
  });
  it("does not go live while it lacks what it can't do without", () => {
    const setup = {
      ...tarnholt,
      sources: [{ ...site, form: { ...site.form!, fields: [] }, state: "draft" as const }],
    };
    expect(changeSource(setup, site.id, { state: "live" }, [])).toMatchObject({
      ok: false,
      problem: { detail: "Its form asks nothing." },
    });
    expect(changeSource(setup, site.id, { state: "live", form: site.form! }, [])).toMatchObject({ ok: true });
  });
  it("every mapping put in force is a further version", () => {
    const changed = changeSource(tarnholt, site.key, { mapping: mapTo({ a: "name" }) }, []);
    expect(changed).toMatchObject({
      ok: true,
      source: { mapping: { version: 2, fields: { a: { to: "name" } } } },
    });
  });
  it("a form asks nothing twice and offers choices where it says so", () => {
    const field = { name: "a", label: "A", type: "choice" as const, required: false, choices: [] };
    const form = { ...site.form!, fields: [field] };
    expect(changeSource(tarnholt, site.id, { form }, [])).toMatchObject({
      ok: false,
      problem: { title: "Nothing to choose" },
    });
    const twice = {
      ...form,
      fields: [
        { ...field, type: "text" as const },
        { ...field, type: "text" as const },
      ],
    };
    expect(changeSource(tarnholt, site.id, { form: twice }, [])).toMatchObject({
      ok: false,
      problem: { title: "Asked twice" },
    });
  });
  it("a form of the ad platform is connected once", () => {
    const adForm = tarnholt.sources.find((s) => s.adForm)!.adForm!;
    expect(connectAdForm(tarnholt, { id: "x", adForm, secret: "s", mapping: {} })).toMatchObject({
      ok: false,
      problem: { status: 409 },
    });
    expect(
      connectAdForm(tarnholt, { id: "x", adForm: { ...adForm, formId: "new" }, secret: "s", mapping: {} }),
    ).toMatchObject({
      ok: true,
      source: { state: "draft", signingSecret: "s" },
    });
  });
});

describe("changing fields", () => {
  const { fields, tags, completeness } = tarnholt.policies;
  it("a field a mapping uses can't vanish unseen; one nobody uses can, with its weight", () => {
    const without = (key: string) =>
      changeFields(tarnholt, { fields: fields.filter((f) => f.key !== key), tags, completeness });
    expect(without("holding_back")).toMatchObject({
      ok: false,
      problem: { detail: expect.stringContaining("Website: plan your sauna maps") },
    });
    const changed = without("budget");
    expect(changed.ok && changed.setup.policies.completeness.some((c) => c.fact === "own.budget")).toBe(
      false,
    );
  });
  it("no key twice, no list without choices", () => {
    expect(changeFields(tarnholt, { fields: [...fields, fields[0]!], tags, completeness }).ok).toBe(false);
    const bare = { key: "c", name: "C", type: "choice" as const, choices: [], required: false };
    expect(changeFields(tarnholt, { fields: [...fields, bare], tags, completeness }).ok).toBe(false);
  });
});

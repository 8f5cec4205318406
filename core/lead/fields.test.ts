import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { evaluate, inWords } from "../condition/condition.ts";
import type { Condition, FieldKey } from "../condition/tree.ts";
import { rulesProblem } from "../setup/change-routing.ts";
import { NOBODY } from "./blank.ts";
import { catalogue, factsOf, namesFrom } from "./fields.ts";
import type { Lead } from "./lead.ts";

/** What conditions can ask of how somebody came here and what they answered. */

const lead: Lead = {
  ...NOBODY,
  facts: {
    ...NOBODY.facts,
    preferred: "text",
    detail: "Home show, stand 12",
    answers: {
      utm_campaign: "spring-barrels",
      page: "https://tarnholt.example/plan",
      landing_page: "https://tarnholt.example/barrels?c=1",
      referrer: "https://news.example/saunas",
      holding_back: "the price",
    },
  },
};
const holds = (condition: Condition, of = lead) => evaluate(condition, factsOf(of, tarnholt, 0));

describe("conditions ask", () => {
  it.each<[FieldKey, Condition]>([
    ["campaign", { field: "campaign", is: "starts-with", value: "spring" }],
    ["landing-page", { field: "landing-page", is: "contains", value: "/barrels" }],
    ["referrer", { field: "referrer", is: "contains", value: "news.example" }],
    ["preferred", { field: "preferred", is: "equal", value: "text" }],
    ["detail", { field: "detail", is: "contains", value: "home show" }],
    ["answer.holding_back", { field: "answer.holding_back", is: "equal", value: "the price" }],
  ])("for %s, and it is not known of whoever does not say", (field, condition) => {
    expect(holds(condition)).toBe(true);
    expect(holds(condition, NOBODY)).toBe(false);
    expect(holds({ field, is: "unknown" }, NOBODY)).toBe(true);
  });
  it("for what forms ask, by the form’s own questions, in words", () => {
    const question = { name: "which_wood", label: "Which wood?", type: "choice", required: false } as const;
    const choices = [{ value: "cedar", label: "Red cedar" }];
    const sources = tarnholt.sources.map((s) => ({
      ...s,
      ...(s.form && { form: { ...s.form, fields: [...s.form.fields, { ...question, choices }] } }),
    }));
    const fields = catalogue({ ...tarnholt, sources });
    expect(fields.find((f) => f.key === "answer.which_wood")).toMatchObject({
      name: "answer to which wood",
      type: "text",
      choices,
    });
    expect(inWords({ field: "answer.which_wood", is: "equal", value: "cedar" }, namesFrom(fields))).toBe(
      "answer to which wood is Red cedar",
    );
    // What becomes a fact of ours is asked for as that fact.
    expect(fields.some((f) => f.key === "answer.postal_code")).toBe(false);
  });
  it("for a question no form asks any more: leads have answered it", () => {
    const [rule] = tarnholt.policies.rules;
    const over = (field: FieldKey) =>
      rulesProblem(tarnholt, {
        rules: [{ ...rule!, when: { field, is: "contains", value: "x" } }],
        setAside: tarnholt.policies.setAside,
      });
    expect(over("answer.gone_long_ago")).toBeNull();
    expect(over("own.gone_long_ago")).toMatchObject({ path: "rules.0.when.field" });
  });
  it("for an answer named like a part of every object, and nothing is found", () => {
    expect(holds({ field: "answer.constructor", is: "known" })).toBe(false);
  });
});

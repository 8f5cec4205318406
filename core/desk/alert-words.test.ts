import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { Bench } from "../../tests/support/memory.ts";
import type { Setup } from "../policy/setup.ts";
import { changeAlertWords } from "../setup/change.ts";

/** Alerts in the company's own words. */

const saying = (words: Readonly<Record<string, string>>): Setup => {
  const changed = changeAlertWords(tarnholt, words);
  if (!changed.ok) throw new Error(changed.problem.detail);
  return changed.setup;
};
/** The first lines of what people were told of an offer, by each way. */
function offered(setup: Setup) {
  const bench = new Bench(setup);
  const id = bench.arrive();
  return bench.desk.alerts.filter((a) => a.leadId === id && a.purpose === "hand-off");
}

describe("an alert in words of one’s own", () => {
  it("says them by every way, with the facts and the link after them as ever", () => {
    const alerts = offered(
      saying({ "hand-off": "Yours for the taking: {{ lead.first_name }}, {{ product }}" }),
    );
    const [chat, text] = ["chat", "text"].map((c) => alerts.find((a) => a.channel === c)!);
    expect(chat!.body.split("\n")[0]).toMatch(/^\*Yours for the taking: Ana, .+\*$/);
    expect(chat!.body).toContain("Reach: ");
    expect(chat!.body).toContain("{link}");
    expect(text!.body).toMatch(/^Yours for the taking: Ana/);
  });
  it("that would say nothing says the usual, so that nobody gets an empty line", () => {
    const empty = offered(saying({ "hand-off": "{% if lead.company %}From {{ lead.company }}{% endif %}" }));
    expect(empty.map((a) => a.body)).toEqual(offered(tarnholt).map((a) => a.body));
  });
  it("is refused with its fault, by name, before it is in force", () => {
    const fault = (about: string, text: string) => changeAlertWords(tarnholt, { [about]: text });
    expect(fault("reply", "{{ lead.nmae }} wrote")).toMatchObject({
      ok: false,
      problem: { errors: [{ path: "words.reply", message: expect.stringContaining("lead.nmae") }] },
    });
    expect(fault("quiet", "Psst")).toMatchObject({ ok: false, problem: { code: "no-such-alert" } });
    expect(fault("reply", "x".repeat(301))).toMatchObject({ ok: false, problem: { code: "too-long" } });
  });
  it("taken back says the usual again", () => {
    expect(saying({ reply: "   " }).policies.alertWords).toEqual({});
  });
});

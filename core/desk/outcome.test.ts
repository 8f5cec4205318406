import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { understand } from "../intake/understand.ts";
import { withDefaults } from "../policy/defaults.ts";
import type { Setup } from "../policy/setup.ts";
import { MemoryDesk } from "./memory.ts";
import { receive } from "./receive.ts";
import { afterTry } from "./try.ts";
import { undo } from "./undo.ts";
import { calledOut, likelyOutcome, logTry } from "./work.ts";

const { outcomes } = tarnholt.policies;

function begun(setup: Setup = tarnholt): { desk: MemoryDesk; id: string } {
  const desk = new MemoryDesk(setup, Date.parse("2026-03-04T16:00:00Z"));
  const source = tarnholt.sources[0]!;
  const understood = understand(source, tarnholt.policies, { name: "Ana", phone: "303 555 0123" });
  if (!understood.ok) throw new Error(understood.reason);
  const decided = desk.commit(
    receive(desk.look(null), {
      inquiryId: "i",
      source,
      facts: understood.facts,
      matchedOn: null,
      by: { kind: "lead" },
      goesTo: { kind: "person", id: "p_mara" },
    }),
  );
  if (!decided.ok) throw new Error(decided.problem.detail);
  return { desk, id: decided.plan.leadId };
}
const tried = (desk: MemoryDesk, id: string, key: string) =>
  desk.commit(logTry(desk.look(id), { personId: "p_mara", channel: "call", outcome: key }));

/** The demo company as it was kept before there were cadences, opened now. */
const asItWas = (): Setup => {
  const { cadences: _, ...old } = tarnholt.policies;
  const series = [
    { hours: 3 },
    { days: 1, at: "09:00" },
    { days: 1, at: "17:00" },
    { days: 2, at: "12:30", skipWeekend: true },
    { days: 3, at: "10:30", skipWeekend: true },
  ];
  const last = { does: "close", reason: "Never reached" };
  const kept = old.outcomes.map((o) =>
    o.key === "no-answer" ? { ...o, next: { ...o.next, series, last } } : o,
  );
  return withDefaults({ ...tarnholt, policies: { ...old, outcomes: kept } } as unknown as Setup);
};

describe("a series of tries, as an outcome had it before cadences", () => {
  it("falls at the same times of day as ever, and ends where it did", () => {
    const { desk, id } = begun(asItWas());
    const times: string[] = [];
    for (let i = 0; i < 5; i++) {
      tried(desk, id, "no-answer");
      const { nextStep } = desk.leads.get(id)!;
      times.push(new Date(nextStep!.dueAt).toISOString());
      desk.advance(nextStep!.dueAt - desk.now);
    }
    // Wednesday nine: noon; Thursday 9:00; Friday 17:00; then Sunday is skipped: Monday 12:30; Thursday 10:30.
    expect(times).toEqual([
      "2026-03-04T19:00:00.000Z",
      "2026-03-05T16:00:00.000Z",
      "2026-03-07T00:00:00.000Z",
      "2026-03-09T18:30:00.000Z",
      "2026-03-12T16:30:00.000Z",
    ]);
    tried(desk, id, "no-answer");
    desk.advance(0);
    expect(desk.leads.get(id)).toMatchObject({
      nextStep: null,
      fruitless: 6,
      closed: { reason: "Never reached" },
    });
  });
  it("begins again once somebody was reached", () => {
    const { desk, id } = begun(asItWas());
    tried(desk, id, "no-answer");
    tried(desk, id, "reached");
    expect(desk.leads.get(id)).toMatchObject({ fruitless: 0, nextStep: { note: "Follow up" } });
    tried(desk, id, "no-answer");
    expect(desk.leads.get(id)!.nextStep).toMatchObject({
      dueAt: desk.now + 3 * 3_600_000,
      note: "Call again",
    });
  });
  it("is counted back by an undo", () => {
    const { desk, id } = begun();
    const act = tried(desk, id, "no-answer");
    if (!act.ok) throw new Error(act.problem.detail);
    desk.commit(undo(desk.look(id), "p_mara", act.plan.actId, desk.events.get(id)!));
    expect(desk.leads.get(id)).toMatchObject({ fruitless: 0, tries: 0 });
  });
  it("said before it is logged is what it sets when it is", () => {
    const { desk, id } = begun();
    for (const one of outcomes) {
      const said = afterTry(desk.look(id), "p_mara", one);
      const logged = logTry(desk.look(id), { personId: "p_mara", channel: "call", outcome: one.key });
      expect(logged.ok && logged.plan.after.nextStep?.dueAt).toBe(said.step?.dueAt);
    }
  });
});

describe("a call from the desk", () => {
  it("is no try on its own: what it came to is", () => {
    const { desk, id } = begun();
    const call = {
      callId: "c",
      personId: "p_mara",
      to: "+13035550123",
      from: "+17205550100",
      seconds: 0,
      recording: null,
    };
    desk.commit(calledOut(desk.look(id), { ...call, result: "busy" }));
    expect(desk.leads.get(id)).toMatchObject({ tries: 0, bell: { state: "waiting" } });
  });
  it.each([
    ["talked", 240, "reached"],
    ["talked", 8, "voicemail"],
    ["voicemail", 30, "voicemail"],
    ["no-answer", 0, "no-answer"],
    ["busy", 0, "busy"],
    ["not-picked-up", 0, undefined],
    ["lost", 0, undefined],
  ] as const)("that %s for %d s most likely came to %s", (result, seconds, expected) =>
    expect(likelyOutcome(outcomes, result, seconds)?.key).toBe(expected),
  );
});

describe("a text that goes along with a try", () => {
  it("is part of it: the next step that was chosen stands, and undoing takes both back", () => {
    const { desk, id } = begun();
    const template = tarnholt.policies.templates.find((t) => t.channel === "text")!;
    const dueAt = desk.now + 5 * 86_400_000;
    const logged = desk.commit(
      logTry(desk.look(id), {
        personId: "p_mara",
        channel: "call",
        outcome: "voicemail",
        nextStep: { kind: "call", note: "Call on Monday", dueAt },
        text: { templateId: template.id, callBackSeconds: 10 },
      }),
    );
    if (!logged.ok) throw new Error(logged.problem.detail);
    expect(desk.leads.get(id)).toMatchObject({ tries: 1, nextStep: { note: "Call on Monday", dueAt } });
    const events = desk.events.get(id)!;
    const sent = events.filter((e) => e.kind === "message-out" && !e.data.auto);
    expect(sent).toHaveLength(1);
    const undone = desk.commit(undo(desk.look(id), "p_mara", logged.plan.actId, events));
    expect(undone.ok && undone.plan.withdrawn).toHaveLength(1);
    expect(desk.leads.get(id)).toMatchObject({ tries: 0, nextStep: null });
  });
  it("that cannot go lets nothing be logged, and says why", () => {
    const { desk, id } = begun();
    const report = { personId: "p_mara", channel: "call" as const, outcome: "voicemail" };
    const refused = logTry(desk.look(id), { ...report, text: { templateId: "none" } });
    expect(refused).toMatchObject({ ok: false, problem: { errors: [{ path: "text" }] } });
  });
});

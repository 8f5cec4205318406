import { beforeEach, describe, expect, it } from "vitest";
import { questionSets } from "../../demo/qualifying.ts";
import { tarnholt } from "../../demo/tarnholt.ts";
import { atDesk, Bench, companyWith, wall } from "../../tests/support/memory.ts";
import type { EndReason, Stage } from "../policy/stages.ts";
import { take } from "./hand-off.ts";
import { hearFrom } from "./hear.ts";
import type { Decided } from "./plan.ts";
import { answerQuestions, askLater, close, moveStage, reopen } from "./stage.ts";
import { undo } from "./undo.ts";
import { logTry } from "./work.ts";

const { stages, reasons } = tarnholt.policies;

let at: Bench;
let id: string;

/** The demo company with one of its stages changed, and a lead of Mara’s. */
function begin(change: Record<string, Partial<Stage>> = {}, more: Partial<typeof tarnholt.policies> = {}) {
  at = new Bench(
    companyWith({
      stages: stages.map((s) => ({ ...s, ...change[s.key] })),
      ...more,
    }),
  );
  id = at.arrive({ name: "Rosa Lindqvist", email: "rosa@mail.example" });
  at.act(id, (w) => take(w, "p_mara"));
}

const code = (decided: Decided) => (decided.ok ? null : decided.problem.code);
const paths = (decided: Decided) => (decided.ok ? [] : (decided.problem.errors ?? []).map((e) => e.path));
const move = (stage: string, more: Partial<Parameters<typeof moveStage>[2]> = {}) =>
  at.desk.commit(moveStage(at.desk.look(id), "p_mara", { stage, mover: false, ...more }));

beforeEach(() => begin());

describe("moving a lead to a stage", () => {
  it.each([["Qualified"], ["qualified"], [" QUALIFIED "]])("finds it by %j", (stage) => {
    expect(move(stage).ok).toBe(true);
    expect(at.lead(id).stage).toBe("Qualified");
  });

  it("writes one event that says from where to where, which is taken back whole", () => {
    move("Qualified", { answers: { "own.power": "240 V there" } });
    const [event] = at.events(id, "staged");
    expect(event?.data).toEqual({ from: "Being tried", to: "Qualified" });
    expect(at.lead(id).facts.own.power).toBe("240 V there");
    at.act(id, (w) => undo(w, "p_mara", event!.actId, at.desk.events.get(id)!));
    expect(at.lead(id).stage).toBe("Being tried");
  });

  it("to where it stands changes nothing", () => {
    move("Qualified");
    const before = at.desk.events.get(id)!.length;
    expect(move("Qualified").ok).toBe(true);
    expect(at.desk.events.get(id)).toHaveLength(before);
  });

  it("to a stage there is not names those there are", () => {
    const refused = move("Visited");
    expect(refused.ok ? "" : refused.problem.detail).toBe(
      "Give one of: New, Being tried, Talking, Qualified, Handed over.",
    );
  });

  it("to Handed over is a hand-over", () => expect(code(move("Handed over"))).toBe("hand-it-over"));

  it("of a closed lead is refused", () => {
    at.act(id, (w) => close(w, "p_mara", "No fit"));
    expect(code(move("Qualified"))).toBe("the-lead-is-closed");
  });

  it("by nobody who works here is refused", () =>
    expect(code(moveStage(at.desk.look(id), "p_nobody", { stage: "Talking", mover: true }))).toBe(
      "nobody-by-that-id",
    ));
});

describe("what must be known", () => {
  it("is named by the field that was asked for, in its order, and let through once it is answered", () => {
    begin({ Qualified: { asks: ["own.power", "company", "own.budget"] } });
    expect(paths(move("Qualified"))).toEqual(["own.power", "company", "own.budget"]);
    expect(paths(move("Qualified", { answers: { "own.power": "none", company: "Cedar Inn" } }))).toEqual([
      "own.budget",
    ]);
    // Refused as a whole: nothing of it was kept.
    expect(at.lead(id).company).toBeNull();
    const answers = { "own.power": "none", company: "Cedar Inn", budget: "9,500" };
    expect(move("Qualified", { answers }).ok).toBe(true);
    expect(at.lead(id)).toMatchObject({
      company: "Cedar Inn",
      facts: { own: { power: "none", budget: 9_500 } },
    });
  });

  it("is what questions of the lead’s own set are required for, and of no other", () => {
    const required = questionSets.map((set) => ({
      ...set,
      questions: set.questions.map((q) => ({ ...q, requiredFor: "Qualified" })),
    }));
    begin({}, { questionSets: required });
    const lacking = paths(move("Qualified"));
    expect(lacking).toContain("own.power");
    expect(lacking).not.toContain("own.permit");
    // The follow-up is only asked when the answer before calls for it.
    expect(lacking).not.toContain("own.extras");
    at.act(id, (w) => answerQuestions(w, "p_mara", { "own.power": "none" }));
    expect(paths(move("Qualified"))).toContain("own.extras");
  });

  it.each([
    [{ email: "new@mail.example" }, { emails: ["rosa@mail.example", "new@mail.example"] }],
    [{ phone: "(303) 555-0199" }, { phones: expect.arrayContaining(["+13035550199"]) }],
    [{ postal_code: "80301" }, { facts: { postalCode: "80301", territory: "high-plains" } }],
    [{ product: "cabin" }, { facts: { product: "cabin", value: 14_500 } }],
    [{ preferred: "text" }, { facts: { preferred: "text" } }],
    [{ "answer.garden_size": "large" }, { facts: { answers: { garden_size: "large" } } }],
    [{ name: "Rosa Maria Lindqvist" }, { name: "Rosa Maria Lindqvist" }],
  ])("%j is kept where such facts are kept", (answers, kept) => {
    const done = at.desk.commit(
      answerQuestions(at.desk.look(id), "p_mara", answers as Record<string, string>),
    );
    expect(done.ok).toBe(true);
    expect(at.lead(id)).toMatchObject(kept);
  });

  it.each([
    [{ email: "nobody" }, "emails.0"],
    [{ phone: "12" }, "phones.0"],
    [{ "own.power": "lots" }, "own.power"],
    [{ "own.nothing": "x" }, "own.nothing"],
    [{ product: "boat" }, "product"],
  ])("%j is refused, naming the field", (answers, path) =>
    expect(paths(answerQuestions(at.desk.look(id), "p_mara", answers as Record<string, string>))).toEqual([
      path,
    ]),
  );

  it("an empty answer forgets", () => {
    at.act(id, (w) => answerQuestions(w, "p_mara", { "own.power": "none" }));
    at.act(id, (w) => answerQuestions(w, "p_mara", { "own.power": "" }));
    begin({ Qualified: { asks: ["own.power"] } });
    expect(paths(move("Qualified"))).toEqual(["own.power"]);
  });
});

describe("from where and by whom", () => {
  it("a stage may be entered from some stages only, and says from which", () => {
    begin({ Qualified: { from: ["Talking"] } });
    const refused = move("Qualified");
    expect(refused.ok ? "" : refused.problem.detail).toBe(
      "A lead comes to “Qualified” from “Talking”; this one is in “Being tried”.",
    );
    at.act(id, (w) => logTry(w, { personId: "p_mara", channel: "call", outcome: "reached" }));
    expect(move("Qualified").ok).toBe(true);
  });

  it("a stage may be for those who move leads alone", () => {
    begin({ Qualified: { by: "movers" } });
    expect(code(move("Qualified"))).toBe("not-yours-to-move");
    expect(move("Qualified", { mover: true }).ok).toBe(true);
  });
});

describe("what entering does", () => {
  it("sets a task for the next open day, a tag, and tells whoever is named", () => {
    begin({
      Qualified: { entry: { task: "Measure the site", tag: "measured", tell: ["p_greta"] } },
    });
    move("Qualified");
    const lead = at.lead(id);
    expect(lead.tags).toContain("measured");
    expect(lead.tasks).toMatchObject([{ note: "Measure the site", to: ["p_mara"] }]);
    expect(wall(lead.tasks[0]!.dueAt)).toBe("Thu 09:00:00");
    expect(at.desk.alerts.at(-1)).toMatchObject({ personId: "p_greta", purpose: "planned" });
    expect(at.desk.alerts.at(-1)?.body).toContain("Rosa Lindqvist is now “Qualified”");
  });

  it("does nothing twice: a tag that is there is left alone", () => {
    begin({ Qualified: { entry: { tag: "measured" } } });
    move("Qualified");
    move("Talking");
    move("Qualified");
    expect(at.lead(id).tags.filter((t) => t === "measured")).toHaveLength(1);
  });

  it("begins the cadences that begin with that stage, and ends those that stop at it", () => {
    const plan = {
      name: "After qualifying",
      reason: "test",
      touches: [{ kind: "task", after: "P1D", from: "start", note: "Send drawings" }],
      stops: ["stage:Talking"],
      enters: [{ on: "stage", value: "Qualified" }],
      spreadMinutes: 0,
      precedence: 1,
      byHandHours: 0,
    } as const;
    const cadence = { id: "c", version: 1, live: plan, draft: null, publishedAt: 0, kept: [] };
    begin({}, { cadences: [cadence] });
    move("Qualified");
    expect(at.lead(id).cadences.map((r) => [r.cadenceId, r.state])).toEqual([["c", "running"]]);
    move("Talking");
    expect(at.lead(id).cadences.map((r) => r.ended?.why)).toEqual(["stage"]);
  });
});

describe("an end", () => {
  const gone: Stage = { key: "gone", name: "Gone", kind: "lost", of: "lead", asks: [] };
  const withEnd = (more: Partial<EndReason> = {}) =>
    begin(
      {},
      {
        stages: [...stages, gone],
        reasons: reasons.map((r) => (r.key === "No fit" ? { ...r, ...more } : r)),
      },
    );

  it("asks why, by one of the reasons of its kind", () => {
    withEnd();
    const refused = move("Gone");
    expect(paths(refused)).toEqual(["reason"]);
    expect(refused.ok ? "" : refused.problem.detail).toBe(
      "Say why, by one of: Bought elsewhere, No fit, Not interested now.",
    );
    expect(paths(move("Gone", { reason: "Never reached" }))).toEqual(["reason"]);
    move("Gone", { reason: "no fit" });
    expect(at.lead(id)).toMatchObject({ stage: "gone", closed: { reason: "No fit" } });
  });

  it("may set the lead aside until somebody looks again, on the same day so many months on", () => {
    withEnd({ againMonths: 6 });
    move("Gone", { reason: "No fit" });
    const lead = at.lead(id);
    expect(lead.closed).toBeNull();
    expect(lead.parked?.reason).toBe("No fit");
    // RFC 5545 would leave a day out that a month has not; here it is clamped. 4 September is a Friday.
    expect(lead.parked?.lookAt).toBe(atDesk("2026-09-04T09:00:00"));
  });

  it("waits for those who wait for an answer, where it would set them aside", () => {
    withEnd({ againMonths: 6 });
    at.act(id, (w) =>
      hearFrom(w, { channel: "email", from: "rosa@mail.example", subject: null, body: "Are you there?" }),
    );
    expect(code(close(at.desk.look(id), "p_mara", "No fit"))).toBe("they-wait-for-an-answer");
  });

  it("gives the turn back where its reason says so", () => {
    withEnd({ turnBack: true });
    const turn = at.lead(id).turn;
    expect(turn?.personId).toBeDefined();
    at.act(id, (w) => close(w, "p_mara", "No fit"));
    expect(at.events(id, "turn-credited")).toHaveLength(1);
  });

  it("for a reason there is not is refused", () =>
    expect(code(close(at.desk.look(id), "p_mara", "Tired"))).toBe("no-such-reason"));
});

describe("opening again", () => {
  it("needs a reason and a closed lead, and is worked by whoever had it", () => {
    expect(code(reopen(at.desk.look(id), "p_ines", "again"))).toBe("open-already");
    at.act(id, (w) => close(w, "p_mara", "No fit"));
    expect(code(reopen(at.desk.look(id), "p_ines", " "))).toBe("a-reason-is-needed");
    at.act(id, (w) => reopen(w, "p_ines", "They called the showroom"));
    expect(at.lead(id)).toMatchObject({ closed: null, ownerId: "p_mara" });
    expect(at.events(id, "reopened")[0]?.data.reason).toBe("They called the showroom");
  });

  it("goes by the rules where nobody has it", () => {
    const other = at.arrive({ name: "Otis Ulrich", phone: "3035559988" });
    at.act(other, (w) => close(w, "p_ines", "Not a real inquiry"));
    at.act(other, (w) => reopen(w, "p_ines", "It was real"));
    expect(at.lead(other).handOff?.state).toBe("offered");
  });
});

describe("no answer yet", () => {
  it("is a task for whoever has the lead, in the words of the question, on the next open day", () => {
    at.act(id, (w) => askLater(w, "p_ines", "budget"));
    const [task] = at.lead(id).tasks;
    expect(task).toMatchObject({
      note: "Ask: Is there a sum you have in mind, or should I tell you what people usually spend?",
      to: ["p_mara"],
    });
    expect(wall(task!.dueAt)).toBe("Thu 09:00:00");
  });

  it("says what is to be asked, or is refused", () => {
    expect(code(askLater(at.desk.look(id), "p_ines", " "))).toBe("no-such-question");
    at.act(id, (w) => askLater(w, "p_ines", "Does the gate open wide?"));
    expect(at.lead(id).tasks[0]?.note).toBe("Ask: Does the gate open wide?");
  });
});

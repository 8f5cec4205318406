import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { atDesk, Bench, companyWith, DAY, HOUR, MIN } from "../../tests/support/memory.ts";
import type { LeadEvent } from "../lead/events.ts";
import { foldAll } from "../lead/fold.ts";
import { placeOf } from "../lead/queue.ts";
import type { Cadence, CadencePlan, Touch } from "../policy/cadence.ts";
import { accountOf } from "../report/account.ts";
import { bought, doTask, type RunWish, startCadence, steerRun, upgradeRun } from "./cadence.ts";
import { calledIn } from "./call.ts";
import { take } from "./hand-off.ts";
import { hearFrom, unsubscribe } from "./hear.ts";
import { previewCadence } from "./preview.ts";
import { lastUndoable, undo } from "./undo.ts";
import { logTry, setNextStep, writeTo } from "./work.ts";

const STOPS = ["reply", "call-back", "reached", "booked", "won", "closed"] as const;
const plan = (touches: readonly Touch[], more: Partial<CadencePlan> = {}): CadencePlan => ({
  name: "Test",
  reason: "a test",
  touches,
  stops: STOPS,
  enters: [],
  spreadMinutes: 0,
  precedence: 10,
  byHandHours: 24,
  ...more,
});
const live = (id: string, p: CadencePlan): Cadence => ({
  id,
  version: 1,
  live: p,
  draft: null,
  publishedAt: 0,
  kept: [],
});
const email = (after: string, more: Partial<Touch> = {}): Touch => ({
  kind: "email",
  after,
  from: "before",
  subject: `After ${after}`,
  body: "Hello",
  ...more,
});
const call = (after: string, more: Partial<Touch> = {}): Touch => ({
  kind: "call",
  after,
  from: "before",
  ...more,
});

/** A lead of Mara's that was reached once and has nothing planned, on a Wednesday at ten. */
function bench(cadences: readonly Cadence[], policies = {}) {
  const made = new Bench(companyWith({ cadences, targets: [], ...policies }), atDesk("2026-03-04T10:00:00"));
  const id = made.arrive({ email: "ana@example.com" });
  made.act(id, (w) => take(w, "p_mara"));
  made.desk.messages.length = 0;
  const begin = (cadenceId = "c") => made.act(id, (w) => startCadence(w, "p_mara", { cadenceId }));
  const steer = (wish: RunWish, which = 0) =>
    made.act(id, (w) => steerRun(w, "p_mara", made.lead(id).cadences[which]!.id, wish));
  const sent = () =>
    made.desk.messages
      .filter((m) => m.purpose === "cadence")
      .map((m) => `${m.channel} ${m.subject ?? m.body}`);
  const tried = (outcome: string) =>
    made.act(id, (w) => logTry(w, { personId: "p_mara", channel: "call", outcome }));
  const wrote = (body = "Hello?") =>
    made.act(id, (w) =>
      hearFrom(w, { channel: "text", from: made.lead(id).phones[0]!, subject: null, body }),
    );
  return { made, id, begin, steer, sent, tried, wrote, lead: () => made.lead(id) };
}

const SCENARIO = plan([
  email("PT0M", { from: "start", subject: "At once" }),
  { kind: "text", after: "PT5M", from: "start", body: "After five minutes" },
  email("P1D", { from: "start", at: "09:00", zone: "lead", subject: "Next day" }),
  call("P4D", { from: "start", days: "weekdays", note: "Ask how it went" }),
]);

describe("a cadence", () => {
  it("does each touch at its moment, the call as the lead’s next step, as the preview told", () => {
    const { made, begin, sent, lead } = bench([live("c", SCENARIO)]);
    const told = previewCadence(made.desk.setup, "c", SCENARIO, made.desk.now, lead());
    expect(told.warnings).toEqual(["Two messages go on one day, 2026-03-04.", ...languages(told.warnings)]);
    begin();
    made.desk.advance(0);
    expect(sent()).toEqual(["email At once"]);
    made.desk.advance(5 * MIN - 1);
    expect(sent()).toHaveLength(1);
    made.desk.advance(1);
    expect(sent()).toEqual(["email At once", "text After five minutes"]);
    made.desk.advance(atDesk("2026-03-05T08:59:59.999") - made.desk.now);
    expect(sent()).toHaveLength(2);
    made.desk.advance(1);
    expect(sent()).toHaveLength(3);
    // Four days after a Wednesday, off the weekend: Monday, across the change of clocks.
    const monday = atDesk("2026-03-09T10:00:00");
    expect(lead().nextStep).toMatchObject({ kind: "call", note: "Ask how it went", dueAt: monday });
    made.desk.advance(monday - made.desk.now);
    expect(lead().cadences[0]).toMatchObject({ state: "running", waits: { until: null } });
    const done = made.events(lead().id, "cadence-touched").map((e) => e.at);
    expect(told.touches.map((t) => t.at)).toEqual(done);
  });
  const languages = (said: readonly string[]) => said.filter((w) => /no words in/.test(w));

  it("is stopped by a reply: nothing goes after it", () => {
    const { made, begin, sent, wrote, lead } = bench([live("c", SCENARIO)]);
    begin();
    made.desk.advance(2 * MIN);
    const plan = wrote();
    expect(lead().cadences[0]).toMatchObject({ state: "stopped", ended: { why: "reply" } });
    // The message sent last is called back where it waits still.
    expect(plan.recalled).toHaveLength(1);
    made.desk.advance(30 * DAY);
    expect(sent()).toEqual(["email At once"]);
    expect(lead().nextStep).toBeNull();
  });

  it.each([
    [
      "call-back",
      (b: ReturnType<typeof bench>) =>
        b.made.act(b.id, (w) =>
          calledIn(w, {
            callId: "k",
            line: "+17205550100",
            from: w.lead!.phones[0]!,
            result: "missed",
            seconds: 0,
            recording: null,
            personId: null,
          }),
        ),
    ],
    ["reached", (b: ReturnType<typeof bench>) => b.tried("reached")],
    ["won", (b: ReturnType<typeof bench>) => b.made.act(b.id, (w) => bought(w, "p_mara", "a barrel"))],
    ["person", (b: ReturnType<typeof bench>) => b.steer({ do: "stop", reason: "enough" })],
  ] as const)("is stopped: %s", (why, stop) => {
    const b = bench([live("c", SCENARIO)]);
    b.begin();
    b.made.desk.advance(MIN);
    stop(b);
    expect(b.lead().cadences[0]).toMatchObject({ state: "stopped", ended: { why } });
    b.made.desk.advance(30 * DAY);
    expect(b.sent()).toHaveLength(1);
  });

  it("without a stop for replies pauses until they were answered, and goes on then", () => {
    const { made, begin, sent, wrote, tried, lead } = bench([
      live("c", plan(SCENARIO.touches, { stops: [] })),
    ]);
    begin();
    made.desk.advance(MIN);
    wrote();
    expect(lead().cadences[0]).toMatchObject({ state: "paused", pause: { why: "reply" } });
    made.desk.advance(DAY);
    expect(sent()).toHaveLength(1);
    tried("reached");
    made.desk.advance(0);
    expect(sent()).toEqual(["email At once", "text After five minutes"]);
  });

  it("leaves out what they opted out of, and does the rest", () => {
    const { made, id, begin, sent, lead } = bench([live("c", SCENARIO)]);
    begin();
    made.desk.advance(MIN);
    made.act(id, (w) => unsubscribe(w));
    made.desk.advance(2 * DAY);
    expect(sent()).toEqual(["email At once", "text After five minutes"]);
    expect(made.events(id, "cadence-touched").at(-1)?.data).toMatchObject({ did: "skipped", n: 2 });
    expect(lead().nextStep?.kind).toBe("call");
  });

  it("sends nothing for so long after one of us wrote by hand", () => {
    const { made, id, begin, sent } = bench([
      live("c", plan([email("PT0M"), email("PT1H")], { byHandHours: 5 })),
    ]);
    begin();
    made.desk.advance(30 * MIN);
    made.act(id, (w) => writeTo(w, { personId: "p_mara", channel: "email", body: "By hand" }));
    made.desk.advance(5 * HOUR - 1);
    expect(sent()).toHaveLength(1);
    made.desk.advance(1);
    expect(sent()).toHaveLength(2);
  });

  it("keeps the gap between two messages to one person, over all cadences", () => {
    const two = [live("c", plan([email("PT0M")])), live("d", plan([email("PT1M")], { name: "Other" }))];
    const { restraint } = companyWith({}).policies;
    const { made, begin, sent } = bench(two, { restraint: { ...restraint, gapMinutes: 180 } });
    made.desk.advance(DAY);
    begin();
    begin("d");
    made.desk.advance(0);
    const at = made.desk.now;
    made.desk.advance(180 * MIN - 1);
    expect(sent()).toHaveLength(1);
    made.desk.advance(at + 180 * MIN - made.desk.now);
    expect(sent()).toHaveLength(2);
  });

  it("waits for its call until a try of any kind of us answers it; a text does not", () => {
    const { made, id, begin, sent, tried, lead } = bench([
      live("c", plan([call("PT1H"), email("PT1H")], { byHandHours: 0 })),
    ]);
    begin();
    expect(lead().nextStep).toMatchObject({ kind: "call", touch: { n: 0 } });
    made.desk.advance(2 * HOUR);
    made.act(id, (w) => writeTo(w, { personId: "p_mara", channel: "text", body: "Shall I call?" }));
    expect(lead().nextStep).toMatchObject({ kind: "call", touch: { n: 0 } });
    made.desk.advance(DAY);
    expect(sent()).toEqual([]);
    tried("voicemail");
    // Only a mail is left of it: the next call is the outcome’s own.
    expect(lead().nextStep).toMatchObject({ note: "Call again" });
    expect(lead().nextStep?.touch).toBeUndefined();
    made.desk.advance(HOUR);
    expect(sent()).toHaveLength(1);
  });

  it("is answered by a call before its time, and goes on without its call where it may", () => {
    const soon = bench([live("c", plan([call("PT5H"), email("PT1H")]))]);
    soon.begin();
    soon.made.desk.advance(MIN);
    soon.tried("voicemail");
    soon.made.desk.advance(HOUR);
    expect(soon.sent()).toHaveLength(1);
    const on = bench([live("c", plan([call("PT1H", { goesOn: true }), email("PT1H")]))]);
    on.begin();
    on.made.desk.advance(2 * HOUR);
    expect(on.sent()).toHaveLength(1);
    expect(on.lead().nextStep?.kind).toBe("call");
    const patient = bench([live("c", plan([call("PT1H", { waitHours: 3 }), email("PT1H")]))]);
    patient.begin();
    patient.made.desk.advance(5 * HOUR - 1);
    expect(patient.sent()).toEqual([]);
    patient.made.desk.advance(1);
    expect(patient.sent()).toHaveLength(1);
  });

  it("leaves the outcome’s own step where it only writes, and takes its place where it calls or ends", () => {
    const writes = bench([live("c", plan([email("P5D"), email("P9D")]))]);
    writes.begin();
    writes.tried("voicemail");
    expect(writes.lead().nextStep).toMatchObject({ kind: "call", note: "Call again" });
    const ends = bench([
      live("c", plan([email("P5D"), { kind: "close", after: "P9D", from: "before", note: "Never reached" }])),
    ]);
    ends.begin();
    ends.tried("voicemail");
    expect(ends.lead().nextStep).toBeNull();
  });

  it("keeps to a call somebody put off", () => {
    const { made, id, begin, lead } = bench([live("c", plan([call("PT1H"), email("PT1H")]))]);
    begin();
    const dueAt = made.desk.now + 3 * DAY;
    made.act(id, (w) => setNextStep(w, "p_mara", { kind: "call", note: "Call", dueAt }));
    made.desk.advance(2 * HOUR);
    expect(lead().nextStep?.dueAt).toBe(dueAt);
    expect(lead().cadences[0]).toMatchObject({ n: 0, waits: null });
    made.desk.advance(3 * DAY);
    expect(lead().cadences[0]).toMatchObject({ n: 0, waits: { until: null } });
  });

  it("asks, and goes another way", () => {
    const ask: Touch = {
      kind: "if",
      after: "PT0M",
      from: "before",
      when: { field: "value", is: "at-least", value: 10_000 },
      otherwise: 4,
    };
    const touches = [
      email("PT0M"),
      ask,
      email("PT1H", { subject: "Big" }),
      email("PT2H", { subject: "All" }),
    ];
    const { made, begin, sent } = bench([live("c", plan(touches))]);
    begin();
    made.desk.advance(DAY);
    expect(sent()).toEqual(["email After PT0M", "email All"]);
  });

  it("sets tasks for others, tags, tells, lists, parks and closes", () => {
    const { made, id, begin, lead } = bench([
      live(
        "c",
        plan([
          { kind: "tag", after: "PT0M", from: "start", note: "warm" },
          { kind: "alert", after: "PT0M", from: "start", who: { role: "manager" }, note: "Look at this one" },
          {
            kind: "task",
            after: "PT0M",
            from: "start",
            who: { role: "coordinator" },
            note: "Process the order",
          },
          { kind: "list", after: "P1D", from: "before", note: "decide" },
          { kind: "close", after: "P1D", from: "before", note: "Never reached" },
        ]),
      ),
    ]);
    begin();
    made.desk.advance(0);
    expect(lead().tags).toContain("warm");
    expect(made.desk.alerts.filter((a) => a.purpose === "planned").length).toBeGreaterThan(0);
    expect(lead().tasks).toMatchObject([{ note: "Process the order" }]);
    made.desk.advance(3 * DAY);
    expect(lead().listed).toBeNull();
    made.act(id, (w) => doTask(w, "p_ines", lead().tasks[0]!.id));
    made.desk.advance(DAY);
    expect(lead().listed?.reason).toBe("decide");
    made.desk.advance(DAY);
    expect(lead()).toMatchObject({ closed: { reason: "Never reached" }, cadences: [{ state: "done" }] });
  });

  it("repeats so often and no more, or hands on into another", () => {
    const again = plan([email("PT0M"), email("P1D")], {
      // biome-ignore lint/suspicious/noThenProperty: the word of the API, and nothing that is waited for
      then: { again: { from: 2, times: 2 }, cadenceId: "d" },
    });
    const { made, begin, sent, lead } = bench([
      live("c", again),
      live("d", plan([email("P7D")], { name: "Slow" })),
    ]);
    begin();
    made.desk.advance(4 * DAY);
    expect(sent()).toHaveLength(4);
    expect(lead().cadences.map((r) => [r.cadenceId, r.state])).toEqual([
      ["c", "done"],
      ["d", "running"],
    ]);
    made.desk.advance(30 * DAY);
    expect(sent()).toHaveLength(5);
  });

  it("nobody is in it twice, and only once where it says so", () => {
    const { made, id, begin, steer } = bench([live("c", plan([email("P1D")], { once: true }))]);
    begin();
    expect(startCadence(made.desk.look(id), "p_mara", { cadenceId: "c" })).toMatchObject({
      problem: { detail: "It is in it already." },
    });
    steer({ do: "stop" });
    expect(startCadence(made.desk.look(id), "p_mara", { cadenceId: "c" })).toMatchObject({
      problem: { detail: "It was in it once." },
    });
  });
});

describe("two cadences at once", () => {
  const low = live("c", plan([email("P1D"), email("P1D")], { name: "Low", precedence: 1 }));
  it("the stronger holds the weaker back, and gives it back afterwards", () => {
    const high = live("d", plan([call("P3D")], { name: "High", precedence: 9 }));
    const { made, begin, steer, sent, lead } = bench([low, high]);
    begin();
    begin("d");
    expect(lead().cadences[0]).toMatchObject({ state: "paused", pause: { why: "precedence" } });
    made.desk.advance(5 * DAY);
    expect(sent()).toEqual([]);
    steer({ do: "stop" }, 1);
    made.desk.advance(0);
    expect(sent()).toHaveLength(1);
  });
  it("the stronger ends the weaker where it says so; the weaker begins held back", () => {
    const ends = live("d", plan([call("P3D")], { name: "High", precedence: 9, over: "ends" }));
    const b = bench([low, ends]);
    b.begin();
    b.begin("d");
    expect(b.lead().cadences[0]).toMatchObject({ state: "stopped", ended: { why: "higher" } });
    const late = bench([low, live("d", plan([call("P3D")], { name: "High", precedence: 9 }))]);
    late.begin("d");
    late.begin();
    expect(late.lead().cadences[1]).toMatchObject({ state: "paused", pause: { why: "precedence" } });
  });
});

describe("getting in", () => {
  const on = (enters: CadencePlan["enters"]) => live("c", plan([email("P1D")], { enters }));
  it.each([
    [
      "an outcome, the third time",
      { on: "outcome", value: "busy", nth: 3 },
      (b: ReturnType<typeof bench>) => ["busy", "busy", "busy"].map(b.tried),
    ],
    ["a stage", { on: "stage", value: "Talking" }, (b: ReturnType<typeof bench>) => b.tried("reached")],
    [
      "buying",
      { on: "won" },
      (b: ReturnType<typeof bench>) => b.made.act(b.id, (w) => bought(w, "p_mara", null)),
    ],
  ] as const)("by %s", (_what, entry, act) => {
    const b = bench([on([entry])]);
    expect(b.lead().cadences).toEqual([]);
    act(b);
    expect(b.lead().cadences).toMatchObject([{ cadenceId: "c", state: "running" }]);
  });
  it("by an inquiry that fits, and by no other", () => {
    const entry = (value: string) => on([{ on: "inquiry", when: { field: "product", is: "equal", value } }]);
    expect(bench([entry("barrel")]).lead().cadences).toHaveLength(1);
    expect(bench([entry("plunge")]).lead().cadences).toEqual([]);
  });
  it("counts the tries already made: a cadence of calls begins after them", () => {
    const calls = live("c", plan([call("PT1H"), call("PT2H"), call("PT3H")]));
    const b = bench([calls]);
    b.tried("busy");
    b.tried("busy");
    const entered = { ...calls.live!, enters: [{ on: "outcome" as const, value: "busy" }] };
    b.made.desk.setup = companyWith({ cadences: [live("c", entered)], targets: [] });
    b.tried("busy");
    expect(b.lead().cadences[0]).toMatchObject({ n: 2 });
  });
});

describe("by hand", () => {
  it.each([
    [
      { do: "pause", until: null },
      { state: "paused", pause: { why: "person" } },
    ],
    [{ do: "skip" }, { n: 1 }],
    [{ do: "stop" }, { state: "stopped" }],
    [{ do: "move", at: atDesk("2026-03-20T10:00:00") }, { at: atDesk("2026-03-20T10:00:00") }],
  ] as const)("%o is taken back whole", (wish, expected) => {
    const { made, id, begin, steer, lead } = bench([live("c", plan([email("P1D"), email("P1D")]))]);
    begin();
    const before = lead();
    const { actId } = steer(wish);
    expect(lead().cadences[0]).toMatchObject(expected);
    made.act(id, (w) => undo(w, "p_mara", actId, made.desk.events.get(id)!));
    expect({ ...lead(), seq: 0, lastActivityAt: 0 }).toEqual({ ...before, seq: 0, lastActivityAt: 0 });
    expect(foldAll(made.desk.events.get(id)!)).toEqual(lead());
  });
  it("is taken back with what it has done by itself, as long as nothing of that has left the house", () => {
    const task: Touch = {
      kind: "task",
      after: "PT0M",
      from: "start",
      note: "Process the order",
      goesOn: true,
      who: { person: "p_ines" },
    };
    const { made, id, begin, lead } = bench([live("c", plan([task, email("P1D", { from: "start" })]))]);
    const before = lead();
    const { actId } = begin();
    made.desk.advance(0);
    expect(lead().tasks).toHaveLength(1);
    const events = () => made.desk.events.get(id)!;
    expect(lastUndoable(events(), made.desk.now)).toMatchObject({ actId, what: "starting the cadence" });
    // Somebody told of the task hears that it is gone.
    made.act(id, (w) => undo(w, "p_mara", actId, events()));
    expect(
      events().some((e) => e.kind === "alerted" && e.data.about === "gone" && e.data.personId === "p_ines"),
    ).toBe(true);
    expect({ ...lead(), seq: 0, lastActivityAt: 0 }).toEqual({ ...before, seq: 0, lastActivityAt: 0 });
    // It counts nowhere: the account is the one from before it.
    const counted = (known: readonly LeadEvent[]) => {
      const account = accountOf(known)!;
      return { ...account, lead: { ...account.lead, seq: 0 } };
    };
    expect(counted(events())).toEqual(counted(events().filter((e) => e.seq <= before.seq)));
    const again = begin();
    made.desk.advance(DAY);
    expect(undo(made.desk.look(id), "p_mara", again.actId, events())).toMatchObject({
      ok: false,
      problem: { code: "cant-be-undone" },
    });
    expect(lastUndoable(events(), made.desk.now)).toBeNull();
  });
  it("is not taken back from under what a person has done since", () => {
    const task: Touch = {
      kind: "task",
      after: "PT0M",
      from: "start",
      note: "Process the order",
      who: { person: "p_ines" },
    };
    const { made, id, begin, tried } = bench([live("c", plan([task], { stops: [] }))]);
    const { actId } = begin();
    made.desk.advance(0);
    tried("busy");
    expect(undo(made.desk.look(id), "p_mara", actId, made.desk.events.get(id)!)).toMatchObject({
      ok: false,
      problem: { code: "too-late-to-undo" },
    });
  });
  it("does the next touch now, and goes on when a pause is over", () => {
    const { made, begin, steer, sent } = bench([live("c", plan([email("P3D"), email("P1D")]))]);
    begin();
    steer({ do: "now" });
    made.desk.advance(0);
    expect(sent()).toHaveLength(1);
    steer({ do: "pause", until: made.desk.now + 5 * DAY });
    made.desk.advance(5 * DAY - 1);
    expect(sent()).toHaveLength(1);
    made.desk.advance(1);
    expect(sent()).toHaveLength(2);
  });
  it("is no plan while it pauses without an end: the lead without a next step rings then", () => {
    const { targets } = tarnholt.policies;
    const { made, begin, steer, tried, lead } = bench([live("c", plan([email("P20D")], { stops: [] }))], {
      targets,
    });
    tried("reached");
    begin();
    made.act(lead().id, (w) => setNextStep(w, "p_mara", null));
    expect(lead().others.map((b) => b.kind)).not.toContain("aimless");
    steer({ do: "pause", until: null });
    expect(lead().others.map((b) => b.kind)).toContain("aimless");
  });
  it("says what cannot be", () => {
    const { made, id, begin, steer, lead } = bench([live("c", plan([email("P3D")]))]);
    begin();
    const run = lead().cadences[0]!.id;
    const asked = (wish: RunWish) => steerRun(made.desk.look(id), "p_mara", run, wish);
    expect(asked({ do: "resume" })).toMatchObject({ problem: { status: 409 } });
    expect(asked({ do: "move", at: made.desk.now })).toMatchObject({ problem: { errors: [{ path: "at" }] } });
    expect(asked({ do: "pause", until: made.desk.now })).toMatchObject({
      problem: { errors: [{ path: "until" }] },
    });
    steer({ do: "stop" });
    expect(asked({ do: "skip" })).toMatchObject({ problem: { code: "it-has-ended" } });
  });
});

it("whoever is in it goes on by the version they began with, until they are moved", () => {
  const one = live("c", plan([email("P1D"), email("P1D", { subject: "Old" })]));
  const b = bench([one]);
  b.begin();
  b.made.desk.advance(DAY);
  const two = {
    ...one,
    version: 2,
    live: plan([email("P1D"), email("P1D", { subject: "New" })]),
    kept: [{ version: 1, plan: one.live! }],
  };
  b.made.desk.setup = companyWith({ cadences: [two], targets: [] });
  const stays = b.lead().cadences[0]!;
  expect(stays.version).toBe(1);
  b.made.act(b.id, (w) => upgradeRun(w, stays.id));
  b.made.desk.advance(DAY);
  expect(b.sent()).toEqual(["email After P1D", "email New"]);
});

it("a customer is no open lead, and due when a step of theirs is", () => {
  const { made, id, lead } = bench([]);
  made.act(id, (w) => bought(w, "p_mara", "a barrel"));
  expect(placeOf(lead()).place).toBe("customer");
  expect(made.desk.loads.p_mara).toBe(0);
  made.act(id, (w) =>
    setNextStep(w, "p_mara", { kind: "call", note: "All well?", dueAt: made.desk.now + DAY }),
  );
  expect(placeOf(lead()).place).not.toBe("customer");
});

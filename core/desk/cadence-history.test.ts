import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { atDesk, Bench, companyWith, DAY, HOUR, MIN } from "../../tests/support/memory.ts";
import { anchorFor } from "../cadence/run.ts";
import { isDuration, touchAt } from "../cadence/when.ts";
import type { LeadEvent } from "../lead/events.ts";
import { foldAll } from "../lead/fold.ts";
import { timersOf } from "../lead/timers.ts";
import type { Cadence, CadencePlan, StopKey, Touch } from "../policy/cadence.ts";
import { startCadence, steerRun } from "./cadence.ts";
import { take } from "./hand-off.ts";
import { hearFrom, unsubscribe } from "./hear.ts";
import { close } from "./stage.ts";
import { lastUndoable, undo } from "./undo.ts";
import { logTry, setNextStep, writeTo } from "./work.ts";

/** What must hold of cadences whatever is planned and whatever happens. */

const after = fc.constantFrom("PT0M", "PT5M", "PT3H", "P1D", "P4D", "P2W", "P1M");
const touch = fc.oneof(
  {
    weight: 6,
    arbitrary: fc.record({
      kind: fc.constantFrom("email" as const, "text" as const),
      after,
      body: fc.constant("Hello"),
    }),
  },
  {
    weight: 4,
    arbitrary: fc.record({
      kind: fc.constant("call" as const),
      after,
      goesOn: fc.boolean(),
      waitHours: fc.constantFrom(2, 48),
    }),
  },
  {
    weight: 1,
    arbitrary: fc.record({ kind: fc.constant("tag" as const), after, note: fc.constant("warm") }),
  },
  {
    weight: 2,
    arbitrary: fc.record({
      kind: fc.constant("task" as const),
      after,
      note: fc.constant("Order it"),
      who: fc.constant({ person: "p_ines" }),
      goesOn: fc.boolean(),
    }),
  },
);
const timed = fc.record({
  from: fc.constantFrom("start" as const, "before" as const),
  at: fc.option(fc.constantFrom("09:00", "17:30", "23:00"), { nil: undefined }),
  zone: fc.constantFrom("lead" as const, "desk" as const),
  days: fc.constantFrom("any" as const, "weekdays" as const, "desk" as const),
  count: fc.constantFrom("all-days" as const, "allowed-days" as const),
});
const plans: fc.Arbitrary<CadencePlan> = fc.record({
  name: fc.constant("Random"),
  reason: fc.constant("a test"),
  touches: fc.array(
    fc.tuple(touch, timed).map(([a, b]) => ({ ...a, ...b }) as Touch),
    { minLength: 1, maxLength: 6 },
  ),
  stops: fc.subarray<StopKey>(["reply", "call-back", "reached", "booked", "won"]),
  enters: fc.constant([]),
  spreadMinutes: fc.constantFrom(0, 90),
  precedence: fc.integer({ min: 0, max: 5 }),
  byHandHours: fc.constantFrom(0, 12),
});
const acts = fc.array(
  fc.record({
    wait: fc.integer({ min: 0, max: 6 * 24 * 60 }),
    does: fc.constantFrom(
      "reply",
      "tried",
      "reached",
      "wrote",
      "step",
      "pause",
      "resume",
      "skip",
      "stop",
      "undo",
      "unsubscribe",
      "second",
      "close",
    ),
  }),
  { maxLength: 14 },
);

const live = (id: string, plan: CadencePlan): Cadence => ({
  id,
  version: 1,
  live: plan,
  draft: null,
  publishedAt: 0,
  kept: [],
});

const kinds = (events: readonly LeadEvent[]) => events.filter((e) => e.kind === "cadence-touched");

function play(
  plan: CadencePlan,
  second: CadencePlan,
  todo: readonly { wait: number; does: string }[],
  gapMinutes: number,
): Bench {
  const { restraint } = companyWith({}).policies;
  const cadences = [live("c", plan), live("d", { ...second, name: "Second" })];
  const bench = new Bench(
    companyWith({ cadences, restraint: { ...restraint, gapMinutes } }),
    atDesk("2026-03-05T10:00:00"),
  );
  const id = bench.arrive({ email: "ana@example.com" });
  bench.act(id, (w) => take(w, "p_mara"));
  const commit = (decide: Parameters<Bench["act"]>[1]) => void bench.desk.commit(decide(bench.desk.look(id)));
  commit((w) => startCadence(w, "p_mara", { cadenceId: "c" }));
  for (const { wait, does } of todo) {
    bench.desk.advance(wait * MIN);
    const lead = bench.lead(id);
    const open = lead.cadences.find((r) => !r.ended);
    const by = "p_mara";
    const events = bench.desk.events.get(id)!;
    if (does === "reply")
      commit((w) => hearFrom(w, { channel: "text", from: lead.phones[0]!, subject: null, body: "Hm?" }));
    else if (does === "tried")
      commit((w) => logTry(w, { personId: by, channel: "call", outcome: "voicemail" }));
    else if (does === "reached")
      commit((w) => logTry(w, { personId: by, channel: "call", outcome: "reached" }));
    else if (does === "wrote") commit((w) => writeTo(w, { personId: by, channel: "email", body: "By hand" }));
    else if (does === "step")
      commit((w) => setNextStep(w, by, { kind: "call", note: "By hand", dueAt: w.now + 2 * DAY }));
    else if (does === "unsubscribe") commit((w) => unsubscribe(w));
    else if (does === "second") commit((w) => startCadence(w, by, { cadenceId: "d" }));
    else if (does === "close") commit((w) => close(w, by, "No fit"));
    else if (does === "undo")
      commit((w) => undo(w, by, lastUndoable(events, w.now)?.actId ?? events.at(-1)!.actId, events));
    else if (open)
      commit((w) =>
        steerRun(
          w,
          by,
          open.id,
          does === "pause"
            ? { do: "pause", until: w.now + 3 * DAY }
            : { do: does as "resume" | "skip" | "stop" },
        ),
      );
  }
  bench.desk.advance(40 * DAY);
  return bench;
}

describe("cadences over random plans and histories", () => {
  it("keep their promises", () => {
    fc.assert(
      fc.property(plans, plans, acts, fc.constantFrom(0, 45), (plan, second, todo, gap) => {
        const bench = play(plan, second, todo, gap);
        const [lead] = bench.desk.leads.values();
        const events = bench.desk.events.get(lead!.id)!;
        // A row equals the fold of its events, and its timers are those it wants.
        expect(foldAll(events)).toEqual(lead);
        const wanted = timersOf(lead!)
          .filter((t) => t.kind === "touch")
          .map((t) => [t.id, t.dueAt]);
        const kept = [...bench.desk.timers.values()]
          .filter((t) => t.kind === "touch")
          .map((t) => [t.id, t.dueAt]);
        expect(kept.sort()).toEqual(wanted.sort());
        // No message twice, whatever was undone: one key each.
        const sent = bench.desk.messages.filter((m) => m.purpose === "cadence");
        expect(new Set(sent.map((m) => m.key)).size).toBe(sent.length);
        inOrder(events);
        quietAfterStops(events);
        keptApart(events, gap);
        neverEarly(events, lead!, bench);
      }),
      { numRuns: 250 },
    );
  });
});

/** Touches of a run come one after the other, and each once in a round unless an undo put it back. */
function inOrder(events: readonly LeadEvent[]): void {
  if (events.some((e) => e.kind === "undone")) return;
  const last = new Map<string, number>();
  for (const { data } of kinds(events) as { data: { runId: string; n: number; did: string } }[]) {
    const before = last.get(data.runId) ?? -1;
    expect(data.n).toBeGreaterThanOrEqual(before);
    if (data.did === "sent") expect(data.n).toBeGreaterThan(before);
    last.set(data.runId, data.n);
  }
}

/** Nothing of a run that has stopped, and nothing while they wait for an answer. */
function quietAfterStops(events: readonly LeadEvent[]): void {
  if (events.some((e) => e.kind === "undone")) return;
  const stopped = new Set<string>();
  let waiting = false;
  for (const e of events) {
    if (e.kind === "cadence-stopped" || e.kind === "cadence-done") stopped.add(e.data.runId);
    if (e.kind === "message-in") waiting = true;
    if (e.kind === "tried" || e.kind === "closed") waiting = false;
    if (e.kind === "cadence-touched" && e.data.did === "sent") {
      expect(stopped.has(e.data.runId)).toBe(false);
      expect(waiting).toBe(false);
    }
  }
}

/** Two automatic messages of cadences never go within the gap, and never more in a day than allowed. */
function keptApart(events: readonly LeadEvent[], gap: number): void {
  const times = events.flatMap((e) => (e.kind === "message-out" && e.data.auto ? [e.at] : []));
  const own = kinds(events)
    .filter((e) => (e.data as { did: string }).did === "sent")
    .map((e) => e.at);
  for (const at of own) {
    const before = times.filter((t) => t <= at);
    if (gap > 0 && before.length > 1) {
      const previous = before.filter((t) => t < at).at(-1);
      if (previous !== undefined) expect(at - previous).toBeGreaterThanOrEqual(gap * MIN);
      expect(before.filter((t) => t === at)).toHaveLength(1);
    }
    expect(times.filter((t) => t <= at && t > at - 24 * HOUR).length).toBeLessThanOrEqual(6);
  }
}

/** No message before the moment its touch names, reckoned anew from what came before it. */
function neverEarly(events: readonly LeadEvent[], lead: Parameters<typeof anchorFor>[2], bench: Bench): void {
  if (events.some((e) => e.kind === "undone" || e.kind === "cadence-resumed")) return;
  for (const started of events.filter((e) => e.kind === "cadence-started")) {
    const { run } = started.data as { run: Parameters<typeof anchorFor>[1] & { id: string; n: number } };
    const plan = bench.desk.setup.policies.cadences.find((c) => c.id === run.cadenceId)!.live!;
    let lastAt = run.startedAt;
    for (const e of events) {
      if (e.kind !== "cadence-touched" || e.data.runId !== run.id) continue;
      const touch = plan.touches[e.data.n]!;
      expect(isDuration(touch.after)).toBe(true);
      const due = touchAt(touch, anchorFor(touch, { ...run, lastAt }, lead, bench.desk.setup))!;
      if (e.data.did === "sent") expect(e.at).toBeGreaterThanOrEqual(due);
      lastAt = e.data.next.lastAt;
    }
  }
}

import { evaluate } from "../condition/condition.ts";
import type { EventData, EventKind, LeadEvent } from "../lead/events.ts";
import { factsOf } from "../lead/fields.ts";
import type { CadenceRun, Lead, PauseWhy, StopWhy } from "../lead/lead.ts";
import { type Cadence, type Entry, isForParked, type StopKey } from "../policy/cadence.ts";
import type { Setup } from "../policy/setup.ts";
import { againFrom, beginRun, headOf, isStep, nextAfter, onFrom, openRuns, planOfRun } from "./run.ts";

const HOUR = 3_600_000;
const DESK = { actor: { kind: "desk" } } as const;

/** A plan of the desk in the making, as cadences see it. */
export interface Course {
  readonly lead: Lead;
  /** What it does so far. */
  readonly events: readonly LeadEvent[];
  add<K extends EventKind>(kind: K, data: EventData[K], how?: { actor?: LeadEvent["actor"] }): unknown;
  /** Call a message back that may not have left yet. */
  recall(messageId: string): void;
}

interface Around {
  readonly setup: Setup;
  readonly now: number;
  readonly id: (prefix: string) => string;
}

/** What stops or holds back, told by what has just happened. */
interface Heard {
  readonly stop: StopWhy | null;
  readonly key: StopKey | null;
  /** They asked for that time (epoch ms). */
  readonly asked: number | null;
  /** Somebody of ours wrote to them by hand. */
  readonly byHand: boolean;
}

/** What an event says to the cadences a lead is in. */
function heard(event: LeadEvent, before: Lead | null): Heard | null {
  const stop = (key: StopKey, why: StopWhy): Heard => ({ stop: why, key, asked: null, byHand: false });
  switch (event.kind) {
    case "message-in":
      return event.data.robot || event.data.word ? null : stop("reply", "reply");
    case "inquiry":
      return before && !event.data.kept ? stop("reply", "reply") : null;
    case "called-in":
      return event.data.result === "answered" ? stop("reached", "reached") : stop("call-back", "call-back");
    case "tried":
      return event.data.reached ? stop("reached", "reached") : null;
    case "booked":
      return stop("booked", "booked");
    case "bought":
      return stop("won", "won");
    case "bell-moved":
      return event.data.askedFor
        ? { stop: null, key: null, asked: event.data.askedFor, byHand: false }
        : null;
    case "promised":
      return { stop: null, key: null, asked: event.data.promise.at, byHand: false };
    case "message-out":
      return event.data.auto || event.actor.kind !== "person"
        ? null
        : { stop: null, key: null, asked: null, byHand: true };
    default:
      return null;
  }
}

/**
 * What a plan of the desk means for the cadences of its lead: nobody has to remember to stop one, and none is begun but
 * here. Called once for each plan, after all else was decided.
 */
export function followCadences(course: Course, before: Lead | null, around: Around): void {
  const events = [...course.events];
  // What was taken back or joined has its cadences with it.
  if (events.some((e) => e.kind === "undone" || e.kind === "joined-to" || e.kind === "parted")) return;
  if (course.lead.cadences.some((r) => !r.ended)) {
    stopAndPause(course, events, before, around);
    goOn(course, before, around);
  }
  enter(course, before, around);
  settle(course, before, around);
  showSteps(course, around);
}

function stopAndPause(
  course: Course,
  events: readonly LeadEvent[],
  before: Lead | null,
  { setup, now }: Around,
): void {
  const { lead } = course;
  const all = events.flatMap((e) => heard(e, before) ?? []);
  const stage: StopKey | null = before && before.stage !== lead.stage ? `stage:${lead.stage}` : null;
  const wasParked = before?.parked ?? null;
  for (const run of openRuns(lead, setup)) {
    const plan = planOfRun(setup, run);
    const why: StopWhy | null = lead.closed
      ? "closed"
      : !plan
        ? "gone"
        : lead.parked && !wasParked && !isForParked(plan)
          ? "parked"
          : wasParked && !lead.parked && isForParked(plan)
            ? "woken"
            : (all.find((h) => h.key && plan.stops.includes(h.key))?.stop ??
              (stage && plan.stops.includes(stage) ? "stage" : null));
    if (why) {
      stopRun(course, setup, run, why);
      continue;
    }
    const loud = all.find((h) => h.key === "reply" || h.key === "call-back");
    if (loud && (lead.replyWaiting !== null || lead.callBack !== null))
      pauseRun(course, setup, run, "reply", null);
    const asked = all.find((h) => h.asked !== null)?.asked ?? null;
    if (asked !== null) pauseRun(course, setup, run, "asked", asked);
    const hours = plan?.byHandHours ?? 0;
    if (hours > 0 && all.some((h) => h.byHand))
      course.add("cadence-quieted", { ...headOf(setup, run), until: now + hours * HOUR }, DESK);
  }
}

/** End a run, and call back what it has sent last where that waits still. */
export function stopRun(
  course: Course,
  setup: Setup,
  run: CadenceRun,
  why: StopWhy,
  reason?: string,
  how: object = DESK,
): void {
  if (run.messageId) course.recall(run.messageId);
  course.add("cadence-stopped", { ...headOf(setup, run), n: run.n, why, ...(reason && { reason }) }, how);
}

/** Hold a run back: what it has sent last is called back where it waits still. One held by hand stays so. */
export function pauseRun(
  course: Course,
  setup: Setup,
  run: CadenceRun,
  why: PauseWhy,
  until: number | null,
  more: { readonly by?: string; readonly reason?: string } = {},
  how: object = DESK,
): void {
  const now = course.lead.cadences.find((r) => r.id === run.id);
  if (!now || now.ended) return;
  // What holds longer goes on holding; what they do comes before what we planned.
  const held = now.pause;
  if (held && why !== "person" && why !== "reply") {
    if (held.why === "person" || held.why === "reply" || (held.until ?? Infinity) >= (until ?? Infinity))
      return;
  }
  if (held?.why === why && held.until === until && held.by === more.by) return;
  // Only what they do is a reason not to let go what was decided already.
  if (why === "reply" && now.messageId) course.recall(now.messageId);
  course.add("cadence-paused", { ...headOf(setup, run), why, until, ...more }, how);
}

/** A call or task that was waited for is done, and what waited for an answer goes on once it was given. */
function goOn(course: Course, before: Lead | null, { setup, now }: Around): void {
  for (const { id } of openRuns(course.lead, setup)) {
    const run = course.lead.cadences.find((r) => r.id === id)!;
    const plan = planOfRun(setup, run);
    if (!plan || run.ended) continue;
    if (run.pause?.why === "reply" && course.lead.replyWaiting === null && course.lead.callBack === null)
      resumeRun(course, setup, run, now, "they were answered");
    if (run.state !== "running") continue;
    const touch = plan.touches[run.n];
    const shown = touch && isStep(touch) && course.lead.nextStep?.touch?.runId === run.id;
    if (!touch || shown) continue;
    // Its step was there and is no more: somebody has done it, whenever it was due.
    const task = course.lead.tasks.some((t) => t.runId === run.id);
    if ((touch.kind === "call" || touch.kind === "task") && (run.waits ? !task : wasShown(before, run)))
      touched(course, setup, run, now, { did: "done", reason: "done" });
  }
}

/** Whether the step of a run stood on the lead before this plan. */
const wasShown = (before: Lead | null, { id, n }: CadenceRun) =>
  before?.nextStep?.touch?.runId === id && before.nextStep.touch.n === n;

/** Go on with a run that was held back. */
export function resumeRun(
  course: Course,
  setup: Setup,
  run: CadenceRun,
  now: number,
  reason: string,
  how: object = DESK,
): void {
  const at = onFrom(run, course.lead, setup, now);
  course.add("cadence-resumed", { ...headOf(setup, run), at, reason }, how);
}

type Did = Pick<EventData["cadence-touched"], "did" | "reason" | "messageId" | "waits" | "ring">;

/** Write down that the touch a run stood at was done or left out, and where it goes from there: on, round again, or out. */
export function touched(
  course: Course,
  setup: Setup,
  run: CadenceRun,
  now: number,
  did: Did,
  to?: number,
  how: object = DESK,
): void {
  const plan = planOfRun(setup, run);
  const touch = plan?.touches[run.n];
  if (!plan || !touch) return;
  const { n } = run;
  const of = headOf(setup, run);
  const head = { ...of, n, kind: touch.kind };
  if (did.waits) {
    const next = {
      n,
      kind: touch.kind,
      at: null,
      round: run.round,
      startedAt: run.startedAt,
      lastAt: run.lastAt,
    };
    course.add("cadence-touched", { ...head, ...did, next }, DESK);
    return;
  }
  const next = nextAfter(plan, run, course.lead, setup, to ?? n, now);
  const here = {
    n: plan.touches.length,
    kind: touch.kind,
    at: null,
    round: run.round,
    startedAt: run.startedAt,
    lastAt: now,
  };
  course.add("cadence-touched", { ...head, ...did, next: next ?? here }, how);
  const step = course.lead.nextStep?.touch;
  if (step?.runId === run.id && step.n === n && (did.did === "done" || did.did === "skipped"))
    course.add("next-step", { step: null }, DESK);
  if (!next) course.add("cadence-done", of, DESK);
}

/** Touches by which it is settled what becomes of the lead next: a person’s work, or an end. Messages alone settle nothing. */
const SETTLES: ReadonlySet<string> = new Set(["call", "task", "route", "list", "park", "close"]);

/**
 * Whether a cadence the lead is in says what comes next for people, after a try that reached them or did not: then the
 * outcome’s own step is not wanted beside it.
 */
export function goesOn(lead: Lead, setup: Setup, reached: boolean): boolean {
  return openRuns(lead, setup).some((run) => {
    const plan = planOfRun(setup, run);
    if (!plan || run.state !== "running" || (reached && plan.stops.includes("reached"))) return false;
    const doing = run.waits !== null || lead.nextStep?.touch?.runId === run.id;
    const again = againFrom(plan, run);
    const rest = [
      ...plan.touches.slice(run.n + (doing ? 1 : 0)),
      ...(again === null ? [] : plan.touches.slice(again)),
    ];
    return rest.some((t) => SETTLES.has(t.kind));
  });
}

/** Each cadence that begins by what these events are, with the way in that fits. */
function beginning(
  events: readonly LeadEvent[],
  before: Lead | null,
  lead: Lead,
  setup: Setup,
  now: number,
): readonly { readonly cadence: Cadence; readonly entry: Entry }[] {
  return setup.policies.cadences.flatMap((cadence) => {
    const entry = cadence.live?.enters.find((e) => fits(e, events, before, lead, setup, now));
    return entry && whyNot(cadence, lead) === null ? [{ cadence, entry }] : [];
  });
}

/** Whether a cadence begins by what these events are. */
export const entersBy = (...of: Parameters<typeof beginning>): boolean => beginning(...of).length > 0;

/** Who begins, by what has just happened. */
function enter(course: Course, before: Lead | null, around: Around): void {
  const { setup, now } = around;
  const events = [...course.events];
  if (course.lead.closed || course.lead.joinedTo) return;
  // One that began just before may have changed what holds.
  for (const { cadence, entry } of beginning(events, before, course.lead, setup, now))
    if (whyNot(cadence, course.lead) === null)
      start(course, cadence, around, { by: entered(entry, setup), from: begun(entry, cadence, course.lead) });
  const handedOn = events.flatMap((e) => (e.kind === "cadence-done" ? [e.data] : []));
  for (const { cadenceId, version, name } of handedOn) {
    const plan = planOfRun(setup, { cadenceId, version } as CadenceRun);
    const next = setup.policies.cadences.find((c) => c.id === plan?.then?.cadenceId);
    if (next && whyNot(next, course.lead, true) === null)
      start(course, next, around, { by: `after “${name}”` });
  }
}

/** A try already made counts: a cadence begun by one that reached nobody begins after as many calls as were made since. */
function begun(entry: Entry, cadence: Cadence, lead: Lead): number {
  if (entry.on !== "outcome") return 0;
  const made = lead.fruitless - (entry.nth ?? 1);
  if (made <= 0) return 0;
  let calls = 0;
  const at = cadence.live!.touches.findIndex((t) => t.kind === "call" && ++calls === made);
  return at < 0 ? 0 : at + 1;
}

/** Why a lead can't begin a cadence, in words; null when it can. `handedOn`: from another, which may be itself. */
export function whyNot(cadence: Cadence, lead: Lead, handedOn = false): string | null {
  const { live } = cadence;
  if (!live) return "the cadence is not published";
  if (cadence.off) return "the cadence is switched off";
  if (lead.closed) return "the lead is closed";
  if (lead.joinedTo) return "the lead was joined to another";
  if (lead.cadences.some((r) => r.cadenceId === cadence.id && !r.ended)) return "it is in it already";
  if (live.once && !handedOn && lead.cadences.some((r) => r.cadenceId === cadence.id))
    return "it was in it once";
  if (isForParked(live) && !lead.parked) return "only parked leads can be in it";
  if (!isForParked(live) && lead.parked) return "the lead is parked";
  if (lead.replyWaiting !== null || lead.callBack !== null) return "they wait for an answer";
  return null;
}

function fits(
  entry: Entry,
  events: readonly LeadEvent[],
  before: Lead | null,
  lead: Lead,
  setup: Setup,
  now: number,
): boolean {
  const has = (kind: EventKind) => events.some((e) => e.kind === kind);
  const happened = {
    inquiry: () => events.some((e) => e.kind === "inquiry" && !e.data.kept),
    outcome: () =>
      events.some((e) => e.kind === "tried" && e.data.outcome === entry.value) &&
      lead.fruitless >= (entry.nth ?? 1),
    tag: () => lead.tags.includes(entry.value ?? "") && !before?.tags.includes(entry.value ?? ""),
    stage: () => lead.stage === entry.value && before?.stage !== entry.value,
    parked: () => lead.parked !== null && has("parked"),
    won: () => has("bought"),
  }[entry.on];
  return happened() && (!entry.when || evaluate(entry.when, factsOf(lead, setup, now)));
}

function entered({ on, value, nth }: Entry, setup: Setup): string {
  switch (on) {
    case "inquiry":
      return "they inquired";
    case "outcome":
      return `${setup.policies.outcomes.find((o) => o.key === value)?.name.toLowerCase() ?? value}${nth && nth > 1 ? `, ${nth} times in a row` : ""}`;
    case "tag":
      return `tagged “${value}”`;
    case "stage":
      return `in the stage “${value}”`;
    case "parked":
      return "parked";
    case "won":
      return "they bought";
  }
}

export interface Starting {
  /** How it got in, in words. */
  readonly by: string;
  readonly startAt?: number | undefined;
  readonly spreadMinutes?: number | undefined;
  readonly from?: number | undefined;
  readonly actor?: LeadEvent["actor"] | undefined;
}

/** Begin a cadence with a lead that can. False when nothing in it has a time for them. */
export function start(course: Course, cadence: Cadence, { setup, now, id }: Around, how: Starting): boolean {
  const plan = cadence.live!;
  const run = beginRun(cadence, plan, course.lead, setup, {
    id: id("run"),
    startAt: how.startAt ?? now,
    spreadMinutes: how.spreadMinutes,
    ...(how.from && { from: how.from }),
  });
  if (!run) return false;
  course.add(
    "cadence-started",
    { ...headOf(setup, run), run, by: how.by },
    { actor: how.actor ?? { kind: "desk" } },
  );
  return true;
}

/** The stronger one goes first: it holds the weaker back, or ends it, and gives it back when it has ended. */
function settle(course: Course, before: Lead | null, { setup, now }: Around): void {
  if (
    course.lead.cadences === before?.cadences &&
    course.lead.cadences.every((r) => r.pause?.why !== "precedence")
  )
    return;
  const open = openRuns(course.lead, setup);
  for (const run of open) {
    if (run.pause?.why !== "precedence") continue;
    if (!open.some((r) => r.id === run.pause?.by))
      resumeRun(course, setup, run, now, "what went before it has ended");
  }
  const [first] = openRuns(course.lead, setup);
  const top = first && planOfRun(setup, first);
  if (!first || !top) return;
  for (const run of openRuns(course.lead, setup)) {
    const plan = planOfRun(setup, run);
    if (run.id === first.id || !plan || plan.precedence >= top.precedence) continue;
    if (top.over === "ends") stopRun(course, setup, run, "higher", `“${top.name}” goes before it`);
    else if (run.state === "running")
      pauseRun(course, setup, run, "precedence", null, { by: first.id, reason: `“${top.name}” goes first` });
  }
}

/** A call or task that comes next is the lead's next step as soon as it is known, unless somebody has planned another. */
function showSteps(course: Course, { setup }: Around): void {
  for (const run of openRuns(course.lead, setup)) {
    const { nextStep } = course.lead;
    if (run.state !== "running" || run.at === null || run.waits) continue;
    const touch = planOfRun(setup, run)?.touches[run.n];
    if (!touch || !isStep(touch) || (touch.when ?? null) !== null) continue;
    const { ownerId, parked } = course.lead;
    const own = nextStep?.touch?.runId === run.id;
    if (parked || (nextStep && !own) || (own && nextStep.dueAt === run.at && nextStep.touch?.n === run.n))
      continue;
    course.add("next-step", { step: stepOf(touch, run, run.at, ownerId) }, DESK);
  }
}

/** The next step a touch is. */
export const stepOf = (
  touch: { readonly kind: string; readonly note?: string | undefined },
  run: CadenceRun,
  at: number,
  personId: string | null,
) => ({
  kind: touch.kind === "call" ? ("call" as const) : ("task" as const),
  dueAt: at,
  note: touch.note?.trim() || (touch.kind === "call" ? "Call" : "Task"),
  personId,
  touch: { runId: run.id, n: run.n },
});

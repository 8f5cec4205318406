import {
  type Course,
  pauseRun,
  resumeRun,
  start,
  stepOf,
  stopRun,
  touched,
  whyNot,
} from "../cadence/course.ts";
import { anchorFor, cadenceOf, headOf, isStep, openRuns, planOfRun } from "../cadence/run.ts";
import { noSooner } from "../cadence/when.ts";
import { evaluate } from "../condition/condition.ts";
import { factsOf } from "../lead/fields.ts";
import type { CadenceRun } from "../lead/lead.ts";
import { wakesAt } from "../lead/timers.ts";
import type { CadencePlan, Touch, TouchFor } from "../policy/cadence.ts";
import { nextOnDuty, presence } from "../policy/people.ts";
import { personOf, type Setup } from "../policy/setup.ts";
import { type Refused, refuse } from "../refusal.ts";
import { routeOn } from "./hand-off.ts";
import { parkIt } from "./park.ts";
import { type Decided, Draft, type World } from "./plan.ts";
import { leadIsClosed, nobodyByThatId, noSuchLead } from "./refusals.ts";
import { sendTouch } from "./send.ts";
import { tell } from "./tell.ts";

const HOUR = 3_600_000;
const MINUTE = 60_000;
const DESK = { kind: "desk" } as const;
/** So many touches follow at once at most: the rest have their turn at the next look. */
const AT_ONCE = 20;

/** Something is due about the cadences of a lead: touches, the end of a wait, the end of a pause. */
export function touchDue(world: World): Decided {
  const draft = new Draft(world, DESK);
  const { now, setup } = world;
  for (let i = 0; i < AT_ONCE && world.lead; i++) {
    if (draft.lead.closed) break;
    const due = openRuns(draft.lead, setup).find((r) => (wakesAt(r) ?? Number.POSITIVE_INFINITY) <= now);
    if (!due) break;
    wakeRun(draft, due);
  }
  return draft.done();
}

function wakeRun(draft: Draft, run: CadenceRun): void {
  const { setup, now } = draft.world;
  const plan = planOfRun(setup, run);
  if (!plan) stopRun(draft, setup, run, "gone");
  else if (run.state === "paused") resumeRun(draft, setup, run, now, "the pause is over");
  else if (run.waits)
    touched(draft, setup, run, now, { did: "skipped", reason: "it was not done in time" }, undefined);
  else doTouch(draft, run, plan);
}

/** The touch's own moment has come. It is weighed here and nowhere before. */
function doTouch(draft: Draft, run: CadenceRun, plan: CadencePlan): void {
  const { setup, now } = draft.world;
  const touch = plan.touches[run.n];
  if (!touch) {
    touched(draft, setup, run, now, { did: "skipped", reason: "there is no such touch" });
    return;
  }
  // Whoever waits for an answer gets one from a person first.
  if (draft.lead.replyWaiting !== null || draft.lead.callBack !== null) {
    pauseRun(draft, setup, run, "reply", null);
    return;
  }
  const holds = !touch.when || evaluate(touch.when, factsOf(draft.lead, setup, now));
  if (!holds || touch.kind === "if") {
    const reason = holds ? "it holds" : "what it asks does not hold";
    touched(
      draft,
      setup,
      run,
      now,
      { did: holds ? "done" : "skipped", reason },
      holds ? undefined : toOther(touch),
    );
    return;
  }
  ACTS[touch.kind](draft, run, touch, plan);
}

/** 0-based index of the touch before the one it goes on at; undefined when it just goes on. */
const toOther = ({ otherwise }: Touch) => (otherwise ? otherwise - 2 : undefined);

type Act = (draft: Draft, run: CadenceRun, touch: Touch, plan: CadencePlan) => unknown;

const ACTS: Readonly<Record<Exclude<Touch["kind"], "if">, Act>> = {
  email: message,
  text: message,
  call: work,
  task: work,
  alert: (draft, run, touch) => {
    const to = whoFor(draft, touch.who ?? { owner: true });
    tell(draft, to, "planned", touch.note?.trim() ? { heading: `${touch.note.trim()}` } : {});
    done(draft, run, "told", to.length > 0 ? touch.note || "told" : "nobody to tell");
  },
  tag: (draft, run, { note }) => {
    const tag = note?.trim();
    const has = !tag || draft.lead.tags.includes(tag);
    if (!has) draft.add("learned", { facts: { tags: [...draft.lead.tags, tag] } });
    done(draft, run, has ? "skipped" : "done", has ? "it has that tag already" : `tagged “${tag}”`);
  },
  route: (draft, run) => {
    const { ownerId, handOff, parked } = draft.lead;
    if (ownerId || (handOff && handOff.state !== "taken"))
      return done(draft, run, "skipped", "somebody has it");
    done(draft, run, "done", "the rules are asked who gets it");
    if (parked) draft.add("woken", { signal: "visit", ruleId: null, ruleName: "its cadence", does: "route" });
    routeOn(draft);
  },
  list: (draft, run, { note }) => {
    if (draft.lead.listed) return done(draft, run, "skipped", "it is on the manager’s list already");
    const { parked } = draft.lead;
    const reason = note?.trim() || "its cadence asks for a look";
    draft.add("listed", { reason: parked ? `parked (${parked.reason}): ${reason}` : reason, retryAt: null });
    done(draft, run, "done", "on the manager’s list");
  },
  park: (draft, run, { note, planId }) => {
    if (draft.lead.parked) return done(draft, run, "skipped", "it is parked already");
    done(draft, run, "done", "parked");
    parkIt(draft, note?.trim() || "its cadence parks it", planId ?? null);
  },
  close: (draft, run, { note }) => {
    done(draft, run, "done", "closed");
    draft.add("closed", { reason: note?.trim() || "Never reached" });
  },
};

function done(draft: Draft, run: CadenceRun, did: "done" | "told" | "skipped", reason: string): void {
  touched(draft, draft.world.setup, run, draft.world.now, { did, reason });
}

function moveTo(draft: Draft, run: CadenceRun, at: number, reason: string): void {
  draft.add("cadence-moved", { ...headOf(draft.world.setup, run), n: run.n, at, reason });
}

/** A message: goes now, later, or not at all, as gaps, hands and restraint have it. */
function message(draft: Draft, run: CadenceRun, touch: Touch, plan: CadencePlan): unknown {
  const { setup, now } = draft.world;
  const gap = (setup.policies.restraint.gapMinutes ?? 0) * MINUTE;
  const last = draft.lead.automatic.at(-1) ?? Number.NEGATIVE_INFINITY;
  const allowed = (from: number) => noSooner(touch, anchorFor(touch, run, draft.lead, setup), from);
  if (run.quietUntil && run.quietUntil > now)
    return moveTo(draft, run, allowed(run.quietUntil), "one of us has just written to them");
  if (gap > 0 && last + gap > now)
    return moveTo(draft, run, allowed(last + gap), "another message went just before");
  const sent = sendTouch(draft, run, touch, plan);
  if (sent.does === "hold") return moveTo(draft, run, Math.max(sent.until, now + 1), sent.reason);
  return touched(
    draft,
    setup,
    run,
    now,
    sent.does === "send"
      ? { did: "sent", reason: touch.kind === "email" ? "mail sent" : "text sent", messageId: sent.messageId }
      : { did: "skipped", reason: sent.reason.replace(/\.$/, "") },
  );
}

/** A call or a task: the lead's next step, or a task of somebody else's. */
function work(draft: Draft, run: CadenceRun, touch: Touch, plan: CadencePlan): unknown {
  const { setup, now, id } = draft.world;
  const waits = touch.goesOn ? undefined : { until: touch.waitHours ? now + touch.waitHours * HOUR : null };
  const did = { did: "set" as const, reason: touch.note?.trim() || touch.kind, ...(waits && { waits }) };
  if (!isStep(touch)) {
    const to = whoFor(draft, touch.who!);
    if (to.length === 0) return done(draft, run, "skipped", "nobody is there to do it");
    draft.add("task-set", {
      task: { id: id("task"), note: did.reason, dueAt: now, to, runId: waits ? run.id : null },
    });
    tell(draft, to, "planned", { heading: did.reason });
    return touched(draft, setup, run, now, did);
  }
  const { ownerId, parked, nextStep } = draft.lead;
  if (parked) {
    if (!draft.lead.listed)
      draft.add("listed", { reason: `parked (${parked.reason}): ${did.reason}`, retryAt: null });
    return done(draft, run, "told", "on the manager’s list");
  }
  const owner = personOf(setup, ownerId);
  if (owner && plan.away === "waits" && owner.absences.some((a) => a.from <= now && now < a.to)) {
    const back = nextOnDuty(owner, now);
    if (back !== null) return moveTo(draft, run, back, `${owner.name} is away`);
  }
  // What somebody has planned by hand is the call this one asks for.
  const theirs =
    nextStep && nextStep.touch?.runId !== run.id && nextStep.kind === "call" && touch.kind === "call";
  const step = theirs
    ? { ...nextStep, touch: { runId: run.id, n: run.n } }
    : stepOf(touch, run, nextStep?.touch?.runId === run.id ? nextStep.dueAt : now, ownerId);
  if (JSON.stringify(step) !== JSON.stringify(nextStep)) draft.add("next-step", { step });
  const ring = touch.kind === "call" && touch.ring && owner && !theirs && presence(owner, now).onDuty;
  return touched(draft, setup, run, now, { ...did, ...(ring && { ring: true as const }) });
}

/** Who is meant, as people who are here now. */
function whoFor(draft: Draft, who: TouchFor): readonly string[] {
  const { setup } = draft.world;
  const here = (ids: readonly string[]) =>
    ids.filter((id) => personOf(setup, id) && !personOf(setup, id)!.left);
  if ("owner" in who) return here(draft.lead.ownerId ? [draft.lead.ownerId] : []);
  if ("person" in who) return here([who.person]);
  if ("role" in who) return here(setup.people.filter((p) => p.role === who.role).map((p) => p.id));
  return here(setup.groups.find((g) => g.id === who.group)?.members.map((m) => m.personId) ?? []);
}

export interface StartWish {
  readonly cadenceId: string;
  /** Epoch ms; now when left out. */
  readonly startAt?: number | undefined;
  readonly spreadMinutes?: number | undefined;
}

/** Somebody puts a lead into a cadence. Whoever is in it already is refused. */
export function startCadence(world: World, by: string, wish: StartWish): Decided {
  const opened = open(world, by);
  if (!(opened instanceof Draft)) return opened;
  const cadence = cadenceOf(world.setup, wish.cadenceId);
  if (!cadence)
    return refuse("no-such-cadence", 404, "No such cadence", "`cadenceId` names no cadence.", "cadenceId");
  const against = whyNot(cadence, opened.lead);
  if (against)
    return refuse("it-cant-be-in-it", 409, "It can’t be in it", `${capital(against)}.`, "cadenceId");
  if (wish.startAt !== undefined && wish.startAt < world.now - MINUTE)
    return refuse("in-the-past", 422, "In the past", "A cadence begins now or later.", "startAt");
  const begun = start(opened, cadence, world, {
    by: "by hand",
    startAt: wish.startAt,
    spreadMinutes: wish.spreadMinutes,
    actor: { kind: "person", id: by },
  });
  if (!begun)
    return refuse(
      "no-date-known",
      409,
      "No date known",
      "Nothing in it has a time for this lead: a date it names is missing.",
    );
  return opened.done();
}

/** What somebody does with a cadence a lead is in. */
export type RunWish =
  | { readonly do: "pause"; readonly until: number | null; readonly reason?: string | undefined }
  | { readonly do: "resume" | "stop" | "skip" | "now"; readonly reason?: string | undefined }
  | { readonly do: "move"; readonly at: number; readonly reason?: string | undefined };

/** Stop every cadence a lead is in. */
export function stopRuns(world: World, by: string, reason: string): Decided {
  const draft = open(world, by);
  if (!(draft instanceof Draft)) return draft;
  const runs = draft.lead.cadences.filter((r) => !r.ended);
  if (runs.length === 0) return refuse("in-no-cadence", 409, "In no cadence", "It is in no cadence.");
  for (const run of runs)
    stopRun(draft, world.setup, run, "person", reason.trim() || undefined, {
      actor: { kind: "person", id: by },
    });
  return draft.done();
}

/** Pause, go on, stop, skip the next touch, do it now, or move it. Each is one act that can be taken back. */
export function steerRun(world: World, by: string, runId: string, wish: RunWish): Decided {
  const draft = open(world, by);
  if (!(draft instanceof Draft)) return draft;
  const { setup, now } = world;
  const run = draft.lead.cadences.find((r) => r.id === runId);
  if (!run) return refuse("no-such-run", 404, "Not in it", "The lead was never in that cadence.");
  if (run.ended)
    return refuse(
      "it-has-ended",
      409,
      "It has ended",
      "The cadence has ended for this lead. Start it again.",
    );
  const how = { actor: { kind: "person", id: by } } as const;
  const of = headOf(setup, run);
  const reason = wish.reason?.trim() || undefined;
  switch (wish.do) {
    case "pause":
      if (wish.until !== null && wish.until <= now)
        return refuse(
          "in-the-past",
          422,
          "In the past",
          "Pause until a time still to come, or without an end.",
          "until",
        );
      if (run.messageId) draft.recall(run.messageId);
      draft.add(
        "cadence-paused",
        { ...of, why: "person", until: wish.until, ...(reason && { reason }) },
        how,
      );
      break;
    case "resume":
      if (run.state !== "paused")
        return refuse("it-goes-on", 409, "It goes on", "The cadence does not pause.");
      resumeRun(draft, setup, run, now, reason ?? "by hand", how);
      break;
    case "stop":
      stopRun(draft, setup, run, "person", reason, how);
      break;
    case "skip":
      if (run.state !== "running") return notNow();
      touched(
        draft,
        setup,
        run,
        now,
        { did: "skipped", reason: reason ?? "left out by hand" },
        undefined,
        how,
      );
      break;
    case "now":
      if (run.state !== "running" || run.waits) return notNow();
      draft.add(
        "cadence-moved",
        { ...of, n: run.n, at: now, reason: reason ?? "by hand", byHand: true },
        how,
      );
      break;
    case "move":
      if (run.state !== "running") return notNow();
      if (wish.at <= now)
        return refuse("in-the-past", 422, "In the past", "Move it to a time still to come.", "at");
      draft.add(
        "cadence-moved",
        { ...of, n: run.n, at: wish.at, reason: reason ?? "by hand", byHand: true },
        how,
      );
  }
  return draft.done();
}

const notNow = (): Refused =>
  refuse(
    "it-does-not-run",
    409,
    "It does not run now",
    "The cadence pauses or waits for somebody’s work. Let it go on first.",
  );

/** Those in an earlier version go on by the newest from where they stand; where nothing before their touch has changed. */
export function upgradeRun(world: World, runId: string): Decided {
  const draft = new Draft(world, DESK);
  const run = draft.lead.cadences.find((r) => r.id === runId);
  const cadence = run && cadenceOf(world.setup, run.cadenceId);
  if (!run || run.ended || !cadence?.live || !mayUpgrade(world.setup, run)) return draft.done();
  const touch = cadence.live.touches[run.n];
  const again = { ...run, version: cadence.version };
  const at = touch && !run.waits ? (laterOf(draft, again, touch) ?? run.at) : run.at;
  return draft
    .add("cadence-upgraded", { ...headOf(world.setup, again), at, kind: touch?.kind ?? run.kind })
    .done();
}

/** When the touch of the newer version may go: no sooner than it stood, and as that one's days and times have it. */
function laterOf(draft: Draft, run: CadenceRun, touch: Touch): number | null {
  const at = noSooner(touch, anchorFor(touch, run, draft.lead, draft.world.setup), draft.world.now);
  return run.at === null ? null : Math.max(run.at, at);
}

/** Whether a run can go on by the newest version: no touch it has passed differs there. */
export function mayUpgrade(setup: Setup, run: CadenceRun): boolean {
  const cadence = cadenceOf(setup, run.cadenceId);
  const old = planOfRun(setup, run);
  if (!cadence?.live || !old || run.ended || run.version === cadence.version || run.round > 0) return false;
  const passed = (plan: CadencePlan) => JSON.stringify(plan.touches.slice(0, run.n));
  return passed(old) === passed(cadence.live) && run.n < cadence.live.touches.length;
}

/** Somebody has done a task of theirs. */
export function doTask(world: World, by: string, taskId: string): Decided {
  const draft = open(world, by);
  if (!(draft instanceof Draft)) return draft;
  const task = draft.lead.tasks.find((t) => t.id === taskId);
  if (!task) return refuse("done-already", 409, "Done already", "Somebody has done this task.");
  return draft.add("task-done", { taskId, note: task.note, personId: by }).done();
}

/** They bought: a customer from now on, with steps, notes and cadences, and none of the open leads. */
export function bought(world: World, by: string, what: string | null): Decided {
  const draft = open(world, by);
  if (!(draft instanceof Draft)) return draft;
  if (draft.lead.customer)
    return refuse("a-customer-already", 409, "A customer already", "They are a customer already.");
  draft.add("bought", { what: what?.trim() || null });
  if (draft.lead.nextStep) draft.add("next-step", { step: null });
  return draft.done();
}

/** Somebody puts a lead off in their rounds: it comes again at the end. */
export function skipInRounds(world: World, by: string, reason: string): Decided {
  const draft = open(world, by);
  if (!(draft instanceof Draft)) return draft;
  if (!reason.trim())
    return refuse(
      "a-reason-is-needed",
      422,
      "A reason is needed",
      "Say in a word why it comes later.",
      "reason",
    );
  return draft.add("skipped", { personId: by, reason: reason.trim() }).done();
}

const capital = (s: string) => s.charAt(0).toUpperCase() + s.slice(1);

function open(world: World, by: string): (Draft & Course) | Refused {
  if (!world.lead) return noSuchLead();
  if (!personOf(world.setup, by)) return nobodyByThatId();
  if (world.lead.closed) return leadIsClosed();
  return new Draft(world, { kind: "person", id: by });
}

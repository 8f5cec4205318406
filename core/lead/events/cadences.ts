import type { TouchKind } from "../../policy/cadence.ts";
import { nameOf } from "../../policy/setup.ts";
import { timeBeside } from "../../time/words.ts";
import { event } from "../event.ts";
import type { CadenceRun, Lead, PauseWhy, StopWhy, Task } from "../lead.ts";
import { list, zoneOf } from "./words.ts";

/** So many cadences that have ended a lead keeps: the latest, and of each cadence its last. */
const ENDED_KEPT = 8;

const changeRun = (lead: Lead, runId: string, change: (run: CadenceRun) => Partial<CadenceRun>) => ({
  cadences: lead.cadences.map((r) => (r.id === runId ? { ...r, ...change(r) } : r)),
});

/** Those that have ended are kept as far as anybody asks for them. */
function kept(runs: readonly CadenceRun[]): readonly CadenceRun[] {
  const ended = runs.filter((r) => r.ended);
  if (ended.length <= ENDED_KEPT) return runs;
  const last = new Map(ended.map((r) => [r.cadenceId, r.id]));
  const old = ended.find((r) => last.get(r.cadenceId) !== r.id) ?? ended[0];
  return runs.filter((r) => r !== old);
}

const ENDED = { at: null, waits: null, pause: null } as const;

/** The step of a run that has ended is nobody's any more. */
const withoutItsStep = (lead: Lead, runId: string) => ({
  ...(lead.nextStep?.touch?.runId === runId && { nextStep: null }),
  tasks: lead.tasks.some((t) => t.runId === runId) ? lead.tasks.filter((t) => t.runId !== runId) : lead.tasks,
});

/** What a cadence is that ended, in words. */
const STOPPED: Readonly<Record<StopWhy, string>> = {
  reply: "they wrote",
  "call-back": "they called",
  reached: "they were reached",
  booked: "they booked a call",
  won: "they bought",
  closed: "the lead was closed",
  stage: "the lead moved to another stage",
  parked: "the lead was parked",
  woken: "the lead came back",
  person: "stopped by hand",
  higher: "another cadence goes before it",
  gone: "its version is gone",
};

const PAUSED: Readonly<Record<PauseWhy, string>> = {
  reply: "they wait for an answer",
  asked: "they asked for a time",
  precedence: "another cadence goes first",
  person: "paused by hand",
};

/** Why a cadence stopped, in words. */
export const stoppedInWords = (why: StopWhy): string => STOPPED[why];
/** Why a cadence pauses, in words. */
export const pausedInWords = (why: PauseWhy): string => PAUSED[why];

/** Which run it is, in which cadence. */
interface OfRun {
  readonly runId: string;
  readonly cadenceId: string;
  readonly version: number;
  readonly name: string;
}

/** Plans over time: in, on, held back, out. */
export const CADENCES = {
  "cadence-started": event<
    OfRun & {
      readonly run: CadenceRun;
      /** How it got in, in words. */
      readonly by: string;
    }
  >({
    undone: "starting the cadence",
    untoldToRouting: true,
    fold: (lead, { run }) => ({ cadences: [...lead.cadences, run] }),
    said: ({ run, name, by }, setup, { at }) =>
      `In the cadence “${name}”: ${by}${run.at ? `; first ${timeBeside(run.at, zoneOf(setup), at)}` : ""}`,
  }),

  /** A touch has been done, or left out; `next` is what comes after it. */
  "cadence-touched": event<
    OfRun & {
      readonly n: number;
      readonly kind: TouchKind;
      readonly did: "sent" | "set" | "done" | "told" | "skipped";
      /** In words; for what was left out, why. */
      readonly reason: string;
      readonly messageId?: string;
      readonly next: {
        readonly n: number;
        readonly kind: TouchKind;
        readonly at: number | null;
        readonly round: number;
        readonly startedAt: number;
        readonly lastAt: number;
      };
      readonly waits?: { readonly until: number | null };
      /** The owner's phone is to ring for it. */
      readonly ring?: true;
    }
  >({
    undone: "leaving the touch out",
    untoldToRouting: true,
    follows: true,
    unshown: ({ did }) => did === "sent" || did === "set",
    fold: (lead, { runId, next, waits, messageId }) =>
      changeRun(lead, runId, (run) => ({
        ...next,
        waits: waits ?? null,
        messageId: messageId ?? run.messageId,
      })),
    said: ({ name, n, did, reason }) =>
      did === "skipped"
        ? `“${name}”: touch ${n + 1} left out, ${reason}`
        : `“${name}”: touch ${n + 1}, ${reason}`,
  }),

  /** The next touch is due at another time than it was. */
  "cadence-moved": event<
    OfRun & {
      readonly n: number;
      readonly at: number;
      readonly reason: string;
      /** Somebody moved it: shown. */
      readonly byHand?: true;
    }
  >({
    undone: "moving the touch",
    untoldToRouting: true,
    unshown: ({ byHand }) => !byHand,
    fold: (lead, { runId, at }) => ({
      ...changeRun(lead, runId, () => ({ at, waits: null })),
      ...(lead.nextStep?.touch?.runId === runId && { nextStep: { ...lead.nextStep, dueAt: at } }),
    }),
    said: ({ name, n, at: to, reason }, setup, { at }) =>
      `“${name}”: touch ${n + 1} moved to ${timeBeside(to, zoneOf(setup), at)}: ${reason}`,
  }),

  "cadence-paused": event<
    OfRun & {
      readonly why: PauseWhy;
      readonly until: number | null;
      readonly by?: string;
      /** More about why, in words. */
      readonly reason?: string;
    }
  >({
    undone: "pausing the cadence",
    untoldToRouting: true,
    follows: true,
    fold: (lead, { runId, why, until, by }, { at }) => ({
      ...changeRun(lead, runId, () => ({
        state: "paused",
        pause: { why, since: at, until, ...(by && { by }) },
      })),
      ...(lead.nextStep?.touch?.runId === runId && { nextStep: null }),
    }),
    said: ({ name, why, until, reason }, setup, { at }) =>
      `“${name}” pauses: ${reason || PAUSED[why]}${until ? `, until ${timeBeside(until, zoneOf(setup), at)}` : ""}`,
  }),

  /** One of us wrote by hand: until then nothing is sent on its own. */
  "cadence-quieted": event<OfRun & { readonly until: number }>({
    untoldToRouting: true,
    follows: true,
    passedOver: true,
    unshown: () => true,
    fold: (lead, { runId, until }) => changeRun(lead, runId, () => ({ quietUntil: until })),
    said: () => "One of us wrote: cadences send nothing for a while",
  }),

  "cadence-resumed": event<
    OfRun & {
      readonly at: number | null;
      readonly reason: string;
    }
  >({
    undone: "going on with the cadence",
    untoldToRouting: true,
    follows: true,
    fold: (lead, { runId, at }) =>
      changeRun(lead, runId, () => ({ state: "running", pause: null, at, waits: null })),
    said: ({ name, at: next, reason }, setup, { at }) =>
      `“${name}” goes on${next ? `, next ${timeBeside(next, zoneOf(setup), at)}` : ""}: ${reason}`,
  }),

  "cadence-stopped": event<
    OfRun & {
      /** Index of the touch that did not come any more. */
      readonly n: number;
      readonly why: StopWhy;
      /** More about why, in words. */
      readonly reason?: string;
    }
  >({
    undone: "stopping the cadence",
    untoldToRouting: true,
    follows: true,
    fold: (lead, { runId, why }, { at }) => {
      const changed = changeRun(lead, runId, () => ({ state: "stopped", ...ENDED, ended: { at, why } }));
      return { ...withoutItsStep(lead, runId), cadences: kept(changed.cadences) };
    },
    said: ({ name, why, reason }) => `Out of the cadence “${name}”: ${reason || STOPPED[why]}`,
  }),

  "cadence-done": event<OfRun>({
    untoldToRouting: true,
    follows: true,
    fold: (lead, { runId }, { at }) => {
      const changed = changeRun(lead, runId, () => ({ state: "done", ...ENDED, ended: { at, why: null } }));
      return { cadences: kept(changed.cadences) };
    },
    said: ({ name }) => `The cadence “${name}” has done all its touches`,
  }),

  /** It goes on by another version from here on. */
  "cadence-upgraded": event<OfRun & { readonly at: number | null; readonly kind: TouchKind }>({
    untoldToRouting: true,
    fold: (lead, { runId, version, at, name, kind }) =>
      changeRun(lead, runId, () => ({ version, at, name, kind })),
    said: ({ name, version }) => `“${name}” goes on by version ${version}`,
  }),

  /** One of ours is to do something about it beside the next step. */
  "task-set": event<{ readonly task: Task }>({
    untoldToRouting: true,
    fold: (lead, { task }) => ({ tasks: [...lead.tasks, task] }),
    said: ({ task }, setup, { at }) =>
      `Task for ${list(setup, task.to)}: ${task.note}, ${timeBeside(task.dueAt, zoneOf(setup), at)}`,
  }),

  "task-done": event<{ readonly taskId: string; readonly note: string; readonly personId: string }>({
    talk: true,
    undone: "the task",
    untoldToRouting: true,
    fold: (lead, { taskId }) => ({ tasks: lead.tasks.filter((t) => t.id !== taskId) }),
    said: ({ note, personId }, setup) => `${nameOf(setup, personId)} has done it: ${note}`,
  }),

  /** They bought: a customer from now on, and none of the open leads any more. */
  bought: event<{ readonly what: string | null }>({
    talk: true,
    undone: "that they bought",
    fold: (lead, _data, { at }) => ({
      customer: lead.customer ?? { since: at },
      // Whoever was handed over and has bought is somebody to be there for, and not over.
      closed: lead.handedOver ? null : lead.closed,
      replyWaiting: null,
      callBack: null,
      listed: null,
      parked: null,
      engaged: null,
      bell:
        lead.bell && (lead.bell.state === "waiting" || lead.bell.state === "rung")
          ? { ...lead.bell, state: "excused", excusedAt: at }
          : lead.bell,
    }),
    said: ({ what }) => `They bought${what ? `: ${what}` : ""}`,
  }),

  /** Put off in the rounds: it comes again at their end. */
  skipped: event<{ readonly personId: string; readonly reason: string }>({
    passedOver: true,
    untoldToRouting: true,
    fold: (_lead, { personId, reason }, { at }) => ({ skipped: { personId, at, reason } }),
    said: ({ personId, reason }, setup) => `${nameOf(setup, personId)} put it off in the rounds: ${reason}`,
  }),
};

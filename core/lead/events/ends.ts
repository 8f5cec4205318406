import { SIGNALS, type Signal } from "../../policy/parking.ts";
import { timeBeside } from "../../time/words.ts";
import { NOTHING_WAITS } from "../changes.ts";
import { event } from "../event.ts";
import { type CadenceRun, isWaiting } from "../lead.ts";
import type { Restorable } from "../standing.ts";
import { zoneOf } from "./words.ts";

/** A slow plan as the cadence it has become: its messages alone, in version 1. */
function slowRun(planId: string, name: string, at: number, nextAt: number): CadenceRun {
  return {
    id: `slow.${at}`,
    cadenceId: planId,
    name,
    kind: "email",
    version: 1,
    state: "running",
    startedAt: at,
    lastAt: at,
    n: 0,
    at: nextAt,
    round: 0,
    waits: null,
    pause: null,
    spreadMinutes: 0,
    messageId: null,
    ended: null,
  };
}

/** Aside, over, and back. */
export const ENDS = {
  parked: event<{
    readonly reason: string;
    readonly lookAt: number | null;
    /** The slow plan it went into, and when that was to send first, as there were before cadences. */
    readonly planId?: string | null;
    readonly planName?: string | null;
    readonly nextAt?: number | null;
    /** Who has it back then; whoever manages decides when nobody is named. */
    readonly backTo?: string;
  }>({
    talk: true,
    undone: "parking it",
    fold: (lead, { reason, planId, planName, lookAt, nextAt, backTo }, { at }) => ({
      parked: { reason, at, lookAt, ...(backTo && { backTo }) },
      ...(planId &&
        nextAt && { cadences: [...lead.cadences, slowRun(planId, planName ?? "A slow plan", at, nextAt)] }),
      lastOwner: lead.ownerId ? { personId: lead.ownerId, at } : lead.lastOwner,
      ownerId: null,
      coversFor: null,
      handOff: null,
      nextStep: null,
      listed: null,
      promise: null,
      bell: isWaiting(lead) ? lead.bell && { ...lead.bell, state: "excused", excusedAt: at } : lead.bell,
    }),
    said: ({ reason, planName, lookAt }, setup, { at }) =>
      `Parked: ${reason}${planName ? ` (${planName})` : ""}${lookAt ? `; next look ${timeBeside(lookAt, zoneOf(setup), at)}` : ""}`,
  }),

  /** A slow plan had done its next step, before there were cadences. */
  "slow-step": event<{ readonly nextAt: number | null }>({
    unshown: () => true,
    fold: (lead, { nextAt }, { at }) => ({
      cadences: lead.cadences.map((run) =>
        run.id !== `slow.${lead.parked?.at}`
          ? run
          : nextAt
            ? { ...run, n: run.n + 1, at: nextAt, lastAt: at }
            : { ...run, n: run.n + 1, at: null, lastAt: at, state: "done", ended: { at, why: null } },
      ),
    }),
    said: ({ nextAt }, setup, { at }) =>
      nextAt ? `Slow plan: next ${timeBeside(nextAt, zoneOf(setup), at)}` : "Slow plan: nothing more is sent",
  }),

  /** A signal of a parked lead, and the rule that handled it. */
  woken: event<{
    readonly signal: Signal;
    readonly ruleId: string | null;
    readonly ruleName: string;
    readonly does: "route" | "former" | "tell";
  }>({
    talk: true,
    fold: (lead, { ruleId, does }, { at }) => ({
      ...(does !== "tell" && { parked: null }),
      ...(ruleId && { woken: [...lead.woken.filter((w) => w.ruleId !== ruleId), { ruleId, at }] }),
    }),
    said: ({ signal, ruleName, does }) =>
      `${does === "tell" ? "Told of" : "Woken"}: ${SIGNALS[signal]} (${ruleName})`,
  }),

  closed: event<{ readonly reason: string }>({
    talk: true,
    undone: "closing it",
    fold: (lead, { reason }, { at }) => ({
      ...NOTHING_WAITS,
      closed: { reason, at },
      handOff: lead.handOff?.state === "taken" ? lead.handOff : null,
      tasks: [],
    }),
    said: ({ reason }) => `Closed: ${reason}`,
  }),

  /** By hand with a reason, or since they came back. */
  reopened: event<{ readonly reason?: string }>({
    talk: true,
    undone: "opening it again",
    fold: () => ({ closed: null, erasing: null }),
    said: ({ reason }) => (reason ? `Open again: ${reason}` : "Open again"),
  }),

  undone: event<{
    readonly actId: string;
    readonly what: string;
    readonly restore: Restorable;
    /** Of an act that changed them. */
    readonly tags?: readonly string[];
    /** Acts of the desk that came of it, and are taken back with it. */
    readonly came?: readonly string[];
  }>({
    final: true,
    fold: (_lead, { restore, tags }) => ({ ...restore, ...(tags && { tags }) }),
    said: ({ what }) => `Undid ${what}`,
  }),
};

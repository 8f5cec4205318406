import { SIGNALS, type Signal } from "../../policy/parking.ts";
import { timeBeside } from "../../time/words.ts";
import { event } from "../event.ts";
import { isWaiting } from "../lead.ts";
import type { Restorable } from "../standing.ts";
import { zoneOf } from "./words.ts";

/** Aside, over, and back. */
export const ENDS = {
  parked: event<{
    readonly reason: string;
    readonly planId: string | null;
    readonly planName: string | null;
    readonly lookAt: number | null;
    readonly nextAt: number | null;
    /** Who has it back then; whoever manages decides when nobody is named. */
    readonly backTo?: string;
  }>({
    talk: true,
    undone: "parking it",
    fold: (lead, { reason, planId, lookAt, nextAt, backTo }, { at }) => ({
      parked: { reason, at, planId, lookAt, sent: 0, nextAt, ...(backTo && { backTo }) },
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

  /** The slow plan has done its next step: a message, or none that could go. */
  "slow-step": event<{ readonly nextAt: number | null }>({
    unshown: () => true,
    fold: (lead, { nextAt }) => ({
      parked: lead.parked && { ...lead.parked, sent: lead.parked.sent + 1, nextAt },
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
      closed: { reason, at },
      engaged: null,
      handOff: lead.handOff?.state === "taken" ? lead.handOff : null,
      parked: null,
      promise: null,
      nextStep: null,
      listed: null,
      replyWaiting: null,
      callBack: null,
      scheduled: [],
    }),
    said: ({ reason }) => `Closed: ${reason}`,
  }),

  reopened: event<Record<string, never>>({
    talk: true,
    fold: () => ({ closed: null }),
    said: () => "Open again",
  }),

  undone: event<{ readonly actId: string; readonly what: string; readonly restore: Restorable }>({
    final: true,
    fold: (_lead, { restore }) => ({ ...restore }),
    said: ({ what }) => `Undid ${what}`,
  }),
};

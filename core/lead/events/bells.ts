import { BELLS, RUNGS } from "../../policy/bell-names.ts";
import type { BellKind, BellTerms, RungAct } from "../../policy/bells.ts";
import { nameOf } from "../../policy/setup.ts";
import { lateBy, timeBeside } from "../../time/words.ts";
import { changeBell, climb } from "../changes.ts";
import { event } from "../event.ts";
import type { OtherBell, PlannedRung, PromiseMade } from "../lead.ts";
import { LATE, lateness, list, ofBell, zoneOf } from "./words.ts";

/** Bells and their rungs. */
export const BELL_EVENTS = {
  "bell-started": event<{
    readonly target: string;
    readonly ladder: string;
    readonly terms: BellTerms;
    readonly dueAt: number;
    readonly rungs: readonly PlannedRung[];
  }>({
    follows: true,
    untoldToRouting: true,
    fold: (lead, { target, ladder, terms, dueAt, rungs }, { at }) => ({
      bell: {
        n: (lead.bell?.n ?? 0) + 1,
        target,
        ladder,
        terms,
        askedFor: null,
        state: "waiting",
        startedAt: at,
        dueAt,
        answeredAt: null,
        excusedAt: null,
        rangAt: null,
        rungs,
        climbed: 0,
      },
    }),
    said: ({ dueAt, target }, setup, { at }) =>
      `Bell set for ${timeBeside(dueAt, zoneOf(setup), at)} (${target})`,
  }),

  /** Bells beside the response bell begin, each for its own reason. */
  watched: event<{ readonly bells: readonly OtherBell[] }>({
    follows: true,
    unshown: () => true,
    fold: (lead, { bells }) => ({
      others: [...lead.others.filter((b) => !bells.some((n) => n.kind === b.kind)), ...bells],
    }),
    said: ({ bells }, setup, { at }) =>
      bells.map((b) => `${BELLS[b.kind].name}: rings ${timeBeside(b.dueAt, zoneOf(setup), at)}`).join("; "),
  }),

  /** A running bell is reckoned again: what was climbed stays, what is to come has other times. */
  "bell-moved": event<{
    readonly bell: BellKind;
    readonly dueAt: number;
    readonly rungs: readonly PlannedRung[];
    readonly reason: string;
    /** The time they asked for. */
    readonly askedFor?: number;
    /** The policies it runs by from now on, where somebody asked for that. */
    readonly anew?: { readonly target: string; readonly ladder: string; readonly terms: BellTerms };
  }>({
    fold: (lead, { bell, dueAt, rungs, askedFor, anew }) =>
      changeBell(lead, bell, () => ({ dueAt, rungs, ...anew, ...(askedFor && { askedFor }) })),
    said: ({ bell, dueAt, reason }, setup, { at }) =>
      `Bell moved to ${timeBeside(dueAt, zoneOf(setup), at)}${ofBell(bell)}: ${reason}`,
  }),

  nudged: event<{ readonly to: readonly string[]; readonly dueAt: number; readonly late?: number }>({
    untoldToRouting: true,
    fold: (lead) => ({ bell: climb(lead.bell) }),
    said: ({ to, late = 0 }, setup) =>
      (to.length ? `Nudged ${list(setup, to)}` : "Time for a nudge, but nobody had it") + lateness(late),
  }),

  rang: event<{ readonly dueAt: number; readonly late: number }>({
    untoldToRouting: true,
    fold: (lead, _data, { at }) => ({ bell: climb(lead.bell, { state: "rung", rangAt: at }) }),
    said: ({ late }) => (late > LATE ? `Rang ${lateBy(late)}` : "Rang: nobody had tried in time"),
  }),

  "stood-by": event<{ readonly to: string | null; readonly late?: number }>({
    fold: (lead) => ({ bell: climb(lead.bell) }),
    said: ({ to, late = 0 }, setup) =>
      (to ? `Goes to ${nameOf(setup, to)} on standby` : "Nobody was on standby") + lateness(late),
  }),

  /** A rung other than the nudge, the ring and standby of the response bell; `skipped` says why it was left out. */
  climbed: event<{
    readonly bell: BellKind;
    readonly act: RungAct;
    readonly dueAt: number;
    readonly late: number;
    readonly to?: readonly string[];
    readonly tag?: string;
    readonly skipped?: string;
  }>({
    fold: (lead, { bell, act }, { at }) => ({
      ...changeBell(lead, bell, ({ climbed }) => ({
        climbed: climbed + 1,
        ...(act === "ring" && { state: "rung", rangAt: at }),
      })),
    }),
    said: ({ bell, act, to, tag, skipped, late }, setup) => {
      const what = RUNGS[act] + (tag ? ` “${tag}”` : "") + (to?.length ? `: ${list(setup, to)}` : "");
      if (skipped) return `Left out, ${skipped}: ${what.toLowerCase()}${ofBell(bell)}`;
      return `${what}${ofBell(bell)}${lateness(late)}`;
    },
  }),

  /** Nothing need be done about it, and why. */
  excused: event<{ readonly bell: BellKind; readonly reason: string }>({
    undone: "silencing the bell",
    fold: (lead, { bell }, { at }) => ({
      ...changeBell(lead, bell, () => ({ state: "excused", ...(bell === "inquiry" && { excusedAt: at }) })),
      listed: lead.ownerId ? null : lead.listed,
    }),
    said: ({ bell, reason }) => `Silenced${ofBell(bell)}: ${reason}`,
  }),

  promised: event<{ readonly promise: PromiseMade }>({
    talk: true,
    undone: "the promise",
    fold: (_lead, { promise }) => ({ promise }),
    said: ({ promise }, setup, { at }) =>
      `Promised: ${promise.text}, ${timeBeside(promise.at, zoneOf(setup), at)}`,
  }),
};

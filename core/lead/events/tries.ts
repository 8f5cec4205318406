import { nameOf } from "../../policy/setup.ts";
import { duration, timeBeside } from "../../time/words.ts";
import {
  type AlertAbout,
  type Attachment,
  type CallResult,
  STAGE,
  type TryChannel,
} from "../../vocabulary.ts";
import { answer, earlier } from "../changes.ts";
import { event } from "../event.ts";
import type { Booked, Engaged, NextStep } from "../lead.ts";
import { list, zoneOf } from "./words.ts";

/** A try so shortly before a booked call is that call (ms). */
const EARLY = 15 * 60_000;

const CHANNEL = { call: "Called", text: "Wrote a text", email: "Wrote an email", visit: "Visited" } as const;

const RANG = {
  voicemail: "voicemail answered",
  "no-answer": "nobody answered",
  busy: "busy",
  "not-picked-up": "our own phone was not picked up",
  lost: "the desk went down meanwhile",
} as const;

const ABOUT = {
  "hand-off": "a lead is offered",
  nudge: "it still waits",
  ring: "it rang",
  standby: "theirs, as standby",
  given: "it is theirs now",
  again: "it has inquired again",
  woke: "it was parked and came back",
  listed: "it is on the manager's list",
  reply: "they replied",
  "call-back": "they called and want to be called back",
  joined: "two leads are one person",
  quiet: "a source has gone quiet",
  gone: "it is with somebody else now",
  mentioned: "they are named in a note",
  booked: "a call is booked, moved or called off",
  undelivered: "a message did not arrive",
  planned: "a cadence asks for something",
  list: "a list they watch has something new",
} as const satisfies Record<AlertAbout, string>;

/** What somebody of ours does about them. */
export const TRIES = {
  tried: event<{
    readonly personId: string;
    readonly channel: TryChannel;
    readonly outcome: string;
    readonly outcomeName: string;
    readonly reached: boolean;
    readonly note: string | null;
    /** Trying that way answers no bell. */
    readonly uncounted?: true;
  }>({
    talk: true,
    wrote: ({ note }) => note,
    undone: "the try",
    fold: (lead, { reached, personId, uncounted }, { at }) => ({
      lastTryAt: at,
      engaged: lead.engaged?.personId === personId ? null : lead.engaged,
      promise: null,
      lastOwner: lead.ownerId === personId ? { personId, at } : lead.lastOwner,
      // The call they booked has been made, or is given up by a try at its time.
      booked: lead.booked && at < lead.booked.at - EARLY ? lead.booked : null,
      tries: lead.tries + 1,
      reached: lead.reached || reached,
      fruitless: reached ? 0 : lead.fruitless + 1,
      replyWaiting: null,
      callBack: null,
      listed: lead.ownerId ? null : lead.listed,
      bell: uncounted ? lead.bell : answer(lead.bell, at),
      stage: reached
        ? earlier(lead.stage)
          ? STAGE.talking
          : lead.stage
        : lead.stage === STAGE.fresh
          ? STAGE.tried
          : lead.stage,
    }),
    said: ({ personId, channel, outcomeName }, setup) =>
      channel === "call"
        ? `${nameOf(setup, personId)} called: ${outcomeName.toLowerCase()}`
        : `${CHANNEL[channel]}: ${nameOf(setup, personId)}`,
  }),

  /** One of us called them from the desk. What it came to is said by the try that follows. */
  "called-out": event<{
    readonly callId: string;
    readonly personId: string;
    readonly to: string;
    readonly from: string;
    readonly result: CallResult;
    readonly seconds: number;
    readonly recording: Attachment | null;
  }>({
    talk: true,
    untoldToRouting: true,
    fold: () => ({}),
    said: ({ personId, result, seconds }, setup) =>
      `${nameOf(setup, personId)} rang them: ${result === "talked" ? `talked for ${duration(seconds * 1000)}` : RANG[result]}`,
  }),

  /** Somebody of ours talks to them, or writes to them by hand. */
  engaged: event<Pick<Engaged, "personId" | "how" | "until">>({
    passedOver: true,
    untoldToRouting: true,
    unshown: () => true,
    fold: (lead, { personId, how, until }, { at }) => ({
      engaged: {
        personId,
        how,
        since: lead.engaged?.personId === personId && lead.engaged.how === how ? lead.engaged.since : at,
        until,
      },
    }),
    said: ({ how }) => (how === "call" ? "Calling them" : "Writing to them"),
  }),

  /** They no longer do. */
  "let-be": event<{ readonly personId: string }>({
    passedOver: true,
    untoldToRouting: true,
    unshown: () => true,
    fold: (lead, { personId }) => (lead.engaged?.personId === personId ? { engaged: null } : {}),
    said: () => "No longer with them",
  }),

  "next-step": event<{ readonly step: NextStep | null }>({
    undone: "the next step",
    untoldToRouting: true,
    unshown: ({ step }) => step === null,
    // Whoever plans a step works on it again.
    fold: (lead, { step }) => ({ nextStep: step, ...(step && lead.parked && { parked: null }) }),
    said: ({ step }, setup, { at }) =>
      step ? `Next: ${step.note}, ${timeBeside(step.dueAt, zoneOf(setup), at)}` : "No next step",
  }),

  booked: event<{ readonly booked: Booked; readonly movedFrom: number | null }>({
    talk: true,
    // They chose the time themselves: nobody need chase them before it.
    fold: (lead, { booked }, { at }) => ({
      booked,
      replyWaiting: null,
      callBack: null,
      listed: null,
      bell: answer(lead.bell, at),
    }),
    said: ({ booked, movedFrom }, setup, { at }) =>
      `They ${movedFrom ? "moved the call to" : "booked a call:"} ${timeBeside(booked.at, zoneOf(setup), at)} with ${nameOf(setup, booked.personId)}`,
  }),

  "booking-cancelled": event<{ readonly booked: Booked }>({
    talk: true,
    fold: () => ({ booked: null }),
    said: ({ booked }, setup, { at }) =>
      `They called off the call of ${timeBeside(booked.at, zoneOf(setup), at)}`,
  }),

  /** `asks`: whoever is named is asked something, until one of them answers. */
  noted: event<{ readonly text: string; readonly mentions?: readonly string[]; readonly asks?: true }>({
    talk: true,
    passedOver: true,
    untoldToRouting: true,
    fold: (lead, { text, mentions, asks }, { id, at, actor }) =>
      asks && mentions && actor.kind === "person"
        ? { asked: [...lead.asked, { noteId: id, by: actor.id, to: mentions, text, at }] }
        : {},
    wrote: ({ text }) => text,
    said: ({ mentions, asks }, setup) =>
      mentions ? `${asks ? "Question to" : "Note, for"} ${list(setup, mentions)}` : "Note",
  }),

  pinned: event<{ readonly text: string | null }>({
    passedOver: true,
    untoldToRouting: true,
    fold: (_lead, { text }) => ({ pinned: text }),
    wrote: ({ text }) => text,
    said: ({ text }) => (text ? `Pinned: ${text}` : "Nothing is pinned any more"),
  }),

  alerted: event<{
    readonly about: AlertAbout;
    readonly personId: string | null;
    readonly messageIds: readonly string[];
  }>({
    follows: true,
    passedOver: true,
    untoldToRouting: true,
    fold: () => ({}),
    said: ({ about, personId }, setup) =>
      `Told ${personId ? nameOf(setup, personId) : "the team"}: ${ABOUT[about]}`,
  }),
};

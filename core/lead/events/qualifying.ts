import { sayMoney } from "../../money/money.ts";
import { nameOf } from "../../policy/setup.ts";
import { stageName } from "../../policy/stages.ts";
import { STAGE } from "../../vocabulary.ts";
import { NOTHING_WAITS } from "../changes.ts";
import { event } from "../event.ts";
import type { Estimate, HandedOver, Lead } from "../lead.ts";
import { list } from "./words.ts";

const changeEstimate = (lead: Lead, id: string, change: Partial<Estimate>) => ({
  estimates: lead.estimates.map((e) => (e.id === id ? { ...e, ...change } : e)),
});

/** What a lead comes to: stages, estimates, the hand-over, and what colleagues ask each other about it. */
export const QUALIFYING = {
  staged: event<{ readonly from: string; readonly to: string; readonly because?: string }>({
    talk: true,
    undone: "the move",
    untoldToRouting: true,
    fold: (_lead, { to }) => ({ stage: to }),
    said: ({ from, to, because }, { policies }) =>
      `${stageName(policies, from)} → ${stageName(policies, to)}${because ? `: ${because}` : ""}`,
  }),

  /** It has become company, contact and deal, and is worked there. */
  "handed-over": event<
    Omit<HandedOver, "at"> & {
      readonly names: {
        readonly company: string | null;
        readonly contact: string | null;
        readonly deal: string | null;
      };
    }
  >({
    talk: true,
    undone: "handing it over",
    fold: (lead, { companyId, contactId, dealId }, { at }) => ({
      ...NOTHING_WAITS,
      tasks: [],
      stage: STAGE.over,
      handedOver: { companyId, contactId, dealId, at },
      closed: { reason: STAGE.over, at },
      handOff: lead.handOff?.state === "taken" ? lead.handOff : null,
    }),
    said: ({ names }) =>
      `Handed over: ${[names.deal, names.contact, names.company].filter(Boolean).join(", ") || "nothing made of it"}`,
  }),

  "estimate-made": event<{ readonly estimate: Estimate }>({
    talk: true,
    untoldToRouting: true,
    fold: (lead, { estimate }) => ({
      estimates: [
        ...lead.estimates.map((e) =>
          e.number === estimate.number ? { ...e, state: "replaced" as const } : e,
        ),
        estimate,
      ],
    }),
    said: ({ estimate: { number, version, name, total, currency } }) =>
      `Estimate ${number}${version > 1 ? `, version ${version}` : ""} (${name}): ${sayMoney(total, currency)}`,
  }),

  "estimate-sent": event<{ readonly estimateId: string; readonly number: string }>({
    talk: true,
    follows: true,
    untoldToRouting: true,
    fold: (lead, { estimateId }, { at }) => changeEstimate(lead, estimateId, { state: "sent", sentAt: at }),
    said: ({ number }) => `Estimate ${number} was sent`,
  }),

  /** They have answered on the page that came with it, or one of ours has written down what they said. */
  "estimate-answered": event<{
    readonly estimateId: string;
    readonly number: string;
    readonly answer: "accepted" | "declined";
    readonly name: string;
    readonly words: string | null;
  }>({
    talk: true,
    final: true,
    theirs: ({ answer, words }) => ({
      how: "form",
      text: `${answer === "accepted" ? "Accepted the estimate" : "Declined the estimate"}${words ? `: ${words}` : ""}`,
    }),
    untoldToRouting: true,
    fold: (lead, { estimateId, answer, name }, { at, actor }) => ({
      ...changeEstimate(lead, estimateId, { state: answer, answered: { at, name } }),
      ...(actor.kind === "lead" && { replyWaiting: lead.replyWaiting ?? at }),
    }),
    wrote: ({ words }) => words,
    said: ({ number, answer, name, words }) =>
      `${name} ${answer} estimate ${number}${words ? `: ${words}` : ""}`,
  }),

  /** A note was mended; what it said before stands in the events before. */
  "note-edited": event<{ readonly noteId: string; readonly text: string }>({
    passedOver: true,
    untoldToRouting: true,
    unshown: () => true,
    fold: (lead, { noteId, text }) => ({
      asked: lead.asked.map((a) => (a.noteId === noteId ? { ...a, text } : a)),
    }),
    wrote: ({ text }) => text,
    said: () => "A note was mended",
  }),

  /** Somebody has answered what a colleague asked in a note. */
  "question-answered": event<{
    readonly noteId: string;
    readonly text: string;
    readonly askedBy: string;
    readonly question: string;
  }>({
    talk: true,
    passedOver: true,
    untoldToRouting: true,
    fold: (lead, { noteId }) => ({ asked: lead.asked.filter((a) => a.noteId !== noteId) }),
    wrote: ({ text }) => text,
    said: ({ askedBy }, setup) => `Answer for ${nameOf(setup, askedBy)}`,
  }),

  /** Nobody need answer it any more. */
  "question-dropped": event<{ readonly noteId: string; readonly to: readonly string[] }>({
    passedOver: true,
    untoldToRouting: true,
    fold: (lead, { noteId }) => ({ asked: lead.asked.filter((a) => a.noteId !== noteId) }),
    said: ({ to }, setup) => `The question to ${list(setup, to)} needs no answer`,
  }),
};

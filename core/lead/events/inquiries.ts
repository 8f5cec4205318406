import { tidyName } from "../../contact/name.ts";
import { nameOf } from "../../policy/setup.ts";
import { duration } from "../../time/words.ts";
import { type Attachment, type Channel, STAGE } from "../../vocabulary.ts";
import { answer, earlier, stillTest } from "../changes.ts";
import { event } from "../event.ts";
import type { InquiryFacts, LearnedFacts } from "../inquiry.ts";
import { union } from "../together.ts";

/** So many numbers and addresses that could not be read a lead keeps: the latest. */
const UNREAD_KEPT = 20;

/** Why a lead of a list that is only kept lies parked. */
const KEPT = "Kept from a list";

const FACT_NAMES: Readonly<Record<string, string>> = {
  postalCode: "postal code",
  own: "own fields",
  forbidden: "ways they must not be reached",
  preferred: "preferred way",
  kinds: "kinds of phone",
  unread: "what could not be read",
};

const factName = (key: string) => FACT_NAMES[key] ?? key;

/** What arrived, and what is known by it. */
export const INQUIRIES = {
  inquiry: event<{
    readonly inquiryId: string;
    readonly sourceId: string;
    readonly channel: Channel;
    readonly facts: InquiryFacts;
    readonly match: "new" | "sure";
    /** What the sure match was found by. */
    readonly on: string | null;
    /** Sent by somebody of ours to see whether everything works. */
    readonly test?: true;
    /** Whose test it is, when it concerns nobody else. */
    readonly tester?: string;
    /** Of a list that is only kept: the lead begins parked. */
    readonly kept?: true;
    /** The version of the source's mapping it was understood by. */
    readonly mapping?: number;
  }>({
    talk: true,
    final: true,
    wrote: ({ facts }) => facts.message,
    fold: (lead, { facts, sourceId, test, tester, kept }, { at }) => ({
      parked: kept && lead.seq === 0 ? { reason: KEPT, at, lookAt: null } : lead.parked,
      name: lead.name ?? (facts.name ? tidyName(facts.name) : null),
      emails: union(lead.emails, facts.emails),
      phones: union(lead.phones, facts.phones),
      company: lead.company ?? facts.company,
      tags: union(lead.tags, facts.tags),
      sourceId: lead.seq === 0 ? sourceId : lead.sourceId,
      facts: {
        product: facts.product ?? lead.facts.product,
        value: facts.value ?? lead.facts.value,
        message: facts.message ?? lead.facts.message,
        postalCode: facts.postalCode ?? lead.facts.postalCode,
        territory: facts.territory ?? lead.facts.territory,
        zone: facts.zone ?? lead.facts.zone,
        language: facts.language ?? lead.facts.language,
        answers: { ...lead.facts.answers, ...facts.answers },
        own: facts.own ? { ...lead.facts.own, ...facts.own } : lead.facts.own,
        address: facts.address ?? lead.facts.address,
        preferred: facts.preferred ?? lead.facts.preferred,
        forbidden: facts.forbidden ?? lead.facts.forbidden,
        kinds: facts.kinds ? { ...lead.facts.kinds, ...facts.kinds } : lead.facts.kinds,
        detail: facts.detail ?? lead.facts.detail,
        unread: facts.unread ? union(lead.facts.unread, facts.unread).slice(-UNREAD_KEPT) : lead.facts.unread,
      },
      ...(lead.seq === 0
        ? { test: test === true, tester: tester ?? null }
        : stillTest(lead, test === true, tester ?? null)),
      inquiries: lead.inquiries + 1,
      createdAt: lead.seq === 0 ? at : lead.createdAt,
      // A new inquiry wipes the slate: whoever passed before may be asked again.
      refused: [],
      // Whoever asks again wants to be known.
      ...(lead.erasing && { erasing: null }),
    }),
    theirs: ({ facts, channel }) => ({
      how: channel === "email" || channel === "text" || channel === "chat" ? channel : "form",
      text: facts.message,
    }),
    said: ({ sourceId, match, on, test }, setup) => {
      const source = setup.sources.find((s) => s.id === sourceId)?.name ?? "a source no longer here";
      const what = test ? "Test" : match === "sure" ? "Another inquiry" : "Inquiry";
      return match === "sure" ? `${what} from ${source} (known by ${on})` : `${what} from ${source}`;
    },
  }),

  /** Somebody of ours filled in or mended facts. Only what changed is named. */
  learned: event<{ readonly facts: LearnedFacts }>({
    fold: (lead, { facts: { facts, ...rest } }) => ({
      ...rest,
      ...(facts && { facts: { ...lead.facts, ...facts } }),
    }),
    said: ({ facts: { facts, ...rest } }) =>
      `Filled in ${[...Object.keys(rest), ...Object.keys(facts ?? {})].map(factName).join(", ")}`,
  }),

  /** Somebody of ours put tags on, or took some off. */
  tagged: event<{ readonly on: readonly string[]; readonly off: readonly string[] }>({
    untoldToRouting: true,
    undone: "the tags",
    fold: (lead, { on, off }) => ({
      tags: union(
        lead.tags.filter((tag) => !off.includes(tag)),
        on,
      ),
    }),
    said: ({ on, off }) =>
      [on.length > 0 && `Tagged ${on.join(", ")}`, off.length > 0 && `No longer tagged ${off.join(", ")}`]
        .filter(Boolean)
        .join("; "),
  }),

  /** They called one of our lines. */
  "called-in": event<{
    readonly callId: string;
    readonly line: string;
    readonly from: string;
    readonly result: "answered" | "missed" | "voicemail";
    readonly seconds: number;
    readonly recording: Attachment | null;
    /** Who of ours talked to them. */
    readonly personId: string | null;
  }>({
    talk: true,
    fold: (lead, { result }, { at }) =>
      result === "answered"
        ? {
            reached: true,
            promise: null,
            replyWaiting: null,
            callBack: null,
            bell: answer(lead.bell, at),
            stage: earlier(lead.stage) ? STAGE.talking : lead.stage,
          }
        : { replyWaiting: lead.replyWaiting ?? at, callBack: lead.callBack ?? at },
    theirs: ({ result }) =>
      result === "answered" ? null : { how: result === "missed" ? "call" : "voicemail", text: null },
    said: ({ result, seconds, line, personId }, setup) => {
      const whose = setup.sources.find((s) => s.line === line || s.formerLines?.includes(line))?.name ?? line;
      if (result === "missed") return `They called ${whose}, and nobody answered`;
      if (result === "voicemail")
        return `They called ${whose} and left a voicemail of ${duration(seconds * 1000)}`;
      const who = personId ? ` with ${nameOf(setup, personId)}` : "";
      return `They called ${whose} and talked${who} for ${duration(seconds * 1000)}`;
    },
  }),

  /** They came back to one of the company's own pages. */
  visited: event<{ readonly url: string }>({
    talk: true,
    passedOver: true,
    fold: () => ({}),
    said: ({ url }) => `They looked at ${url.replace(/^https?:\/\//, "")}`,
  }),
};

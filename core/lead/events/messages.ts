import { nameOf } from "../../policy/setup.ts";
import { timeBeside } from "../../time/words.ts";
import type { Attachment, ContactWay, OptWord } from "../../vocabulary.ts";
import { event } from "../event.ts";
import type { Scheduled, Stop } from "../lead.ts";
import { AUTOMATIC_KEPT } from "../together.ts";
import { zoneOf } from "./words.ts";

const STOPS = { text: "Texts", email: "Mails", call: "Calls" } as const;

const WROTE = { email: "an email", text: "a text", chat: "in the chat" } as const;

/** All there is to read in a message, the names of its files too. */
const written = ({
  subject,
  body,
  attachments = [],
}: {
  readonly subject: string | null;
  readonly body: string;
  readonly attachments?: readonly Attachment[];
}) => [subject, body, ...attachments.map((file) => file.name)].filter(Boolean).join("\n");

/** What a word that allows or ends texts has done, said so that nobody need ask. */
function optSaid(channel: "email" | "text", word: OptWord): string {
  const ways = STOPS[channel].toLowerCase();
  const did = { stop: `${ways} are off`, start: `${ways} are on again`, help: "they were told who we are" };
  return `They ${channel === "text" ? "texted" : "wrote"} ${word.toUpperCase()}: ${did[word]}`;
}

/** What is written to them and by them. */
export const MESSAGES = {
  "message-out": event<{
    readonly messageId: string;
    readonly channel: "email" | "text";
    readonly to: string;
    readonly subject: string | null;
    readonly body: string;
    readonly template: string | null;
    readonly templateId?: string;
    /** Nobody wrote it: the desk sent it on its own. */
    readonly auto?: true;
    /** Until when it can be called back. */
    readonly leavesAt?: number;
    /** The scheduled message it was. */
    readonly scheduledId?: string;
    readonly attachments?: readonly Attachment[];
  }>({
    talk: true,
    follows: true,
    untoldToRouting: true,
    fold: (lead, { auto, scheduledId }, { at }) => ({
      ...(auto && { automatic: [...lead.automatic, at].slice(-AUTOMATIC_KEPT) }),
      ...(scheduledId && { scheduled: lead.scheduled.filter((s) => s.id !== scheduledId) }),
    }),
    wrote: ({ auto, ...said }) => (auto ? null : written(said)),
    said: ({ channel, template, auto }, setup, { actor }) => {
      const what = channel === "email" ? "email" : "text";
      if (auto)
        return `${channel === "email" ? "Email" : "Text"} sent on its own${template ? `: ${template}` : ""}`;
      const who = actor.kind === "person" ? nameOf(setup, actor.id) : "The desk";
      return `${who} wrote ${channel === "email" ? "an" : "a"} ${what}${template ? `, from ${template}` : ""}`;
    },
  }),

  "message-in": event<{
    readonly channel: "email" | "text" | "chat";
    readonly from: string;
    readonly subject: string | null;
    readonly body: string;
    /** The quoted history below what they wrote, folded away. */
    readonly quoted?: string;
    /** Their mail as cleaned HTML, when it had any. */
    readonly html?: string;
    readonly attachments?: readonly Attachment[];
    /** How its conversation was found, when not by who they are. */
    readonly found?: string;
    /** Their mail's Message-ID, for answers to name. */
    readonly messageId?: string;
    /** Sent by a machine; nobody is waiting for an answer. */
    readonly robot?: string;
    /** It is an opt-out, opt-in or help word: the desk has answered it on its own. */
    readonly word?: OptWord;
  }>({
    talk: true,
    fold: (lead, { robot, word, channel, from }, { at }) => {
      if (robot) return {};
      // Where they write from, they can be written to.
      const bounces = lead.bounces.filter((b) => b.to !== from);
      if (word) return { bounces };
      const replyWaiting = lead.replyWaiting ?? at;
      const lastWay = channel === "chat" ? lead.lastWay : channel;
      return { bounces, replyWaiting, reached: true, fruitless: 0, lastWay };
    },
    theirs: ({ channel, body, robot, word }) => (robot || word ? null : { how: channel, text: body }),
    wrote: written,
    said: ({ channel, robot, word, found }) =>
      robot
        ? `A machine answered by ${channel}: ${robot}`
        : word && channel !== "chat"
          ? optSaid(channel, word)
          : `They wrote ${WROTE[channel]}${found ? ` (${found})` : ""}`,
  }),

  /** A message waits for its time; the reason is for the thread. */
  scheduled: event<{ readonly item: Scheduled; readonly reason: string }>({
    follows: true,
    undone: "the message for later",
    untoldToRouting: true,
    fold: (lead, { item }) => ({ scheduled: [...lead.scheduled.filter((s) => s.id !== item.id), item] }),
    said: ({ item, reason }, setup, { at }) =>
      `${item.channel === "email" ? "Email" : "Text"} for ${timeBeside(item.at, zoneOf(setup), at)}: ${reason}`,
  }),

  unscheduled: event<{ readonly ids: readonly string[]; readonly reason: string }>({
    undone: "taking the message back",
    untoldToRouting: true,
    fold: (lead, { ids }) => ({ scheduled: lead.scheduled.filter((s) => !ids.includes(s.id)) }),
    said: ({ ids, reason }) =>
      `${ids.length === 1 ? "A message" : `${ids.length} messages`} for later will not go: ${reason}`,
  }),

  /** An automatic message was not sent, and why. */
  "held-back": event<{
    readonly channel: "email" | "text";
    readonly what: string;
    readonly reason: string;
    readonly scheduledId?: string;
  }>({
    untoldToRouting: true,
    fold: (lead, { scheduledId }) =>
      scheduledId ? { scheduled: lead.scheduled.filter((s) => s.id !== scheduledId) } : {},
    said: ({ channel, what, reason }) => `${what} by ${channel} was not sent. ${reason}`,
  }),

  /** A message of ours has not reached them, and will not. */
  undelivered: event<{
    readonly messageId: string;
    readonly channel: "email" | "text";
    readonly to: string;
    /** In words, without a full stop. */
    readonly because: string;
  }>({
    talk: true,
    untoldToRouting: true,
    fold: (lead, { channel, to, because }, { at }) => ({
      bounces: [...lead.bounces.filter((b) => b.to !== to), { channel, to, at, because }],
    }),
    said: ({ channel, to, because }) =>
      `The ${channel === "email" ? "email" : "text"} to ${to} did not arrive: ${because}`,
  }),

  /** They asked not to be reached that way, or to be again. */
  stopped: event<{ readonly channel: ContactWay; readonly how: Stop["how"]; readonly said: string }>({
    talk: true,
    fold: (lead, { channel, how, said }, { at }) => ({
      stops: [...lead.stops.filter((s) => s.channel !== channel), { channel, at, how, said }],
    }),
    said: ({ channel, how, said }) =>
      `No more ${STOPS[channel].toLowerCase()}: ${how === "word" ? `they wrote “${said}”` : how === "unsubscribe" ? "they unsubscribed" : said || "marked by one of us"}`,
  }),

  "stop-lifted": event<{ readonly channel: ContactWay; readonly said: string }>({
    talk: true,
    fold: (lead, { channel }) => ({ stops: lead.stops.filter((s) => s.channel !== channel) }),
    said: ({ channel, said }) => `${STOPS[channel]} are welcome again${said ? `: “${said}”` : ""}`,
  }),

  /** They opened a link in one of our messages. */
  clicked: event<{ readonly messageId: string; readonly url: string }>({
    talk: true,
    passedOver: true,
    untoldToRouting: true,
    fold: () => ({}),
    said: ({ url }) => `They opened ${url.replace(/^https?:\/\//, "")}`,
  }),
};

import type { Condition } from "../condition/tree.ts";
import type { Attachment } from "../vocabulary.ts";

/** How an automatic first reply goes out by one channel. */
export interface ReplyWay {
  readonly on: boolean;
  /** The first whose condition holds is sent. */
  readonly choices: readonly { readonly when: Condition | null; readonly templateId: string }[];
  /** Plain minutes after the inquiry; 0 is at once. */
  readonly delayMinutes: number;
  /** At any hour, since they have just written; or only in the hours automatic messages may go. */
  readonly hours: "any" | "allowed";
  /** Our line or address it comes from; null for the source's own, else the company's. */
  readonly from: string | null;
}

export interface ReplyPolicy {
  readonly email: ReplyWay;
  readonly text: ReplyWay;
}

export interface Replies {
  /** For every source that has none of its own. */
  readonly usual: ReplyPolicy;
  /** What somebody gets who inquires again within so many hours; null is nothing. */
  readonly again: { readonly hours: number; readonly email: string | null; readonly text: string | null };
}

/** What keeps automatic messages within bounds. */
export interface Restraint {
  /** Wall time `HH:MM` at the lead's place between which texts may go and calls be made on their own; end excluded. */
  readonly allowed: { readonly from: string; readonly to: string };
  /** Automatic messages one lead gets within a day at most, over all plans and channels. */
  readonly perDay: number;
  /** Minutes that lie between two automatic messages to one lead at least, over all cadences; none when left out. */
  readonly gapMinutes?: number;
  /** Messages of cadences that leave by one line within a minute at most: what the carrier lets through. None when left out. */
  readonly perLineMinute?: { readonly email?: number | null; readonly text?: number | null };
  /** First replies to people never written to, an hour and source; learned from its rhythm when null or left out. */
  readonly perSourceHour?: number | null;
  readonly words: {
    readonly stop: readonly string[];
    readonly start: readonly string[];
    readonly help: readonly string[];
  };
  /** What is answered to those words, in the lead's language where there is one. Liquid, as in templates. */
  readonly answers: Readonly<Record<"stop" | "start" | "help", Readonly<Record<string, string>>>>;
}

export interface Template {
  readonly id: string;
  readonly name: string;
  readonly channel: "email" | "text";
  /** Per language; the company's usual one is what others fall back to. */
  readonly texts: Readonly<Record<string, { readonly subject?: string; readonly body: string }>>;
  /** Files sent along with a mail. */
  readonly attachments?: readonly Attachment[];
}

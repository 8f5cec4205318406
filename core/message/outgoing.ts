import type { AlertAbout, Attachment } from "../vocabulary.ts";

export type OutChannel = "email" | "text" | "chat";

/** A link that only its person can use, for one hand-off, until it lapses. The server signs it. */
export interface TakeLink {
  readonly handOffId: string;
  readonly leadId: string;
  readonly personId: string;
  readonly until: number;
}

/** How long a manager's link is good (ms). */
export const MANAGED_FOR = 3 * 86_400_000;

/** A link on which one manager sees to one lead that rings: covers, gives, or excuses it. The server signs it. */
export interface ManageLink {
  readonly manage: true;
  readonly leadId: string;
  readonly personId: string;
  /** When it ends (epoch ms). */
  readonly until: number;
}

/** Where a message's link goes in its body. */
export const LINK = "{link}";

/** Where a message's link for booking a call goes. */
export const BOOKING = "{booking}";

/** What a message to a lead can be for. */
export const TO_LEADS = ["first-reply", "reply", "opt-answer", "invite", "slow", "cadence"] as const;

/** A message as decided; the outbox delivers it. The same `key` is never recorded twice. */
export interface OutgoingMessage {
  readonly id: string;
  readonly key: string;
  readonly channel: OutChannel;
  readonly to: string;
  readonly from: string;
  readonly subject: string | null;
  readonly body: string;
  readonly leadId: string;
  readonly purpose: (typeof TO_LEADS)[number];
  /** When it may leave at the earliest; at once when left out. Until then it can be called back. */
  readonly notBefore?: number;
  readonly attachments?: readonly Attachment[];
  /** Further headers of a mail: which one it answers. */
  readonly headers?: {
    readonly inReplyTo?: string;
    readonly calendar?: { readonly method: "REQUEST" | "CANCEL"; readonly text: string };
  };
}

/** What the weekly letter of figures goes out as: its tables and pictures are its own. */
export const FIGURES_LETTER = "figures-letter";

/** A message to one of us about a lead. `{link}` in the body becomes the signed link, or a link to the lead. */
export interface Alert extends Omit<OutgoingMessage, "purpose"> {
  readonly purpose: AlertAbout;
  readonly personId: string | null;
  readonly link: TakeLink | ManageLink | null;
}

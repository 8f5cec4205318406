export const CONTACT_WAYS = ["call", "text", "email"] as const;

/** A way to reach somebody. */
export type ContactWay = (typeof CONTACT_WAYS)[number];

export type TryChannel = "call" | "text" | "email" | "visit";

/** A file that came with something, kept under its content's hash. */
export interface Attachment {
  readonly fileId: string;
  readonly name: string;
  readonly type: string;
  /** Bytes. */
  readonly size: number;
}

/** How a call we made ended, as the line reports it; `lost` when the desk went down meanwhile. */
export type CallResult = "talked" | "voicemail" | "no-answer" | "busy" | "not-picked-up" | "lost";

export type AlertAbout =
  | "hand-off"
  | "nudge"
  | "ring"
  | "standby"
  | "given"
  | "again"
  | "listed"
  | "woke"
  | "reply"
  | "call-back"
  | "quiet"
  | "joined"
  | "gone"
  | "mentioned"
  | "booked"
  | "undelivered"
  | "planned"
  | "list";

/** The ways somebody of ours can be told of something. */
export const ALERT_WAYS = ["chat", "text", "email", "browser"] as const;

export type AlertWay = (typeof ALERT_WAYS)[number];

/** The ways by which a message leaves the house. A browser shows something only while somebody has it open. */
export const MESSAGE_WAYS = ["chat", "text", "email"] as const;

export type MessageWay = (typeof MESSAGE_WAYS)[number];

/** What a message that is only a word asks for. */
export type OptWord = "stop" | "start" | "help";

/** The ways inquiries come in. */
export const CHANNELS = [
  "website",
  "ad-form",
  "call",
  "text",
  "email",
  "chat",
  "document",
  "spreadsheet",
  "hand",
] as const;

export type Channel = (typeof CHANNELS)[number];

export type StepKind = "call" | "text" | "email" | "task";

/** Stages of a lead that the desk itself sets, as they are kept. */
export const STAGE = {
  fresh: "New",
  tried: "Being tried",
  talking: "Talking",
  over: "Handed over",
} as const;

import type { Channel } from "../vocabulary.ts";
import type { ReplyPolicy } from "./answering.ts";
import type { Mapping } from "./mapping.ts";

export interface Source {
  readonly id: string;
  readonly key: string;
  readonly name: string;
  readonly channel: Channel;
  readonly state: "draft" | "live" | "paused";
  /** Our own number or address that this source listens on and answers from. */
  readonly line?: string;
  /** Lines it had before: still listened on, so that answers to old messages find their way. */
  readonly formerLines?: readonly string[];
  /** Standard Webhooks secret; deliveries must be signed with it when present. */
  readonly signingSecret?: string;
  readonly mapping: Mapping;
  /** The form that this website source shows; none when the site brings its own. */
  readonly form?: WebForm;
  /** The form of the ad platform that this source is connected to. */
  readonly adForm?: AdFormLink;
  /** Whose line it is; null or absent for the source's own. */
  readonly lineOwnerId?: string | null;
  /** The group whose line it is: its members write and call from it. Who comes in by it is routed by the rules. */
  readonly lineGroupId?: string | null;
  /** How it answers on its own; the company's usual reply when left out. */
  readonly reply?: ReplyPolicy;
}

/** One question of a website form. */
export interface FormField {
  /** The name its answer arrives under; what it becomes is the mapping's business. */
  readonly name: string;
  readonly label: string;
  readonly type: "text" | "email" | "tel" | "area" | "choice" | "consent";
  readonly required: boolean;
  readonly choices: readonly FormChoice[];
  readonly help?: string;
}

/** A choice of a form, and what choosing it sets. */
export interface FormChoice {
  readonly value: string;
  readonly label: string;
  readonly sets?: { readonly tag?: string; readonly product?: string };
}

export interface WebForm {
  readonly title: string;
  readonly intro: string;
  readonly button: string;
  readonly thanks: string;
  readonly fields: readonly FormField[];
  /** Sites that may show the form's own page in a frame, as `https://www.example.com`; none when left out. */
  readonly frames?: readonly string[];
}

/** Where a source hangs on the ad platform, by the platform's names and ids. */
export interface AdFormLink {
  readonly accountId: string;
  readonly accountName: string;
  readonly pageName: string;
  readonly formId: string;
  readonly formName: string;
  /** The form's questions as last fetched: a change is noticed by comparing. */
  readonly questions: readonly { readonly field: string; readonly label: string }[];
}

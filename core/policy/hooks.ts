import type { Condition } from "../condition/tree.ts";

/** What another system can be told of. */
export const HOOK_EVENTS = {
  "lead.handed-over": "A lead was handed over",
  "lead.stage": "A lead moved to another stage",
  "deal.moved": "A deal moved to another stage",
  "deal.won": "A deal was won",
  "deal.ended": "A deal was lost, or came to no decision",
  "estimate.sent": "An estimate was sent",
  "estimate.answered": "An estimate was accepted or declined",
} as const;
export type HookEvent = keyof typeof HOOK_EVENTS;

/** What else it hears of leads, by what is true of a kind of event. */
export const HOOK_TRAITS = {
  none: "Nothing else",
  talk: "Whatever is said or done between them and us: inquiries, calls, messages, notes, outcomes",
  all: "Everything that happens to a lead, how the desk runs it included",
} as const;
export type HookTrait = keyof typeof HOOK_TRAITS;

/** What it is sent: all there is, chosen fields of the lead, or JSON written as a template. */
export type HookSends =
  | { readonly kind: "whole" }
  | { readonly kind: "fields"; readonly fields: readonly string[] }
  | { readonly kind: "template"; readonly template: string };

/** Another system that is told, by a signed webhook. Its secret is kept sealed, beside the set-up and never in it. */
export interface Hook {
  readonly id: string;
  readonly name: string;
  readonly url: string;
  readonly events: readonly HookEvent[];
  /** What else it hears of leads; nothing when left out. */
  readonly trait?: HookTrait | undefined;
  /** Of which leads alone; null or left out for all. What is about no lead is told all the same. */
  readonly when?: Condition | null | undefined;
  /** All there is when left out. */
  readonly sends?: HookSends | undefined;
  /** It stands in this house's own network, and an administrator has allowed that. */
  readonly inside?: boolean | undefined;
  readonly on: boolean;
}

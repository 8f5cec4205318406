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

/** Another system that is told, by a signed webhook. Its secret is kept sealed, beside the set-up and never in it. */
export interface Hook {
  readonly id: string;
  readonly name: string;
  readonly url: string;
  readonly events: readonly HookEvent[];
  readonly on: boolean;
}

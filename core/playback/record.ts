import type { LeadEvent } from "../lead/events.ts";

/** What happened to one lead in one act, as it was recorded. */
export interface RecordedAct {
  readonly leadId: string;
  readonly at: number;
  readonly events: readonly LeadEvent[];
}

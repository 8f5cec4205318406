import type { StepKind } from "../vocabulary.ts";

/** When a next step falls due: some time on, moved into open hours, or to a part of the day. */
export interface StepDelay {
  readonly days?: number;
  readonly hours?: number;
  readonly skipWeekend?: boolean;
  /** Desk wall time `HH:MM`, so that tries fall at different times of day. */
  readonly at?: string;
}

/** What an outcome of a try means and what it sets as the next step. */
export interface OutcomePolicy {
  readonly key: string;
  readonly name: string;
  /** A two-way contact has taken place. */
  readonly reached: boolean;
  readonly next: (StepDelay & { readonly kind: StepKind; readonly note: string }) | null;
}

/** How calls can be booked: their length, what is kept free around them, how soon and how far ahead. */
export interface BookingPolicy {
  readonly minutes: number;
  readonly bufferMinutes: number;
  readonly noticeMinutes: number;
  readonly daysAhead: number;
}

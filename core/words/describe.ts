import { entryOf, type LeadEvent } from "../lead/events.ts";
import type { Setup } from "../policy/setup.ts";

/** One event as a short sentence for the thread. */
export const describeEvent = (event: LeadEvent, setup: Setup): string =>
  entryOf(event).said(event.data, setup, event);

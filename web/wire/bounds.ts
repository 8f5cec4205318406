import { z } from "zod";

/** What everything that comes over the wire is kept within: so that no number, text or date is beyond what the desk can hold. */

/** Years a desk has to do with: a time outside of them is a slip, and beyond some of them no calendar can be made. */
const FIRST_YEAR = 1970;
const LAST_YEAR = 2199;

const isWithin = (written: string) => {
  const year = new Date(written).getUTCFullYear();
  return year >= FIRST_YEAR && year <= LAST_YEAR;
};

/** A moment, ISO 8601 with offset or Z. */
export const time = z.iso
  .datetime({ offset: true, error: "Give a time as 2026-03-04T09:00:00Z." })
  .refine(isWithin, `Give a time between the years ${FIRST_YEAR} and ${LAST_YEAR}.`);

/** An id of ours, or a key. */
export const id = z.string().max(200);
/** A line: a name, a reason, a heading. */
export const line = z.string().max(500, "500 characters are the most here.");
/** Several lines: a note, a message, a template. */
export const lines = z.string().max(50_000, "50,000 characters are the most here.");

/** A time of the day by the wall. */
export const wall = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, "Give a time as 08:00.");

/** How deep what is sent may be nested. Conditions may lie twenty deep, and each takes two levels. */
const DEEPEST = 60;

/** Whether something that was sent is nested deeper than anything the API takes. Never recurses further than that. */
export function isTooDeep(value: unknown, depth = 0): boolean {
  if (typeof value !== "object" || value === null) return false;
  if (depth > DEEPEST) return true;
  return Object.values(value).some((inner) => isTooDeep(inner, depth + 1));
}

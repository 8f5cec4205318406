import { z } from "zod";
import type { Right } from "../../core/access/access.ts";

/**
 * Who may make a call: anybody at all, anybody who works here, only somebody who has signed in themselves and no program
 * for them, those with a right, or anybody in rehearsal.
 */
export type Needs = "anybody" | "signed-in" | "in-person" | "rehearsal" | Right;

/** One call of the API: all that is known of it stands here, and everything else is derived from it. */
export interface CallDefinition {
  readonly needs: Needs;
  /** What it does, for those who read the API's document. */
  readonly said: string;
  /** What is sent, as JSON. */
  readonly body?: z.ZodType;
  /** The media type of what is sent, when its handler reads it itself: a file, or what another system signs. */
  readonly takes?: string;
  /** What may stand after the question mark, and what it means. */
  readonly query?: Readonly<Record<string, string>>;
  /** The status of what is answered when all is well; 200 when nothing is said. */
  readonly status?: number;
  readonly answer: z.ZodType;
  /** The media type of what is answered, when it is not JSON. */
  readonly gives?: string;
}

/** A table of calls by method and path, each with its own types. */
export const defineCalls = <const T extends Readonly<Record<`${"GET" | "POST"} /${string}`, CallDefinition>>>(
  calls: T,
): T => calls;

/** Lists come in pages. */
export const PAGE = { limit: "How many at most", cursor: "`next` of the page before" };
/** Bytes as they are. */
export const FILE = z.string().describe("The file itself");

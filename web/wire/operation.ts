import type { z } from "zod";

/** One call of the API, as it is described. */
export interface Operation {
  readonly method: "get" | "post";
  readonly path: string;
  readonly summary: string;
  readonly body?: z.ZodType;
  readonly status?: number;
  readonly answer: z.ZodType;
  readonly query?: Readonly<Record<string, string>>;
}

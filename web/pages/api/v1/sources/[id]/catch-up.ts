import { problem, serve } from "../../../../../api/endpoint.ts";
import { sourceOf } from "../../../../../api/source.ts";

/** Fetch from the ad platform what was missed. */
export const POST = serve(
  "POST /sources/[id]/catch-up",
  sourceOf(async (source, { context }) => {
    try {
      return await context.locals.ads.catchUp(source);
    } catch (error) {
      return problem(
        "could-not-be-fetched",
        409,
        "Could not be fetched",
        error instanceof Error ? error.message : String(error),
      );
    }
  }),
);

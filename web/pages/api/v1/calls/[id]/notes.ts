import { serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /calls/[id]/notes", ({ params, body, context }) => ({
  kept: context.locals.dialer.note(params.id ?? "", body.notes),
}));

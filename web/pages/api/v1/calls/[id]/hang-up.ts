import { serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /calls/[id]/hang-up", async ({ params, context }) => {
  await context.locals.dialer.hangUp(params.id ?? "");
  return { asked: true };
});

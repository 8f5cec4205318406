import { z } from "zod";
import { endpoint } from "../../../../../api/endpoint.ts";

export const POST = endpoint(z.object({}), async ({ params, context }) => {
  await context.locals.dialer.hangUp(params.id ?? "");
  return { asked: true };
});

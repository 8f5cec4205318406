import { serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /calls/[id]/done", ({ params, context }) => ({
  done: context.locals.dialer.putAside(params.id ?? ""),
}));

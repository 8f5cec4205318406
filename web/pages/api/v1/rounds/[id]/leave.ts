import { serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /rounds/[id]/leave", ({ desk, me, params, body }) => {
  desk.rounds.leave(params.id ?? "", body.personId ?? me.id);
  return { left: true };
});

import { refusal, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /lists/[id]/remove", ({ desk, me, rights, params }) => {
  const removed = desk.lists.remove({ me, rights }, params.id ?? "");
  return removed.ok ? new Response(null, { status: 204 }) : refusal(removed.problem);
});

import { refusal, serve } from "../../../../../../api/endpoint.ts";

export const POST = serve("POST /setup/cadences/[id]/remove", ({ desk, me, params }) => {
  const changed = desk.cadences.remove(params.id ?? "", me.id);
  return changed.ok ? { removed: true } : refusal(changed.problem);
});

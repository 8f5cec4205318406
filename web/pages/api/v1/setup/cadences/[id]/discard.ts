import { refusal, serve } from "../../../../../../api/endpoint.ts";

export const POST = serve("POST /setup/cadences/[id]/discard", ({ desk, me, params }) => {
  const changed = desk.cadences.dropDraft(params.id ?? "", me.id);
  return changed.ok ? { discarded: true } : refusal(changed.problem);
});

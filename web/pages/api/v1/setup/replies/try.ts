import { changeReplies } from "../../../../../../core/setup/change.ts";
import { problem, refusal, serve } from "../../../../../api/endpoint.ts";
import { tryReplies } from "../../../../../wire/shape-answering.ts";

export const POST = serve("POST /setup/replies/try", ({ desk, body }) => {
  const changed = changeReplies(desk.setup, body);
  if (!changed.ok) return refusal(changed.problem);
  const source = changed.setup.sources.find((s) => s.id === body.sourceId);
  if (!source) return problem("no-such-source", 404, "No such source", "There is no source by that id.");
  return tryReplies(desk, changed.setup, source, body.leadId, body.at);
});

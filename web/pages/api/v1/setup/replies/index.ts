import { changeReplies } from "../../../../../../core/setup/change.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { toReplies } from "../../../../../wire/shape-answering.ts";

export const GET = serve("GET /setup/replies", ({ desk }) => toReplies(desk.setup));

export const POST = serve("POST /setup/replies", ({ desk, me, body }) => {
  const changed = changeReplies(desk.setup, body);
  if (!changed.ok) return refusal(changed.problem);
  desk.changeSetup(changed.setup, me.id);
  return toReplies(changed.setup);
});

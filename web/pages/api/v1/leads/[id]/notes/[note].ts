import { editNote } from "../../../../../../../core/desk/notes.ts";
import { answer, serve } from "../../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/notes/[note]", ({ desk, me, params, body }) => {
  const leadId = params.id ?? "";
  const history = desk.reader.events(leadId);
  return answer(desk.act(leadId, (world) => editNote(world, me.id, params.note ?? "", body.text, history)));
});

import { addNote } from "../../../../../../core/desk/notes.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/notes", ({ desk, me, params, body }) =>
  answer(
    desk.act(params.id ?? "", (world) => addNote(world, me.id, body.text, body.asks)),
    201,
  ),
);

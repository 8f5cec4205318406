import { addNote } from "../../../../../../core/desk/work.ts";
import { answer, endpoint } from "../../../../../api/endpoint.ts";
import { Note } from "../../../../../wire/schemas.ts";

export const POST = endpoint(Note, ({ desk, me, params, body }) =>
  answer(
    desk.act(params.id ?? "", (world) => addNote(world, me.id, body.text)),
    201,
  ),
);

import { answerColleague } from "../../../../../../../../core/desk/notes.ts";
import { answer, serve } from "../../../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/notes/[note]/answer", ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => answerColleague(world, me.id, params.note ?? "", body.text))),
);

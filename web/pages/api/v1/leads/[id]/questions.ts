import { answerQuestions } from "../../../../../../core/desk/stage.ts";
import { leadFor } from "../../../../../api/belongs.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";
import { toAsking } from "../../../../../wire/shape-stages.ts";

export const GET = serve("GET /leads/[id]/questions", ({ desk, me, rights, params }) =>
  toAsking(desk, leadFor(desk, { me, rights }, params.id ?? "")!, rights.has("leads.move")),
);

export const POST = serve("POST /leads/[id]/questions", ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => answerQuestions(world, me.id, body.answers))),
);

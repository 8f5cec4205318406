import { serve } from "../../../api/endpoint.ts";
import { toBoard } from "../../../wire/shape-deals.ts";

export const GET = serve("GET /board", ({ desk, me, rights }) =>
  toBoard(desk, me.id, rights.has("leads.all")),
);

import { refusal, serve } from "../../../../../api/endpoint.ts";
import { toSavedList } from "../../../../../api/lists.ts";

export const POST = serve("POST /lists/[id]/look", ({ desk, me, rights, params, body }) => {
  const looked = desk.lists.look({ me, rights }, params.id ?? "", body);
  return looked.ok ? toSavedList(desk, { me, rights }, looked.list) : refusal(looked.problem);
});

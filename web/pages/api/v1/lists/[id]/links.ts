import { NO_SUCH_LIST } from "../../../../../../server/lists/lists.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { madeLink } from "../../../../../api/open-links.ts";

export const POST = serve("POST /lists/[id]/links", ({ desk, me, rights, params, body }) => {
  const list = desk.lists.get({ me, rights }, params.id ?? "");
  return list
    ? madeLink(desk, me.id, { kind: "list", listId: list.id, format: body.format })
    : refusal(NO_SUCH_LIST);
});

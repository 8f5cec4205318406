import { refusal, serve } from "../../../../../../../api/endpoint.ts";
import { sendOf, toListSend } from "../../../../../../../api/lists.ts";

export const POST = serve("POST /lists/[id]/sends/[send]/remove", ({ desk, me, rights, params }) => {
  const found = sendOf(desk, { me, rights }, params);
  if ("code" in found) return refusal(found);
  desk.listSends.remove(found.listId, found.id);
  const list = desk.lists.get({ me, rights }, found.listId);
  const { to } = toListSend(desk, found);
  desk.office.audit(me.id, `has the list “${list?.name}” no longer sent to ${to.name}`);
  return new Response(null, { status: 204 });
});

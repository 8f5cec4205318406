import { NO_SUCH_LIST } from "../../../../../../../server/lists/lists.ts";
import { json, refusal, serve } from "../../../../../../api/endpoint.ts";
import { minuteOf, toListSend, toListSends } from "../../../../../../api/lists.ts";

export const GET = serve("GET /lists/[id]/sends", ({ desk, me, rights, params }) => {
  const list = desk.lists.get({ me, rights }, params.id ?? "");
  return list ? toListSends(desk, { me, rights }, list) : refusal(NO_SUCH_LIST);
});

export const POST = serve("POST /lists/[id]/sends", ({ desk, me, rights, params, body }) => {
  const list = desk.lists.get({ me, rights }, params.id ?? "");
  if (!list) return refusal(NO_SUCH_LIST);
  const { time, ...how } = body;
  const added = desk.listSends.add({ me, rights }, list, { ...how, minute: minuteOf(time) });
  if (!added.ok) return refusal(added.problem);
  const send = toListSend(desk, added.send);
  desk.office.audit(me.id, `has the list “${list.name}” sent to ${send.to.name}`);
  return json(send, 201);
});

import { savePerson } from "../../../../../core/setup/change-people.ts";
import { refusal, serve } from "../../../../api/endpoint.ts";

/** Say where one is reached oneself; a number is kept as it can be called from anywhere. */
export const POST = serve("POST /me/reach", ({ desk, me, body }) => {
  const changed = desk.office.change(me.id, (setup) => {
    const now = setup.people.find((p) => p.id === me.id) ?? me;
    return savePerson(setup, { ...now, phone: body.phone, chat: body.chat.trim() });
  });
  if (!changed.ok) return refusal(changed.problem);
  const { phone, chat } = changed.setup.people.find((p) => p.id === me.id)!;
  return { phone, chat };
});

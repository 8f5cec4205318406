import { changePrivacy } from "../../../../../core/setup/change-privacy.ts";
import { refusal, serve } from "../../../../api/endpoint.ts";
import { toPrivacy } from "../../../../api/privacy.ts";

export const GET = serve("GET /privacy", ({ desk }) => toPrivacy(desk));

export const POST = serve("POST /privacy", ({ desk, me, body }) => {
  const changed = desk.office.change(me.id, (setup) => changePrivacy(setup, body));
  return changed.ok ? toPrivacy(desk) : refusal(changed.problem);
});

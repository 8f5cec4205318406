import { serve } from "../../../../../../api/endpoint.ts";
import { noSuchSystem } from "../../../../../../api/hooks.ts";

const at = (time: string | undefined) => (time === undefined ? null : Date.parse(time));

export const POST = serve(
  "POST /setup/hooks/[id]/resend",
  ({ desk, me, params, body: { from, before, state } }) => {
    const id = params.id ?? "";
    const none = noSuchSystem(desk, id);
    if (none) return none;
    const queued = desk.hooks.resendSpan(id, { from: at(from), before: at(before), state: state ?? null });
    desk.office.audit(me.id, "sent what another system was told again", { after: { system: id, queued } });
    return { queued };
  },
);

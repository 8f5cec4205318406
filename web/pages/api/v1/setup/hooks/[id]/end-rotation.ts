import { serve } from "../../../../../../api/endpoint.ts";
import { noSuchSystem } from "../../../../../../api/hooks.ts";
import { toHooks } from "../../../../../../wire/shape-hooks.ts";

export const POST = serve("POST /setup/hooks/[id]/end-rotation", ({ desk, me, params }) => {
  const id = params.id ?? "";
  const none = noSuchSystem(desk, id);
  if (none) return none;
  desk.hooks.secrets.endRotation(id);
  desk.office.audit(me.id, "ended the secret that was replaced", { after: { system: id } });
  return toHooks(desk, id);
});

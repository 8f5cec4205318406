import { serve } from "../../../../../../api/endpoint.ts";
import { noSuchSystem } from "../../../../../../api/hooks.ts";
import { toHooks } from "../../../../../../wire/shape-hooks.ts";

export const POST = serve("POST /setup/hooks/[id]/rotate", ({ desk, me, params }) => {
  const id = params.id ?? "";
  const none = noSuchSystem(desk, id);
  if (none) return none;
  const secret = desk.hooks.secrets.rotate(id);
  desk.office.audit(me.id, "replaced the secret of another system", { after: { system: id } });
  return toHooks(desk, id, secret);
});

import { serve } from "../../../../../../api/endpoint.ts";
import { noSuchSystem } from "../../../../../../api/hooks.ts";

export const POST = serve("POST /setup/hooks/[id]/test", ({ desk, params }) => {
  const id = params.id ?? "";
  return noSuchSystem(desk, id) ?? { deliveryId: desk.hooks.test(id) };
});

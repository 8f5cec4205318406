import { serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /setup/suppressed/remove", ({ desk, me, body }) => ({
  removed: desk.suppressions.remove(body.value, me.id),
}));

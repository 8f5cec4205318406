import { serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /setup/suppressed/remove", ({ desk, body }) => ({
  removed: desk.suppressions.remove(body.value),
}));

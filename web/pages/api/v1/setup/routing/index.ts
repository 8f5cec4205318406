import { serve } from "../../../../../api/endpoint.ts";
import { toRouting } from "../../../../../wire/shape-routing.ts";

export const GET = serve("GET /setup/routing", ({ desk, rights }) =>
  toRouting(desk, rights.has("rules.publish")),
);

import { serve } from "../../../../api/endpoint.ts";
import { toAsked } from "../../../../wire/shape-deals.ts";

export const GET = serve("GET /me/asked", ({ desk, me }) => toAsked(desk, me.id));

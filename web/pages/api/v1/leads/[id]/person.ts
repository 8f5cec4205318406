import { serve } from "../../../../../api/endpoint.ts";
import { toPerson } from "../../../../../api/privacy.ts";

export const GET = serve("GET /leads/[id]/person", ({ desk, params }) => toPerson(desk, params.id ?? ""));

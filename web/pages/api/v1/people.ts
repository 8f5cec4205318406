import { serve } from "../../../api/endpoint.ts";
import { toPeople } from "../../../wire/shape.ts";

export const GET = serve("GET /people", ({ desk }) => ({ items: toPeople(desk), next: null }));

import { serve } from "../../../../api/endpoint.ts";
import { choices } from "../../../../api/lab.ts";

export const GET = serve("GET /lab/choices", ({ desk }) => choices(desk));

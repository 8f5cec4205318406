import { serve } from "../../../api/endpoint.ts";
import { toManagersList } from "../../../wire/shape-bells.ts";

export const GET = serve("GET /managers-list", ({ desk }) => toManagersList(desk));

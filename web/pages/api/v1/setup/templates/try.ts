import { serve } from "../../../../../api/endpoint.ts";
import { tryTemplate } from "../../../../../wire/shape-answering.ts";

export const POST = serve("POST /setup/templates/try", ({ desk, me, body }) => tryTemplate(desk, me, body));

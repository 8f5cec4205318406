import { serve } from "../../../../api/endpoint.ts";
import { toAccess } from "../../../../wire/shape-access.ts";

export const GET = serve("GET /access", ({ desk, context }) => toAccess(desk, context.locals.accounts));

import { endpoint } from "../../../../api/endpoint.ts";
import { toAccess } from "../../../../wire/shape-access.ts";

export const GET = endpoint(null, ({ desk, context }) => toAccess(desk, context.locals.accounts));

import { endpoint } from "../../../../../api/endpoint.ts";
import { toRouting } from "../../../../../wire/shape-routing.ts";

export const GET = endpoint(null, ({ desk, rights }) => toRouting(desk, rights.has("rules.publish")));

import { cursorOf, limitOf, serve } from "../../../api/endpoint.ts";
import { toParked } from "../../../wire/shape-bells.ts";

export const GET = serve("GET /parked", ({ desk, query }) => toParked(desk, limitOf(query), cursorOf(query)));

import { cursorOf, endpoint, limitOf } from "../../../api/endpoint.ts";
import { toParked } from "../../../wire/shape-bells.ts";

export const GET = endpoint(null, ({ desk, query }) => toParked(desk, limitOf(query), cursorOf(query)));

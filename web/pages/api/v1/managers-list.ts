import { endpoint } from "../../../api/endpoint.ts";
import { toManagersList } from "../../../wire/shape-bells.ts";

export const GET = endpoint(null, ({ desk }) => toManagersList(desk));

import { endpoint } from "../../../api/endpoint.ts";
import { toPeople } from "../../../wire/shape.ts";

export const GET = endpoint(null, ({ desk }) => ({ items: toPeople(desk), next: null }));

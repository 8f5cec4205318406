import { endpoint } from "../../../../../api/endpoint.ts";
import { toVersion } from "../../../../../wire/shape-routing.ts";

export const GET = endpoint(null, ({ desk }) => ({
  items: desk.office.versions().map((v) => toVersion(desk.setup, v)),
  next: null,
}));

import { serve } from "../../../../../api/endpoint.ts";
import { toVersion } from "../../../../../wire/shape-routing.ts";

export const GET = serve("GET /setup/routing/versions", ({ desk }) => ({
  items: desk.office.versions().map((v) => toVersion(desk.setup, v)),
  next: null,
}));

import { problem, serve } from "../../../../../api/endpoint.ts";
import { toSheet } from "../../../../../wire/shape.ts";

export const GET = serve(
  "GET /leads/[id]/sheet",
  ({ desk, params }) =>
    toSheet(desk, params.id ?? "") ??
    problem("no-such-lead", 404, "No such lead", "There is no lead with that id."),
);

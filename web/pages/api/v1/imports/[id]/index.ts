import { problem, serve } from "../../../../../api/endpoint.ts";
import { toImport } from "../../../../../wire/shape-setup.ts";

export const GET = serve("GET /imports/[id]", ({ desk, params }) => {
  const row = desk.imports.get(params.id ?? "");
  return row
    ? toImport(row, desk.setup)
    : problem("no-such-import", 404, "No such import", "There is no import with that id.");
});

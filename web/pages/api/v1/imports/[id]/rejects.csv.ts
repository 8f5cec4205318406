import { problem, serve } from "../../../../../api/endpoint.ts";

/** The rows that could not be loaded, with reasons, to mend and load again. */
export const GET = serve("GET /imports/[id]/rejects.csv", ({ desk, params }) => {
  const table = desk.imports.rejects(params.id ?? "");
  if (table === null)
    return problem("no-such-import", 404, "No such import", "There is no import with that id.");
  return new Response(`\uFEFF${table}`, {
    headers: {
      "content-type": "text/csv; charset=utf-8",
      "content-disposition": `attachment; filename="rejected-${params.id}.csv"`,
    },
  });
});

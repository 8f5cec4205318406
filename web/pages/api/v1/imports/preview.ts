import { problem, serve } from "../../../../api/endpoint.ts";

/** Keep a file and show how it would be read. The body is the file; `?name=` says what it is called. */
export const POST = serve("POST /imports/preview", async ({ desk, context, query }) => {
  const bytes = Buffer.from(await context.request.arrayBuffer());
  if (bytes.length === 0) return problem("empty", 422, "Empty", "The file is empty.");
  const preview = desk.imports.preview(bytes, query.get("name") ?? "spreadsheet.csv");
  return "problem" in preview ? problem("nothing-to-read", 422, "Nothing to read", preview.problem) : preview;
});

import { endpoint, problem } from "../../../../api/endpoint.ts";

/** The most a spreadsheet may weigh, in bytes. */
const MOST = 120 * 1_048_576;

/** Keep a file and show how it would be read. The body is the file; `?name=` says what it is called. */
export const POST = endpoint(null, async ({ desk, context, query }) => {
  const bytes = Buffer.from(await context.request.arrayBuffer());
  if (bytes.length === 0) return problem(422, "Empty", "The file is empty.");
  if (bytes.length > MOST) return problem(413, "Too large", "A spreadsheet may weigh 120 MB at most.");
  const preview = desk.imports.preview(bytes, query.get("name") ?? "spreadsheet.csv");
  return "problem" in preview ? problem(422, "Nothing to read", preview.problem) : preview;
});

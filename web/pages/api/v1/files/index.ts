import { cleanName } from "../../../../../server/files/files.ts";
import { json, problem, serve } from "../../../../api/endpoint.ts";

/** Keep a file to send along with a mail: the body is the file, `name` is what it is called. */
export const POST = serve("POST /files", async ({ desk, me, query, context }) => {
  const bytes = Buffer.from(await context.request.arrayBuffer());
  if (bytes.length === 0)
    return problem(
      "an-empty-file",
      422,
      "An empty file",
      "There is nothing in this file. Choose another one.",
    );
  const type = context.request.headers.get("content-type") ?? "application/octet-stream";
  return json(desk.files.keep(bytes, cleanName(query.get("name") ?? "file"), type, me.id), 201);
});

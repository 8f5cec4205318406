import { cleanName } from "../../../../../server/files/files.ts";
import { endpoint, json, problem } from "../../../../api/endpoint.ts";

/** What a mail program on the other side still takes. */
const MOST = 10 * 1024 * 1024;

/** Keep a file to send along with a mail: the body is the file, `name` is what it is called. */
export const POST = endpoint(null, async ({ desk, query, context }) => {
  const bytes = Buffer.from(await context.request.arrayBuffer());
  if (bytes.length === 0)
    return problem(422, "An empty file", "There is nothing in this file. Choose another one.");
  if (bytes.length > MOST)
    return problem(422, "Too big to mail", "A file to mail weighs 10 MB at most. Send a link.");
  const type = context.request.headers.get("content-type") ?? "application/octet-stream";
  return json(desk.files.keep(bytes, cleanName(query.get("name") ?? "file"), type), 201);
});

import { serve } from "../../../../api/endpoint.ts";
import { noSuchFile, sourceById } from "../../../../api/source.ts";

/** Go through a whole file without writing anything: what it would make, join and refuse. */
export const POST = serve("POST /imports/check", ({ desk, body }) => {
  const { fileId, sourceId, ...options } = body;
  const source = sourceById(desk, sourceId);
  if (source instanceof Response) return source;
  return desk.imports.has(fileId) ? desk.imports.check(fileId, source, options) : noSuchFile();
});

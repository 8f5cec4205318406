import { serve } from "../../../../api/endpoint.ts";
import { sourceById } from "../../../../api/source.ts";

/** Go through a whole file without writing anything: what it would make, join and refuse. */
export const POST = serve("POST /imports/check", ({ desk, body }) => {
  const { fileId, sourceId, ...options } = body;
  const source = sourceById(desk, sourceId);
  return source instanceof Response ? source : desk.imports.check(fileId, source, options);
});

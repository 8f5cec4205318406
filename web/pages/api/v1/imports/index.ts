import { json, serve } from "../../../../api/endpoint.ts";
import { noSuchFile, sourceById } from "../../../../api/source.ts";
import { toImport } from "../../../../wire/shape-setup.ts";

export const GET = serve("GET /imports", ({ desk }) => ({
  items: desk.imports.list().map((row) => toImport(row, desk.setup)),
  next: null,
}));

/** Begin an import that was previewed and checked. It goes on in the background. */
export const POST = serve("POST /imports", ({ desk, me, body }) => {
  const { fileId, name, sourceId, total, ...options } = body;
  const source = sourceById(desk, sourceId);
  if (source instanceof Response) return source;
  if (!desk.imports.has(fileId)) return noSuchFile();
  const id = desk.imports.start(fileId, name, source, options, total, me.id);
  return json(toImport(desk.imports.get(id)!, desk.setup), 201);
});

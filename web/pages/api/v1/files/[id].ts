import { cleanName, isShown } from "../../../../../server/files/files.ts";
import { problem, serve } from "../../../../api/endpoint.ts";

/** A file that came with something. Sound and pictures may be shown in place; everything else is handed out only. */
export const GET = serve("GET /files/[id]", ({ desk, params, query, context }) => {
  const file = desk.files.read(params.id ?? "");
  if (!file) return problem("no-such-file", 404, "No such file", "There is no file with that id.");
  const name = cleanName(query.get("name") ?? "file");
  const place = isShown(file.type) ? "inline" : "attachment";
  const headers = {
    "content-type": isShown(file.type) ? file.type : "application/octet-stream",
    "content-disposition": `${place}; filename*=UTF-8''${encodeURIComponent(name)}`,
    "x-content-type-options": "nosniff",
    "content-security-policy": "sandbox; default-src 'none'",
    "cache-control": "private, max-age=31536000, immutable",
    "accept-ranges": "bytes",
  };
  const range = /^bytes=(\d+)-(\d*)$/.exec(context.request.headers.get("range") ?? "");
  if (!range) return new Response(new Uint8Array(file.bytes), { headers });
  // A player that seeks asks for a part.
  const from = Number(range[1]);
  const to = range[2] ? Math.min(Number(range[2]), file.bytes.length - 1) : file.bytes.length - 1;
  if (from > to) return new Response(null, { status: 416 });
  return new Response(new Uint8Array(file.bytes.subarray(from, to + 1)), {
    status: 206,
    headers: { ...headers, "content-range": `bytes ${from}-${to}/${file.bytes.length}` },
  });
});

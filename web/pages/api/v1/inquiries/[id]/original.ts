import { problem, serve } from "../../../../../api/endpoint.ts";

const ENDINGS: readonly [RegExp, string][] = [
  [/rfc822/, "eml"],
  [/xml/, "xml"],
  [/vcard/, "vcf"],
  [/json/, "json"],
  [/csv/, "csv"],
];

/** What arrived, byte for byte, as a download. A spreadsheet's row gives the whole file. */
export const GET = serve("GET /inquiries/[id]/original", ({ desk, params }) => {
  const id = params.id ?? "";
  const original = desk.reader.original(id) ?? desk.imports.originalOf(id);
  if (!original)
    return problem("no-such-inquiry", 404, "No such inquiry", "There is no inquiry with that id.");
  const ending = ENDINGS.find(([type]) => type.test(original.contentType))?.[1] ?? "txt";
  return new Response(new Uint8Array(original.raw), {
    headers: {
      "content-type": "application/octet-stream",
      "content-disposition": `attachment; filename="${params.id}.${ending}"`,
      "x-content-type-options": "nosniff",
    },
  });
});

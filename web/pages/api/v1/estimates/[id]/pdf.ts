import { estimateFor, pdfOf } from "../../../../../api/document.ts";
import { problem, serve } from "../../../../../api/endpoint.ts";

export const GET = serve("GET /estimates/[id]/pdf", ({ desk, params }) => {
  const found = estimateFor(desk, params.id ?? "");
  const file = found?.estimate.file;
  const kept = file && desk.files.read(file.fileId);
  return kept
    ? pdfOf(kept.bytes, file.name)
    : problem(
        "no-such-file",
        404,
        "No such file",
        "The document of this estimate is gone from the folder of files.",
      );
});

import { worksheetOf } from "../../../../../../core/setup/change-worksheets.ts";
import { serve } from "../../../../../api/endpoint.ts";
import { toWorkedOut } from "../../../../../wire/shape-deals.ts";

export const POST = serve("POST /setup/worksheets/try", ({ desk, body }) => {
  const sheet = worksheetOf(desk.setup, body.worksheet, "worksheet");
  if ("ok" in sheet)
    return {
      ok: false,
      lines: [],
      tax: "",
      total: "",
      faults: (sheet.problem.errors ?? []).map(({ path, message }) => ({
        path: path.replace(/^worksheet\./, ""),
        message,
        at: null,
      })),
    };
  return toWorkedOut(desk, sheet, body.inputs);
});

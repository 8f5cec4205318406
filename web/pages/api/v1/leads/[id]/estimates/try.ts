import { problem, serve } from "../../../../../../api/endpoint.ts";
import { toWorkedOut } from "../../../../../../wire/shape-deals.ts";

export const POST = serve("POST /leads/[id]/estimates/try", ({ desk, body }) => {
  const sheet = desk.setup.policies.worksheets.find((w) => w.id === body.worksheet);
  return sheet
    ? toWorkedOut(desk, sheet, body.inputs)
    : problem("no-such-worksheet", 422, "No such worksheet", "Choose one of the worksheets.", [
        { path: "worksheet", message: "Choose one of the worksheets." },
      ]);
});

import { changeWorksheets } from "../../../../../../core/setup/change-worksheets.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { toWorksheets } from "../../../../../wire/shape-deals.ts";

export const GET = serve("GET /setup/worksheets", ({ desk }) => toWorksheets(desk));

export const POST = serve("POST /setup/worksheets", ({ desk, me, body }) => {
  const changed = desk.office.change(me.id, (setup) => changeWorksheets(setup, body.worksheets, body.layout));
  return changed.ok ? toWorksheets(desk) : refusal(changed.problem);
});

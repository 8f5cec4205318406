import { changeCompany } from "../../../../../core/setup/change-company.ts";
import { refusal, serve } from "../../../../api/endpoint.ts";
import { toCompany } from "../../../../wire/shape-company.ts";

export const GET = serve("GET /setup/company", ({ desk }) => toCompany(desk));

export const POST = serve("POST /setup/company", ({ desk, me, body }) => {
  const changed = desk.office.change(me.id, (setup) => changeCompany(setup, body));
  return changed.ok ? toCompany(desk) : refusal(changed.problem);
});

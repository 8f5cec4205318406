import { changeTerritories } from "../../../../../../core/setup/change-market.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { toTerritories } from "../../../../../wire/shape-company.ts";

export const GET = serve("GET /setup/territories", ({ desk }) => toTerritories(desk));

export const POST = serve("POST /setup/territories", ({ desk, me, body }) => {
  const changed = desk.office.change(me.id, (setup) => changeTerritories(setup, body.territories));
  return changed.ok ? toTerritories(desk) : refusal(changed.problem);
});

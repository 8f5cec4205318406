import { changeProducts } from "../../../../../core/setup/change-market.ts";
import { refusal, serve } from "../../../../api/endpoint.ts";
import { toProducts } from "../../../../wire/shape-company.ts";

export const GET = serve("GET /setup/products", ({ desk }) => toProducts(desk));

export const POST = serve("POST /setup/products", ({ desk, me, body }) => {
  const changed = desk.office.change(me.id, (setup) => changeProducts(setup, body.products));
  return changed.ok ? toProducts(desk) : refusal(changed.problem);
});

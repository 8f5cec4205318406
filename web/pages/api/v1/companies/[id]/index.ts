import { changeCustomer } from "../../../../../../core/desk/customers.ts";
import { bookActed, companyOf } from "../../../../../api/book.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { toCompany } from "../../../../../wire/shape-customers.ts";

export const GET = serve("GET /companies/[id]", ({ desk, params }) => {
  const found = companyOf(desk, params.id);
  return found.ok ? toCompany(desk, found.record) : refusal(found.problem);
});

export const POST = serve("POST /companies/[id]", ({ desk, me, params, body }) =>
  bookActed(
    params.id,
    desk.actBook(null, (world) => changeCustomer(world, me.id, params.id ?? "", body)),
  ),
);

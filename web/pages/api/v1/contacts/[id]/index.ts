import { changeCustomer } from "../../../../../../core/desk/customers.ts";
import { bookActed, contactOf } from "../../../../../api/book.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { toContact } from "../../../../../wire/shape-customers.ts";

export const GET = serve("GET /contacts/[id]", ({ desk, params }) => {
  const found = contactOf(desk, params.id);
  return found.ok ? toContact(desk, found.record) : refusal(found.problem);
});

export const POST = serve("POST /contacts/[id]", ({ desk, me, params, body }) =>
  bookActed(
    params.id,
    desk.actBook(null, (world) => changeCustomer(world, me.id, params.id ?? "", body)),
  ),
);

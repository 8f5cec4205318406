import { joinCustomers } from "../../../../../../core/desk/customers.ts";
import { bookActed } from "../../../../../api/book.ts";
import { serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /contacts/[id]/join", ({ desk, me, params, body }) =>
  bookActed(
    params.id,
    desk.actBook(null, (world) => joinCustomers(world, me.id, params.id ?? "", body.with)),
  ),
);

import { endpoint } from "../../../../../api/endpoint.ts";
import { CallNotes } from "../../../../../wire/answering-schemas.ts";

export const POST = endpoint(CallNotes, ({ params, body, context }) => ({
  kept: context.locals.dialer.note(params.id ?? "", body.notes),
}));

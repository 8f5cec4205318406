import { cursorOf, limitOf, problem, serve } from "../../../../../api/endpoint.ts";
import { toEvent } from "../../../../../wire/shape.ts";

export const GET = serve("GET /leads/[id]/events", ({ desk, params, query }) => {
  const id = params.id ?? "";
  if (!desk.look(id).lead)
    return problem("no-such-lead", 404, "No such lead", "There is no lead with that id.");
  const limit = query.has("limit") ? limitOf(query, 1_000) : 1_000;
  const events = desk.reader.events(id, cursorOf(query) ?? 0, limit + 1);
  const page = events.slice(0, limit);
  return {
    items: page.map((e) => toEvent(e, desk.setup)),
    next: events.length > limit ? String(page.at(-1)!.seq) : null,
  };
});

import { refusal, serve } from "../../../api/endpoint.ts";
import { noSuchDay } from "../../../api/today.ts";

export const GET = serve("GET /my-day", ({ desk, me, query }) => {
  const done = desk.today.doneBy(me.id, query.get("date") || null);
  if (!done) return refusal(noSuchDay());
  return { items: done.map(({ at, ...one }) => ({ ...one, at: new Date(at).toISOString() })), next: null };
});

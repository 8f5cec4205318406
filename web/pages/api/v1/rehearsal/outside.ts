import { limitOf, serve } from "../../../../api/endpoint.ts";
import { iso } from "../../../../wire/shape.ts";

/** What phones, mailboxes and chats have received, oldest first; with `limit`, the newest so many. */
export const GET = serve("GET /rehearsal/outside", ({ rehearsal, query }) => {
  const channel = query.get("channel");
  const since = query.get("since");
  const all = rehearsal.outside.list({
    ...(channel && { channel }),
    ...(since && { since: Date.parse(since) || 0 }),
  });
  const shown = query.has("limit") ? all.slice(-limitOf(query, 1_000)) : all;
  return { items: shown.map((m) => ({ ...m, at: iso(m.at) })), next: null };
});

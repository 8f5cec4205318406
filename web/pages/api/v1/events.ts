import { eventFeed } from "../../../../server/read/event-feed.ts";
import { limitOf, problem, serve } from "../../../api/endpoint.ts";
import { toEvent } from "../../../wire/shape.ts";

export const GET = serve("GET /events", ({ desk, query }) => {
  const page = eventFeed(desk, query.get("after") || null, limitOf(query, 1_000));
  return page
    ? { ...page, items: page.items.map((e) => toEvent(e, desk.setup)) }
    : problem("no-such-place", 422, "No such place", "after: send `next` of the page before, as it was.", [
        { path: "after", message: "Send `next` of the page before, as it was." },
      ]);
});

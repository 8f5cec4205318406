import { asksAs } from "../../../../../server/lists/watch.ts";
import { calendarOf } from "../../../../../server/people/calendar.ts";
import { problem, serve } from "../../../../api/endpoint.ts";
import { listFile } from "../../../../api/list-file.ts";

const NOTHING = () => problem("not-found", 404, "Not found", "This link opens nothing, or nothing any more.");

/** Anybody may ask who has the address; they get what its maker may see now. */
export const GET = serve("GET /open/[token]", async ({ desk, params }) => {
  const found = desk.openLinks.find((params.token ?? "").replace(/\.(ics|csv|json)$/, ""));
  if (!found) return NOTHING();
  const { link, person } = found;
  const wait = await desk.openLinks.wait(link.id);
  if (wait > 0) {
    const response = problem("too-many-calls", 429, "Too many calls", "This link was fetched too often.");
    response.headers.set("retry-after", String(wait));
    return response;
  }
  if (link.kind === "calendar")
    return new Response(calendarOf(desk, person.id), {
      headers: { "content-type": "text/calendar; charset=utf-8", "cache-control": "private, no-store" },
    });
  const asks = asksAs(person);
  // A list that is gone, or not shared with its maker any more, opens nothing.
  if (!link.listId || !link.format || !desk.lists.get(asks, link.listId)) return NOTHING();
  return listFile(
    { desk, ...asks, me: person, query: new URLSearchParams({ list: link.listId }) },
    link.format,
  );
});

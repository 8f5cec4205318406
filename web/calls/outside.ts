import * as wire from "../wire/outside-schemas.ts";
import { listOf } from "../wire/schemas.ts";
import { defineCalls, FILE, PAGE } from "./define.ts";

/** What other programs read and hand in on their own. */
export const OUTSIDE = defineCalls({
  "GET /events": {
    needs: "leads.all",
    said: "Everything that happened to leads, in the order it was written: read on from `next`, also after days",
    query: { limit: PAGE.limit, after: "`next` of the page before; from the beginning when left out" },
    answer: wire.EventFeed,
  },
  "POST /inquiries/many": {
    needs: "leads.all",
    said: "Hand in up to 500 inquiries of one source at once; each is taken, matched and routed as if it came alone",
    body: wire.ManyInquiries,
    answer: wire.ManyReceipts,
  },
  "GET /me/links": {
    needs: "in-person",
    said: "One’s own secret links: to one’s calendar, and to lists",
    answer: listOf(wire.OpenLink),
  },
  "POST /me/calendar": {
    needs: "in-person",
    said: "Make a secret link to one’s own calendar of calls and next steps, for any calendar program",
    status: 201,
    answer: wire.MadeLink,
  },
  "POST /lists/[id]/links": {
    needs: "in-person",
    said: "Make a secret link to a list as a file, for spreadsheets that fetch",
    body: wire.MakeListLink,
    status: 201,
    answer: wire.MadeLink,
  },
  "POST /me/links/[id]/revoke": {
    needs: "in-person",
    said: "A secret link opens nothing from now on",
    answer: wire.RevokedLink,
  },
  "GET /open/[token]": {
    needs: "anybody",
    said: "What a secret link opens: a calendar (iCalendar), or a list (CSV or JSON)",
    answer: FILE,
    gives: "text/calendar",
  },
});

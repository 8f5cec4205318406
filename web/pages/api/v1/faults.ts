import { serve } from "../../../api/endpoint.ts";

/** Something broke in somebody's browser: it stands in the log beside what broke here. */
export const POST = serve("POST /faults", ({ desk, me, body }) => {
  desk.log.error({ ...body, by: me.id }, "something broke in a browser");
  return { noted: true };
});

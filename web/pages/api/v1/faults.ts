import { endpoint } from "../../../api/endpoint.ts";
import { Fault } from "../../../wire/schemas.ts";

/** Something broke in somebody's browser: it stands in the log beside what broke here. */
export const POST = endpoint(Fault, ({ desk, me, body }) => {
  desk.log.error({ ...body, by: me.id }, "something broke in a browser");
  return { noted: true };
});

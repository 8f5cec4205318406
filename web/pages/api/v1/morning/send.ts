import { endpoint } from "../../../../api/endpoint.ts";

/** Send the summary to every manager now. */
export const POST = endpoint(null, ({ desk }) => ({ sent: desk.morning.send(desk.newId("now")) }));

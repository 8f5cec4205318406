import { endpoint } from "../../../../api/endpoint.ts";
import { toSourceRow } from "../../../../wire/shape-setup.ts";

/** Every source with how it does. */
export const GET = endpoint(null, async ({ desk }) => ({
  items: await Promise.all(desk.setup.sources.map((s) => toSourceRow(desk, s))),
  next: null,
}));

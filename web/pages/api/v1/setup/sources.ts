import { setImmediate } from "node:timers/promises";
import { endpoint } from "../../../../api/endpoint.ts";
import { toSourceRow } from "../../../../wire/shape-setup.ts";

/** Every source with how it does, one after the other: each reads much of what came, and the desk goes on in between. */
export const GET = endpoint(null, async ({ desk }) => {
  const items = [];
  for (const source of desk.setup.sources) {
    items.push(await toSourceRow(desk, source));
    await setImmediate();
  }
  return { items, next: null };
});

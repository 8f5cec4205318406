import { setImmediate } from "node:timers/promises";
import { serve } from "../../../../api/endpoint.ts";
import { toSourceRow } from "../../../../wire/shape-setup.ts";

/** Every source with how it does, one after the other: each reads much of what came, and the desk goes on in between. */
export const GET = serve("GET /setup/sources", async ({ desk }) => {
  const items = [];
  for (const source of desk.setup.sources) {
    items.push(await toSourceRow(desk, source));
    await setImmediate();
  }
  return { items, next: null };
});

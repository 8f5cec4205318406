import { refusal, serve } from "../../../../../api/endpoint.ts";
import { toHooks } from "../../../../../wire/shape-hooks.ts";

export const GET = serve("GET /setup/hooks", ({ desk }) => toHooks(desk));

/** A new system gets a secret; it is shown this once. */
export const POST = serve("POST /setup/hooks", ({ desk, me, body }) => {
  const saved = desk.customers.saveHook(me.id, body);
  return saved.ok ? toHooks(desk, saved.id, saved.secret) : refusal(saved.problem);
});

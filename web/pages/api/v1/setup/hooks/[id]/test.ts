import { problem, serve } from "../../../../../../api/endpoint.ts";

export const POST = serve("POST /setup/hooks/[id]/test", ({ desk, params }) => {
  const id = params.id ?? "";
  if (!desk.setup.policies.hooks.some((h) => h.id === id))
    return problem("no-such-system", 404, "No such system", "There is no system with that id.");
  return { deliveryId: desk.hooks.test(id) };
});

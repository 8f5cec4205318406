import { problem, serve } from "../../../../../../api/endpoint.ts";

export const POST = serve("POST /setup/cadences/[id]/upgrade", ({ desk, params }) =>
  desk.setup.policies.cadences.some((c) => c.id === params.id)
    ? { moved: desk.cadences.upgrade(params.id ?? "") }
    : problem("no-such-cadence", 404, "No such cadence", "There is no cadence with that id."),
);

import { changeCalls } from "../../../../../core/setup/change.ts";
import { refusal, serve } from "../../../../api/endpoint.ts";
import { toCalls } from "../../../../wire/shape-answering.ts";

export const GET = serve("GET /setup/calls", ({ desk }) => toCalls(desk.setup));

export const POST = serve("POST /setup/calls", ({ desk, me, body }) => {
  // Without what was left open: the engine tells "not said" from "said to be undefined".
  const changed = changeCalls(desk.setup, JSON.parse(JSON.stringify(body)));
  if (!changed.ok) return refusal(changed.problem);
  desk.changeSetup(changed.setup, me.id);
  return toCalls(changed.setup);
});

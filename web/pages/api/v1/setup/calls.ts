import { changeCalls } from "../../../../../core/setup/change.ts";
import { endpoint, refusal } from "../../../../api/endpoint.ts";
import { CallsSetup } from "../../../../wire/answering-schemas.ts";
import { toCalls } from "../../../../wire/shape-answering.ts";

export const GET = endpoint(null, ({ desk }) => toCalls(desk.setup));

export const POST = endpoint(CallsSetup, ({ desk, me, body }) => {
  // Without what was left open: the engine tells "not said" from "said to be undefined".
  const changed = changeCalls(desk.setup, JSON.parse(JSON.stringify(body)));
  if (!changed.ok) return refusal(changed.problem);
  desk.changeSetup(changed.setup, me.id);
  return toCalls(changed.setup);
});

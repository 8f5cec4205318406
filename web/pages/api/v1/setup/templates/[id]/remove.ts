import { z } from "zod";
import { removeTemplate } from "../../../../../../../core/setup/change.ts";
import { endpoint, refusal } from "../../../../../../api/endpoint.ts";

export const POST = endpoint(z.object({}), ({ desk, me, params }) => {
  const id = params.id ?? "";
  const changed = removeTemplate(desk.setup, id);
  if (!changed.ok) return refusal(changed.problem);
  desk.changeSetup(changed.setup, me.id);
  return { removed: id };
});

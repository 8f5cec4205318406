import { changeReplies } from "../../../../../../core/setup/change.ts";
import { endpoint, refusal } from "../../../../../api/endpoint.ts";
import { ChangeReplies } from "../../../../../wire/answering-schemas.ts";
import { toReplies } from "../../../../../wire/shape-answering.ts";

export const GET = endpoint(null, ({ desk }) => toReplies(desk.setup));

export const POST = endpoint(ChangeReplies, ({ desk, me, body }) => {
  const changed = changeReplies(desk.setup, body);
  if (!changed.ok) return refusal(changed.problem);
  desk.changeSetup(changed.setup, me.id);
  return toReplies(changed.setup);
});

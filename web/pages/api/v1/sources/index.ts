import { addSource } from "../../../../../core/setup/change-sources.ts";
import { endpoint, json, refusal } from "../../../../api/endpoint.ts";
import { NewSource } from "../../../../wire/setup-schemas.ts";
import { toSourceRow } from "../../../../wire/shape-setup.ts";

export const GET = endpoint(null, ({ desk, context }) => ({
  items: desk.setup.sources.map(({ id, key, name, channel, state, line, signingSecret }) => ({
    id,
    key,
    name,
    channel,
    state,
    ...(line && { line }),
    ...(signingSecret && context.locals.rehearsal && { signingSecret }),
  })),
  next: null,
}));

/** A new source begins as a draft. */
export const POST = endpoint(NewSource, async ({ desk, me, body }) => {
  const added = addSource(desk.setup, { id: desk.newId("src"), ...body });
  if (!added.ok) return refusal(added.problem);
  desk.changeSetup(added.setup, me.id);
  return json(await toSourceRow(desk, added.source), 201);
});

import { addSource } from "../../../../../core/setup/change-sources.ts";
import { json, refusal, serve } from "../../../../api/endpoint.ts";
import { toSourceRow } from "../../../../wire/shape-setup.ts";

export const GET = serve("GET /sources", ({ desk, context }) => ({
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
export const POST = serve("POST /sources", async ({ desk, me, body }) => {
  const added = addSource(desk.setup, { id: desk.newId("src"), ...body });
  if (!added.ok) return refusal(added.problem);
  desk.changeSetup(added.setup, me.id);
  return json(await toSourceRow(desk, added.source), 201);
});

import { leadFor } from "../../../../api/belongs.ts";
import { serve } from "../../../../api/endpoint.ts";
import { toMaybe } from "../../../../wire/shape.ts";

/** Who the person with these facts may be: asked while somebody types. */
export const POST = serve("POST /leads/match", ({ desk, me, rights, body }) => {
  const source = desk.setup.sources.find((s) => s.channel === "hand");
  if (!source) return { sure: null, likely: [], unread: [] };
  const { sure, likely, unread } = desk.byHand.whoMayBe(source, body.fields);
  // A salesperson learns nothing here of leads that are not theirs; their entry joins the right one all the same.
  const seen = (id: string) => leadFor(desk, { me, rights }, id) !== null;
  return {
    sure: sure && seen(sure.id) ? { id: sure.id, name: sure.name } : null,
    likely: toMaybe(
      desk,
      likely.filter((m) => seen(m.leadId)),
    ),
    unread,
  };
});

import { serve } from "../../../../../api/endpoint.ts";
import { toOpenLink } from "../../../../../api/open-links.ts";

export const GET = serve("GET /me/links", ({ desk, me, rights }) => {
  const name = (id: string) => desk.lists.get({ me, rights }, id)?.name ?? null;
  return { items: desk.openLinks.of(me.id).map((link) => toOpenLink(link, name)), next: null };
});

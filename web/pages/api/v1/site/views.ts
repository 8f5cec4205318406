import type { APIRoute } from "astro";
import { problem } from "../../../../api/endpoint.ts";
import { SiteView } from "../../../../wire/bells-schemas.ts";

const OPEN = { "access-control-allow-origin": "*", "cache-control": "no-store" };

/**
 * A page of the company's own was looked at by somebody who came by a link of ours and agreed to it. The body is JSON
 * whatever its type says: a page that is being left can send nothing else. Who it is, is only told by a signed name.
 */
export const POST: APIRoute = async ({ request, locals }) => {
  const sent = SiteView.safeParse(await request.json().catch(() => null));
  if (!sent.success)
    return problem(
      "not-a-page-view",
      422,
      "Not a page view",
      "Send JSON with `visitor`, from the link, and `page`, an address.",
    );
  locals.desk.opened.visit(sent.data.visitor, sent.data.page);
  // Whether the name was ours is nobody's business outside.
  return new Response(null, { status: 204, headers: OPEN });
};

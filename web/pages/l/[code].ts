import type { APIRoute } from "astro";

/** A short link of ours: where it leads, and a signal. Asking without going (HEAD) is no person's doing. */
export const GET: APIRoute = ({ locals, params }) => {
  const url = locals.desk.opened.open(params.code ?? "");
  if (!url)
    return new Response("This link is not one of ours, or was cut when it was copied.", { status: 404 });
  return new Response(null, { status: 302, headers: { location: url, "cache-control": "no-store" } });
};

export const HEAD: APIRoute = () => new Response(null, { status: 204 });

import type { APIRoute } from "astro";

/** Signing in and out, passwords and sessions: better-auth's own calls. */
export const ALL: APIRoute = ({ request, locals }) => locals.accounts.handle(request, locals.address);

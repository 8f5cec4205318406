import { defineMiddleware } from "astro:middleware";
import type { APIContext } from "astro";
import { CALLS, isTheirs, type Needs, pageNeeds } from "../core/access/access.ts";
import { problem } from "./api/endpoint.ts";
import { type Caller, identify } from "./api/identify.ts";

const API = "/api/v1";

/**
 * The one place where it is decided who may do what: every call of the API is looked up in the table of
 * `core/access/access.ts` before its endpoint is reached. A lead that is not a salesperson's business is, to them, not there.
 */
export const onRequest = defineMiddleware(async (context, next) => {
  const { locals, request, url, params } = context;
  const caller = await identify(context);
  if (caller === "unknown-key")
    return problem(
      401,
      "Not signed in",
      "This API key is not known, or was revoked. In rehearsal the key is `rehearsal`.",
    );
  locals.caller = caller;
  if (!context.routePattern.startsWith(API)) return pageFor(context, caller) ?? next();
  const needs =
    CALLS[`${request.method === "HEAD" ? "GET" : request.method} ${context.routePattern.slice(API.length)}`];
  if (needs === undefined)
    return problem(404, "No such call", `There is no ${request.method} ${url.pathname}.`);
  if (needs === "anybody") return next();
  if (needs === "rehearsal")
    return locals.rehearsal ? next() : problem(404, "Not here", "This only exists in rehearsal.");
  if (!caller)
    return problem(401, "Not signed in", "Sign in, or send `Authorization: Bearer` with an API key.");
  if (!may(caller, needs, request.method))
    return problem(
      403,
      "Not yours to do",
      `${caller.me.name} may not do this. ${caller.keyed ? "The API key is not made for it." : "Ask a manager or an administrator."}`,
    );
  // A session's cookie comes along from anywhere; a page of another site may not use it.
  if (!caller.keyed && request.method !== "GET" && request.headers.get("sec-fetch-site") === "cross-site")
    return problem(
      403,
      "From another site",
      "Changes are only taken from Kite Bell’s own pages, or with an API key.",
    );
  if (params.id && context.routePattern.startsWith(`${API}/leads/`) && !caller.rights.has("leads.all")) {
    const lead = locals.desk.looker.lead(params.id);
    if (!lead || !isTheirs(lead, caller.me.id))
      return problem(404, "No such lead", "There is no lead with that id that is yours or offered to you.");
  }
  return next();
});

/** Where somebody is sent who may not see a page; null when they may. */
function pageFor({ url, locals, redirect }: APIContext, caller: Caller | null): Response | null {
  const needs = pageNeeds(url.pathname);
  if (needs === "anybody") return null;
  if (needs === "rehearsal") return locals.rehearsal ? null : redirect("/");
  if (!caller) return redirect(`/sign-in?to=${encodeURIComponent(url.pathname + url.search)}`);
  return may(caller, needs, "GET") ? null : redirect("/");
}

function may(caller: Caller, needs: Needs, method: string): boolean {
  if (!caller.writes && method !== "GET") return false;
  return needs === "signed-in" || caller.rights.has(needs as never);
}

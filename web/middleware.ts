import { defineMiddleware } from "astro:middleware";
import { randomUUID } from "node:crypto";
import type { APIContext } from "astro";
import { troubleOf } from "../server/db/sql.ts";
import { requestId } from "../server/watch/request-log.ts";
import { isBusinessOf } from "./api/belongs.ts";
import { problem } from "./api/endpoint.ts";
import { type Caller, identify, isReading } from "./api/identify.ts";
import { pageNeeds } from "./api/pages.ts";
import type { CallDefinition, Needs } from "./calls/define.ts";
import { CALLS } from "./calls/table.ts";

const API = "/api/v1";

/** Posts that come from elsewhere by their nature: signed, or by a name of ours in the address. */
const FROM_ELSEWHERE = ["/carrier/calls", "/site/views", "/u/[token]"].flatMap((p) => [p, API + p]);

/**
 * The one place where it is decided who may do what: every call of the API is looked up in the table of
 * `web/calls` before its handler is reached, and every id in a path is checked against who asks. What nobody
 * expected becomes an answer with a reference that stands in the log.
 */
export const onRequest = defineMiddleware(async (context, next) => {
  try {
    const refused = await refusedBefore(context);
    const key = context.locals.caller?.key ?? null;
    const limit = key && (await context.locals.callLimits.count(key.id));
    const response =
      limit && !limit.allowed
        ? tooOften()
        : (refused ?? (await context.locals.desk.office.actingBy(key?.name ?? null, next)));
    for (const [name, value] of Object.entries(limit?.headers ?? {})) response.headers.set(name, value);
    if (refused) return response;
    return context.locals.weighed.over ? tooLarge(context) : framed(context, response);
  } catch (error) {
    if (context.locals.weighed.over) return tooLarge(context);
    return unexpected(context, error);
  }
});

/** A page says who may show it in a frame: nobody, but for a form whose source names sites that may. */
function framed({ locals }: APIContext, response: Response): Response {
  const own = response.headers.get("content-security-policy");
  if (own && response.headers.get("content-type")?.startsWith("text/html"))
    // Letters that are shown carry their styles in attributes.
    response.headers.set(
      "content-security-policy",
      `${own.replace(/;\s*$/, "")}; style-src-attr 'unsafe-inline'; frame-ancestors ${locals.framedBy ?? "'none'"}`,
    );
  return response;
}

/** Why this request gets no further; null when it does. */
async function refusedBefore(context: APIContext): Promise<Response | null> {
  const { locals, request, url, routePattern } = context;
  const caller = await identify(context);
  if (caller === "unknown-key")
    return problem(
      "not-signed-in",
      401,
      "Not signed in",
      "This API key is not known, or was revoked. In rehearsal the key is `rehearsal`.",
    );
  locals.caller = caller;
  if (!isReading(request.method) && !caller?.said && !FROM_ELSEWHERE.includes(routePattern)) {
    if (!isFromHere(context))
      return problem(
        "from-another-site",
        403,
        "From another site",
        "Changes are only taken from Kite Bell’s own pages, or with an API key.",
      );
  }
  if (!routePattern.startsWith(API)) return pageFor(context, caller);
  const call = routePattern.slice(API.length);
  const calls: Readonly<Record<string, CallDefinition>> = CALLS;
  const needs = calls[`${request.method === "HEAD" ? "GET" : request.method} ${call}`]?.needs;
  if (needs === undefined)
    return problem("no-such-call", 404, "No such call", `There is no ${request.method} ${url.pathname}.`);
  if (needs === "anybody") return null;
  if (needs === "rehearsal")
    return locals.rehearsal ? null : problem("not-here", 404, "Not here", "This only exists in rehearsal.");
  if (!caller)
    return problem(
      "not-signed-in",
      401,
      "Not signed in",
      "Sign in, or send `Authorization: Bearer` with an API key.",
    );
  if (!may(caller, needs, request.method))
    return problem(
      "not-yours-to-do",
      403,
      "Not yours to do",
      `${caller.me.name} may not do this. ${caller.key ? "The API key is not made for it." : "Ask a manager or an administrator."}`,
    );
  if (!isBusinessOf(context, caller, call))
    return problem(
      "not-found",
      404,
      "Not found",
      "There is nothing by that id that is yours or offered to you.",
    );
  return null;
}

/**
 * Whether a request comes from a page of ours. Browsers say so (`Sec-Fetch-Site`; an older one sends `Origin` alone);
 * what says nothing is no browser, and no other site's doing.
 */
function isFromHere({ request, locals, url }: APIContext): boolean {
  const site = request.headers.get("sec-fetch-site");
  if (site) return site === "same-origin" || site === "none";
  const origin = request.headers.get("origin");
  if (!origin) return true;
  return [url.origin, locals.origin, new URL(locals.publicUrl).origin].includes(origin);
}

/** Whether somebody has just opened the app, by its address or as they signed in: no page of ours has led to the Desk. */
const isBeginning = ({ url, request }: APIContext): boolean =>
  url.pathname === "/" &&
  (url.search === "?begin" || (url.search === "" && request.headers.get("sec-fetch-site") === "none"));

/** Where somebody is sent instead of the page they ask for: who may not see it, or begins with another; null for the page. */
function pageFor(context: APIContext, caller: Caller | null): Response | null {
  const { url, locals, redirect } = context;
  const needs = pageNeeds(url.pathname);
  if (needs === "anybody") return null;
  if (needs === "rehearsal") return locals.rehearsal ? null : redirect("/");
  if (!caller) return redirect(`/sign-in?to=${encodeURIComponent(url.pathname + url.search)}`);
  if (!may(caller, needs, "GET")) return redirect("/");
  if (!isBeginning(context)) return null;
  const first = locals.desk.lists.firstOf(caller);
  return first ? redirect(`/leads?list=${first.id}`) : url.search ? redirect("/") : null;
}

function may(caller: Caller, needs: Needs, method: string): boolean {
  if (!caller.writes && !isReading(method)) return false;
  if (needs === "in-person") return caller.key === null;
  return needs === "signed-in" || caller.rights.has(needs as never);
}

/** A program that asks more than a key may. */
const tooOften = (): Response =>
  problem(
    "too-many-calls",
    429,
    "Too many calls",
    "This key has made as many calls as it may in a minute. Wait as long as Retry-After says; ask for many leads at once, or follow /events.",
  );

function tooLarge({ locals }: APIContext): Response {
  return problem(
    "too-large",
    413,
    "Too large",
    `At most ${Math.round(locals.weighed.most / 1_048_576)} MB are taken here.`,
  );
}

/** What nobody expected: told with a reference, which stands in the log with what happened. */
function unexpected({ locals, request, url, routePattern }: APIContext, error: unknown): Response {
  const reference = (requestId() ?? randomUUID()).slice(0, 8);
  locals.desk.log.error(
    { err: error, reference, call: `${request.method} ${routePattern}` },
    "a request failed",
  );
  const trouble = troubleOf(error);
  const status = trouble ? 503 : 500;
  const said =
    trouble === "full"
      ? "The disk is full: nothing can be written just now. Nothing of this was kept; try again when there is room."
      : trouble
        ? "The disk does not let Kite Bell work just now. Nothing of this was kept; tell whoever looks after it."
        : "Nothing of this was kept. Tell whoever looks after Kite Bell.";
  const detail = `${said} It stands in the log as ${reference}.`;
  const response = url.pathname.startsWith("/api/")
    ? problem(
        trouble ? "not-possible-just-now" : "something-went-wrong",
        status,
        trouble ? "Not possible just now" : "Something went wrong",
        detail,
      )
    : new Response(`Something went wrong. ${detail}`, {
        status,
        headers: { "content-type": "text/plain; charset=utf-8" },
      });
  if (trouble) response.headers.set("retry-after", "60");
  return response;
}

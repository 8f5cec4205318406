import { createHash } from "node:crypto";
import type { APIContext, APIRoute } from "astro";
import type { z } from "zod";
import type { Right } from "../../core/access/access.ts";
import type { Person } from "../../core/policy/people.ts";
import type { Problem as Refusal } from "../../core/refusal.ts";
import type { Desk } from "../../server/desk.ts";
import type { Result } from "../../server/engine/engine.ts";
import { problemBody } from "../../server/problem.ts";
import type { Rehearsal } from "../../server/rehearsal/rehearsal.ts";
import type { CallDefinition } from "../calls/define.ts";
import {
  type AnswerOf,
  CALLS,
  type CallKey,
  type Calls,
  type Checked,
  type Sendable,
} from "../calls/table.ts";
import { isTooDeep } from "../wire/bounds.ts";
import { toLead } from "../wire/shape.ts";

/** What a call's handler gets: the desk, who asks, and what was sent, already checked. */
export interface Call<K extends CallKey> {
  readonly desk: Desk;
  readonly me: Person;
  readonly rights: ReadonlySet<Right>;
  readonly body: Checked<K>;
  /** The rehearsal, for calls that only exist in one. */
  readonly rehearsal: Calls[K]["needs"] extends "rehearsal" ? Rehearsal : Rehearsal | null;
  readonly params: Readonly<Record<string, string | undefined>>;
  readonly query: URLSearchParams;
  readonly context: APIContext;
}

/** An RFC 9457 problem document. */
export function problem(
  code: string,
  status: number,
  title: string,
  detail: string,
  errors?: Refusal["errors"],
): Response {
  return new Response(JSON.stringify(problemBody(code, status, title, detail, errors)), {
    status,
    headers: { "content-type": "application/problem+json" },
  });
}

export function json(body: unknown, status = 200): Response {
  return new Response(JSON.stringify(body), { status, headers: { "content-type": "application/json" } });
}

/** The answer to something that was refused, with its reason. */
export function refusal({ code, status, title, detail, errors }: Refusal): Response {
  return problem(code, status, title, detail, errors);
}

/** The answer to something done to a lead: the lead as it is now and the act's id, or why not. */
export function answer(result: Result, status = 200): Response {
  if (!result.ok) return refusal(result.problem);
  return json({ ...toLead(result.plan.after), actId: result.plan.actId }, status);
}

type Answered<K extends CallKey> = Response | Sendable<AnswerOf<K>>;
/** What a handler gives back: what its call answers, or a response of its own, such as a refusal. */
export type Given<K extends CallKey> = Answered<K> | Promise<Answered<K>>;

/**
 * The handler of a call, by its entry in the table: what is sent has been checked by it, and what is answered is what it
 * says. What `handle` returns is sent as JSON with the entry's status. A writing call with an `Idempotency-Key` is done
 * once; a repeat gets the first answer. `personId` in a body is who acts: only those who see everybody's leads act for
 * others, but in rehearsal, where whoever plays the world plays everybody in it.
 */
export function serve<const K extends CallKey>(key: K, handle: (call: Call<K>) => Given<K>): APIRoute {
  const { needs, body: schema, takes, status = 200 }: CallDefinition = CALLS[key];
  // A file is read by its handler, bit by bit; sending it again does no harm.
  const doneOnce = key.startsWith("POST ") && !takes;
  return async (context) => {
    const { request, locals, params, url } = context;
    if (!locals.caller) return problem("not-signed-in", 401, "Not signed in", "Sign in first.");
    const { me, rights } = locals.caller;
    let body: unknown;
    let text = "";
    if (schema) {
      text = await request.text();
      const sent = parseJson(text);
      if (sent === undefined)
        return problem("not-json", 400, "Not JSON", "Send a JSON body with content-type application/json.");
      if (isTooDeep(sent))
        return problem(
          "nested-too-deep",
          422,
          "Nested too deep",
          "Nothing that is taken here is nested so deep.",
        );
      const parsed = schema.safeParse(sent);
      if (!parsed.success) return invalid(parsed.error);
      body = parsed.data;
      const acts = (body as { personId?: unknown } | undefined)?.personId;
      if (needs !== "rehearsal" && typeof acts === "string" && acts !== me.id && !rights.has("leads.all"))
        return problem(
          "not-yours-to-do",
          403,
          "Not yours to do",
          `You are ${me.name}: you can’t act for somebody else.`,
        );
    }
    const { desk, rehearsal } = locals;
    if (needs === "rehearsal" && !rehearsal)
      return problem("not-here", 404, "Not here", "This only exists in rehearsal.");
    // The one place where a checked body and a rehearsal that is there get the types their entry promises.
    const call = { desk, me, rights, body, rehearsal, params, query: url.searchParams, context } as Call<K>;
    const work = async () => {
      const given = await handle(call);
      return given instanceof Response ? given : json(given, status);
    };
    return doneOnce ? once(context, text, work) : work();
  };
}

const KINDS: Readonly<Record<string, string>> = {
  string: "a text",
  number: "a number",
  boolean: "true or false",
  array: "a list",
  object: "an object",
};

/** What the check says of a value, for a person: that it is missing, or of which kind it must be. */
function plainly({ code, message, path, ...issue }: z.core.$ZodIssue): string {
  // What an entry of the table says itself is said for people already.
  if (code !== "invalid_type" || !message.startsWith("Invalid input")) return message;
  const name = path.length > 0 ? `“${String(path.at(-1))}”` : "The body";
  const expected = "expected" in issue ? String(issue.expected) : "";
  return message.endsWith("undefined")
    ? `${name} is missing.`
    : `${name} must be ${KINDS[expected] ?? expected}.`;
}

/** What was sent is not as the call's entry says: each field with what is wrong. */
export function invalid(error: z.ZodError): Response {
  const errors = error.issues.map((i) => ({ path: i.path.join("."), message: plainly(i) }));
  const said = errors.map((e) => `${e.path || "body"}: ${e.message}`).join("; ");
  return problem("something-is-missing-or-wrong", 422, "Something is missing or wrong", said, errors);
}

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

/** What a caller's own key for a call is kept under: the same key of somebody else is another one. */
function keyOf({ request, locals, url }: APIContext, own: string): string {
  const { me, key } = locals.caller!;
  const whole = JSON.stringify([me.id, key?.id ?? null, request.method, url.pathname, own]);
  return createHash("sha256").update(whole).digest("base64url");
}

/**
 * Do a writing call once for each `Idempotency-Key` of a caller. The same key with another body is a mistake, and told
 * so. Source: the IETF draft `Idempotency-Key` of the httpapi group (422 for a reused key).
 */
async function once(context: APIContext, body: string, work: () => Promise<Response>): Promise<Response> {
  const { kept } = context.locals.desk;
  const own = context.request.headers.get("idempotency-key");
  if (!own) return work();
  const key = keyOf(context, own);
  const bodyHash = createHash("sha256").update(body).digest("base64url");
  const before = kept.answered(key);
  if (before && before.bodyHash !== bodyHash)
    return problem(
      "the-key-was-used-already",
      422,
      "The key was used already",
      "This Idempotency-Key came before with another body. Send another key for another request.",
    );
  if (before)
    return new Response(before.body, {
      status: before.status,
      headers: { "content-type": "application/json" },
    });
  const response = await work();
  if (response.status < 400)
    kept.remember({ key, status: response.status, body: await response.clone().text(), bodyHash });
  return response;
}

/** Where a list goes on, for lists that are numbered; null for its beginning, and for what is no number. */
export function cursorOf(query: URLSearchParams): number | null {
  const asked = Number(query.get("cursor") || Number.NaN);
  return Number.isSafeInteger(asked) && asked >= 0 ? asked : null;
}

/** The page size asked for, within bounds. */
export function limitOf(query: URLSearchParams, most = 200): number {
  const asked = Number(query.get("limit") ?? 50);
  return Number.isInteger(asked) && asked > 0 ? Math.min(asked, most) : 50;
}

import type { AnswerOf, CallKey, ParamsOf, QueryOf, SentTo } from "../calls/table.ts";
import type { Problem } from "../wire/schemas.ts";

/** A call that the server refused, with its words for the person. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail);
  }
}

/** What goes with a call: the names in its path, what stands after the question mark, and what is sent. */
export type With<K extends CallKey> = Readonly<Record<ParamsOf<K>, string>> & {
  readonly query?: Partial<Record<QueryOf<K>, string | number | null | undefined>>;
} & ([SentTo<K>] extends [undefined] ? { readonly body?: never } : { readonly body: SentTo<K> });

/** Nothing need go with a call that names nothing and sends nothing. */
export type Given<K extends CallKey> =
  Record<never, never> extends With<K> ? [given?: With<K>] : [given: With<K>];

/**
 * Call the API, by the call's key in the table. Rejects with {@link Refused} when it says no, or with a sentence when it
 * cannot be reached.
 */
export function call<K extends CallKey>(key: K, ...[given]: Given<K>): Promise<AnswerOf<K>> {
  const { query = {}, body, ...params } = (given ?? {}) as Loose;
  const path = pathOf(key, params, query);
  if (key.startsWith("GET ")) return ask(path, {});
  if (body === undefined) return ask(path, { method: "POST" });
  return ask(path, {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify(body),
  });
}

/** Send a file by a call that takes one. Rejects like {@link call}. */
export function upload<K extends CallKey>(key: K, name: string, file: File): Promise<AnswerOf<K>> {
  const type = file.type || "application/octet-stream";
  return ask(pathOf(key, {}, { name }), { method: "POST", headers: { "content-type": type }, body: file });
}

/** What goes with a call once its types have done their work. */
type Loose = Readonly<Record<string, string>> & {
  readonly query?: Readonly<Record<string, string | number | null | undefined>>;
  readonly body?: unknown;
};

function pathOf(
  key: string,
  params: Readonly<Record<string, string>>,
  query: NonNullable<Loose["query"]>,
): string {
  const path = key
    .slice(key.indexOf("/"))
    .replace(/\[(\w+)\]/g, (_, name: string) => encodeURIComponent(params[name] ?? ""));
  const asked = Object.entries(query).filter(([, value]) => value !== null && value !== undefined);
  const search = new URLSearchParams(asked.map(([name, value]) => [name, String(value)]));
  return asked.length > 0 ? `${path}?${search}` : path;
}

async function ask<T>(path: string, init: RequestInit): Promise<T> {
  let response: Response;
  try {
    response = await fetch(`/api/v1${path}`, init);
  } catch {
    throw new Error("The desk can't be reached. What you typed is kept here; try again in a moment.");
  }
  const answer = await response.json().catch(() => null);
  if (response.ok) return answer as T;
  throw new Refused(
    answer ?? {
      type: "about:blank",
      code: "no-answer-of-the-desk",
      title: "Something went wrong",
      status: response.status,
      detail: `The desk answered ${response.status}.`,
    },
  );
}

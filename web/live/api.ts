import type { Problem } from "../wire/schemas.ts";

/** A call that the server refused, with its words for the person. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail);
  }
}

/** Call the API. Rejects with {@link Refused} when it says no, or with a sentence when it cannot be reached. */
export function call<T>(path: string, body?: unknown): Promise<T> {
  if (body === undefined) return ask(path, {});
  return ask(path, {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify(body),
  });
}

/** Send a file. Rejects like {@link call}. */
export function upload<T>(path: string, file: File): Promise<T> {
  const type = file.type || "application/octet-stream";
  return ask(path, { method: "POST", headers: { "content-type": type }, body: file });
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
      title: "Something went wrong",
      status: response.status,
      detail: `The desk answered ${response.status}.`,
    },
  );
}

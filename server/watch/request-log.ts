import { AsyncLocalStorage } from "node:async_hooks";
import { randomUUID } from "node:crypto";
import type { IncomingMessage, ServerResponse } from "node:http";
import pino, { type DestinationStream, type Logger } from "pino";

/** What a request is called by in the log, in its answer and in what a proxy has written of it. */
const asked = new AsyncLocalStorage<string>();
/** A proxy may have named it already. */
const NAMED = /^[\w.:-]{8,80}$/;

/** The id of the request that is being served just now; null outside of one. */
export const requestId = (): string | null => asked.getStore() ?? null;

/** A log of one JSON object a line; whatever is written while a request is served names it. */
export const openLog = (level: string, to: DestinationStream): Logger =>
  pino({ level, mixin: () => (asked.getStore() ? { requestId: asked.getStore() } : {}) }, to);

interface Told {
  readonly log: Logger;
  /** Hears of each answer, with the call it was (a pattern: ids and what was searched are not in it). */
  readonly answered: (call: string, status: number, ms: number) => void;
}

/** The call a request is for, as it may be told: its path alone, with whatever could be an id or a name left out. */
export function callOf(method: string | undefined, url: string | undefined): string {
  const [path = ""] = (url ?? "").split("?", 1);
  if (path.startsWith("/_astro/")) return `${method} /_astro`;
  const parts = path
    .split("/")
    .map((part) => (/^(v1|[a-z][a-z-]{0,30}(\.[a-z]{2,4})?)$/.test(part) ? part : part && ":"));
  return `${method} ${parts.slice(0, 8).join("/").slice(0, 120)}`;
}

/** Serve a request under an id of its own, and tell of it when it was answered: method, path, status and time, nothing it carried. */
export function served(
  request: IncomingMessage,
  response: ServerResponse,
  { log, answered }: Told,
  serve: () => void,
): void {
  const named = request.headers["x-request-id"];
  const id = typeof named === "string" && NAMED.test(named) ? named : randomUUID();
  const begun = performance.now();
  response.setHeader("x-request-id", id);
  asked.run(id, () => {
    response.once("close", () => {
      const ms = Math.round(performance.now() - begun);
      const call = callOf(request.method, request.url);
      // A stream that stays open is no slow request.
      if (!request.url?.startsWith("/api/v1/live")) answered(call, response.statusCode, ms);
      log.info(
        { requestId: id, call, status: response.statusCode, ms, whole: response.writableFinished },
        "answered",
      );
    });
    serve();
  });
}

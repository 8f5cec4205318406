import type { IncomingMessage, ServerResponse } from "node:http";
import type { Source } from "../core/policy/policy.ts";
import type { Desk } from "./desk.ts";
import type { Verdict } from "./intake/guard.ts";
import { type Delivery, parsePayload } from "./intake/payload.ts";
import { isSigned } from "./intake/signature.ts";
import { problemBody } from "./problem.ts";

/** The most one payload may weigh, in bytes. */
const MOST = 1_048_576;
/** Forms on other sites post here. */
const CORS = {
  "access-control-allow-origin": "*",
  "access-control-allow-headers": "content-type, idempotency-key",
};
/** Kept with the original; nothing that could carry a credential. */
const KEPT = [
  "content-type",
  "user-agent",
  "referer",
  "origin",
  "idempotency-key",
  "webhook-id",
  "webhook-timestamp",
] as const;

/**
 * The door: `POST /api/v1/intake/{sourceKey}`. It stands before the pages' handler, because it is the one
 * call anybody in the world may make: what is too large is cut off while it arrives instead of being
 * gathered first, and under load nothing is spent on it but the inquiry itself.
 */
export class Door {
  readonly #desk: Desk;
  readonly #clocks: () => readonly number[];

  /** `clocks` tell the times (epoch ms) a signature may have been made at. */
  constructor(desk: Desk, clocks: () => readonly number[]) {
    this.#desk = desk;
    this.#clocks = clocks;
  }

  /** Serve the request when it is one for the door; says whether it was. */
  serve(request: IncomingMessage, response: ServerResponse): boolean {
    const key = /^\/api\/v1\/intake\/([^/?]+)(?:\?.*)?$/.exec(request.url ?? "")?.[1];
    if (!key || (request.method !== "POST" && request.method !== "OPTIONS")) return false;
    if (request.method === "OPTIONS") response.writeHead(204, CORS).end();
    else this.#take(decodeURIComponentSafely(key), request, response).catch(() => response.destroy());
    return true;
  }

  /** What the guard thinks of a form; null when nothing about it comes from a browser. */
  async #suspect(source: Source, delivery: Delivery, request: IncomingMessage): Promise<Verdict | null> {
    const fromBrowser = request.headers.origin !== undefined;
    if (!fromBrowser && !delivery.raw.includes("kb_")) return null;
    const parsed = await parsePayload(delivery);
    return this.#desk.guard.judge(
      source.key,
      parsed.ok ? parsed.fields : {},
      addressOf(request),
      fromBrowser,
    );
  }

  async #take(key: string, request: IncomingMessage, response: ServerResponse): Promise<void> {
    const refuse = (status: number, title: string, detail: string) =>
      answer(response, status, problemBody(status, title, detail), "application/problem+json");
    const source = this.#desk.setup.sources.find((s) => s.key === key);
    const raw = await read(request);
    if (!raw) {
      // What is still on its way is not waited for.
      response.setHeader("connection", "close");
      return refuse(413, "Too large", "A payload may weigh 1 MB at most. Nothing was kept.");
    }
    if (!source) return refuse(404, "No such source", `There is no source with the key “${key}”.`);
    if (source.state === "draft")
      return refuse(409, "Not live", `${source.name} is a draft: put it live before sending to it.`);
    const headers: Record<string, string> = {};
    for (const name of KEPT) {
      const value = request.headers[name];
      if (typeof value === "string") headers[name] = value;
    }
    const signature = String(request.headers["webhook-signature"] ?? "");
    if (source.signingSecret) {
      const signed = { ...headers, "webhook-signature": signature };
      if (!isSigned(source.signingSecret, raw, signed, this.#clocks())) {
        this.#desk.kept.count(`unsigned:${source.id}`);
        return refuse(
          401,
          "Not signed",
          "The signature is missing, wrong or older than five minutes. Nothing was kept.",
        );
      }
    }
    try {
      const contentType = headers["content-type"] ?? "";
      const held =
        source.channel === "website"
          ? await this.#suspect(source, { contentType, headers, raw }, request)
          : null;
      if (held?.kind === "refused") {
        response.setHeader("retry-after", held.retrySeconds);
        return refuse(
          429,
          "Too many",
          "Too many forms came from this address. Nothing was kept: try again in a minute.",
        );
      }
      const manner = held?.kind === "held" ? { held: held.reason } : {};
      answer(response, 202, await this.#desk.intake.submit(source, { contentType, headers, raw }, manner));
    } catch {
      refuse(
        503,
        "Could not be kept",
        "The inquiry could not be written to disk. Nothing was kept: send it again.",
      );
    }
  }
}

function addressOf(request: IncomingMessage): string {
  return request.socket.remoteAddress ?? "unknown";
}

function answer(response: ServerResponse, status: number, body: object, type = "application/json"): void {
  const text = JSON.stringify(body);
  response
    .writeHead(status, { ...CORS, "content-type": type, "content-length": Buffer.byteLength(text) })
    .end(text);
}

/** The body, or null when it weighs too much. */
function read(request: IncomingMessage): Promise<Buffer | null> {
  return new Promise((resolve, reject) => {
    const chunks: Buffer[] = [];
    let weight = 0;
    request.on("data", (chunk: Buffer) => {
      weight += chunk.length;
      if (weight > MOST) {
        request.removeAllListeners("data").resume();
        resolve(null);
      } else chunks.push(chunk);
    });
    request.on("end", () => resolve(chunks.length === 1 ? chunks[0]! : Buffer.concat(chunks)));
    request.on("error", reject);
  });
}

function decodeURIComponentSafely(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}

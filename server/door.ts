import type { IncomingMessage, ServerResponse } from "node:http";
import { openSource } from "../core/intake/open-source.ts";
import type { Source } from "../core/policy/source.ts";
import type { Desk } from "./desk.ts";
import { type AddressOf, networkOf } from "./http/address.ts";
import { readBody } from "./http/body.ts";
import type { Delivery, Parsed } from "./intake/payload.ts";
import { isSigned } from "./intake/signature.ts";
import { problemBody } from "./problem.ts";

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
/** The most of a header that is kept (characters). */
const LONGEST_HEADER = 1_000;
/** When to come again (seconds): after a full disk, and when quarantine is full. */
const SOON = "60";
const LATER = "3600";

/**
 * The door: `POST /api/v1/intake/{sourceKey}`. It stands before the pages' handler, because it is the one
 * call anybody in the world may make: what is too large is cut off while it arrives instead of being
 * gathered first, and under load nothing is spent on it but the inquiry itself.
 */
export class Door {
  readonly #desk: Desk;
  readonly #clocks: () => readonly number[];
  readonly #addressOf: AddressOf;

  /** `clocks` tell the times (epoch ms) a signature may have been made at. */
  constructor(desk: Desk, clocks: () => readonly number[], addressOf: AddressOf) {
    this.#desk = desk;
    this.#clocks = clocks;
    this.#addressOf = addressOf;
  }

  /** Serve the request when it is one for the door; says whether it was. */
  serve(request: IncomingMessage, response: ServerResponse): boolean {
    const [path = ""] = (request.url ?? "").split("?", 1);
    const [, api, version, intake, key, ...more] = path.split("/");
    if (api !== "api" || version !== "v1" || intake !== "intake" || !key || more.length > 0) return false;
    if (request.method !== "POST" && request.method !== "OPTIONS") return false;
    if (request.method === "OPTIONS") response.writeHead(204, CORS).end();
    else this.#take(decodeURIComponentSafely(key), request, response).catch(() => response.destroy());
    return true;
  }

  /** A form of a website as it was read, and why it is held, when it is; null when nothing about it comes from a browser. */
  async #suspect(
    source: Source,
    delivery: Delivery,
    request: IncomingMessage,
  ): Promise<{ parsed: Parsed; held: string | null } | null> {
    const fromBrowser = request.headers.origin !== undefined;
    if (source.channel !== "website" || (!fromBrowser && !delivery.raw.includes("kb_"))) return null;
    const parsed = await this.#desk.payloads.read(delivery);
    const fields = parsed.ok ? parsed.fields : {};
    const network = networkOf(this.#addressOf(request));
    return { parsed, held: this.#desk.guard.judge(source.key, fields, network, fromBrowser) };
  }

  async #take(key: string, request: IncomingMessage, response: ServerResponse): Promise<void> {
    const refuse = (code: string, status: number, title: string, detail: string) =>
      answer(response, status, problemBody(code, status, title, detail), "application/problem+json");
    const open = openSource(this.#desk.setup.sources, key);
    const raw = await readBody(request);
    if (!raw) {
      // What is still on its way is not waited for.
      response.setHeader("connection", "close");
      return refuse("too-large", 413, "Too large", "A payload may weigh 1 MB at most. Nothing was kept.");
    }
    if (!open.ok) {
      const { code, status, title, detail } = open.problem;
      return refuse(code, status, title, detail);
    }
    const { source } = open;
    const headers: Record<string, string> = {};
    for (const name of KEPT) {
      const value = request.headers[name];
      if (typeof value === "string") headers[name] = value.slice(0, LONGEST_HEADER);
    }
    const signature = String(request.headers["webhook-signature"] ?? "");
    if (source.signingSecret) {
      const signed = { ...headers, "webhook-signature": signature };
      if (!isSigned(source.signingSecret, raw, signed, this.#clocks())) {
        this.#desk.kept.count(`unsigned:${source.id}`);
        return refuse(
          "not-signed",
          401,
          "Not signed",
          "The signature is missing, wrong or older than five minutes. Nothing was kept.",
        );
      }
    }
    try {
      const delivery = { contentType: headers["content-type"] ?? "", headers, raw };
      const suspected = await this.#suspect(source, delivery, request);
      const held = suspected?.held ?? null;
      if (held && !this.#desk.intake.hasRoomForHeld()) {
        response.setHeader("retry-after", LATER);
        return refuse(
          "too-many",
          429,
          "Too many",
          "Quarantine is full. Nothing was kept: send it again later.",
        );
      }
      const manner = held ? { held } : {};
      const receipt = await this.#desk.intake.submit(source, delivery, manner, suspected?.parsed ?? null);
      answer(response, 202, receipt);
    } catch {
      response.setHeader("retry-after", SOON);
      refuse(
        "could-not-be-kept",
        503,
        "Could not be kept",
        "The inquiry could not be written to disk. Nothing was kept: send it again.",
      );
    }
  }
}

function answer(response: ServerResponse, status: number, body: object, type = "application/json"): void {
  const text = JSON.stringify(body);
  response
    .writeHead(status, { ...CORS, "content-type": type, "content-length": Buffer.byteLength(text) })
    .end(text);
}

function decodeURIComponentSafely(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}

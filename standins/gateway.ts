import { createServer, type IncomingMessage, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import type { Outside } from "./outside.ts";
import { Phones } from "./phones.ts";
import { recording } from "./recording.ts";

async function read(request: IncomingMessage): Promise<Record<string, string | undefined>> {
  const chunks: Buffer[] = [];
  for await (const chunk of request) chunks.push(chunk as Buffer);
  return JSON.parse(Buffer.concat(chunks).toString("utf8"));
}

/** Where the carrier keeps what was said in a call. */
export function recordingUrl(gateway: string, callId: string, seconds: number): string {
  return `${gateway}/recordings/${callId}.wav?seconds=${seconds}`;
}

/** The carrier (`POST /messages`, and recordings of calls) and the team chat (`POST /posts`) in one small server on the loopback. */
export async function startGateway(
  outside: Outside,
): Promise<{ url: string; phones: Phones; close: () => Promise<void> }> {
  const phones = new Phones(() => outside.now());
  const server: Server = createServer(async (request, response) => {
    try {
      const recorded = /^\/recordings\/[\w-]+\.wav\?seconds=(\d+)/.exec(request.url ?? "");
      if (recorded) {
        response.writeHead(200, { "content-type": "audio/wav" }).end(recording(Number(recorded[1])));
        return;
      }
      const hangUp = /^\/calls\/([\w-]+)\/hang-up$/.exec(request.url ?? "");
      if (hangUp) {
        await phones.hangUp(hangUp[1]!, (seconds) => recordingUrl(url(), hangUp[1]!, seconds));
        response.writeHead(202).end();
        return;
      }
      if (request.url === "/hooks") {
        // Another system, to be looked at: it takes what it is told, and tells a repeat by its id.
        outside.receive(`hook:${request.headers["webhook-id"]}`, {
          channel: "hook",
          to: "another system",
          from: "Kite Bell",
          body: JSON.stringify(await read(request)),
        });
        response.writeHead(200, { "content-type": "application/json" }).end("{}");
        return;
      }
      const body = await read(request);
      if (request.url === "/calls") {
        phones.place(body.call_id ?? "", body.ring_first ?? "", body.then_ring ?? "");
        response.writeHead(202).end();
        return;
      }
      const key = String(request.headers["idempotency-key"] ?? Math.random());
      const channel = request.url === "/messages" ? "text" : "chat";
      if (outside.down.has(channel)) {
        response.writeHead(503).end(channel === "text" ? "The carrier is down." : "The chat is down.");
        return;
      }
      if (request.url === "/messages")
        outside.receive(key, {
          channel: "text",
          to: body.to ?? "",
          from: body.from ?? "",
          body: body.body ?? "",
        });
      else if (request.url === "/posts")
        outside.receive(key, {
          channel: "chat",
          to: body.to ?? "",
          from: "Kite Bell",
          body: body.text ?? "",
          ...(body.url && { url: body.url }),
        });
      else {
        response.writeHead(404).end();
        return;
      }
      response.writeHead(202, { "content-type": "application/json" }).end('{"accepted":true}');
    } catch {
      response.writeHead(400).end("Not JSON.");
    }
  });
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  const url = () => `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  return {
    url: url(),
    phones,
    close: () =>
      new Promise((resolve) => {
        phones.close();
        server.closeAllConnections();
        server.close(() => resolve());
      }),
  };
}

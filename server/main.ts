import { createServer, type IncomingMessage, type ServerResponse } from "node:http";
import type { AddressInfo } from "node:net";
import { dirname, join } from "node:path";
import { fileURLToPath, pathToFileURL } from "node:url";
import pino from "pino";
import sirv from "sirv";
import { type Config, readConfig } from "./config.ts";
import { type Beginning, begin, clear, type House, openHouse } from "./house.ts";
import { BEGUN_AGAIN } from "./live/feed.ts";
import { problemBody } from "./problem.ts";

const web = join(dirname(fileURLToPath(import.meta.url)), "web");

async function main(config: Config): Promise<void> {
  const log = pino({ level: config.logLevel }, pino.destination(2));
  await begin(config, config.demo && !config.empty ? "morning" : "empty");

  // The address is part of the links in messages, so the port must be known before the desk opens.
  const early: [IncomingMessage, ServerResponse][] = [];
  let serve: (request: IncomingMessage, response: ServerResponse) => void = (...asked) => early.push(asked);
  const server = createServer((request, response) => serve(request, response));
  await new Promise<void>((resolve, reject) =>
    server.once("error", reject).listen(config.port, config.host, resolve),
  );
  const { port } = server.address() as AddressInfo;
  const origin = `http://${config.host.includes(":") ? `[${config.host}]` : config.host}:${port}`;

  let house: House | null = await openHouse(config, origin, log);

  const { handler } = (await import(pathToFileURL(join(web, "server", "entry.mjs")).href)) as {
    handler: (request: unknown, response: unknown, next: (error?: unknown) => void, locals: object) => void;
  };
  const files = sirv(join(web, "client"), {
    // Looked up when asked for: a file that is gone since a new build is missing, and not the end of the desk.
    dev: true,
    setHeaders: (response, path) => {
      if (path.startsWith("/_astro/"))
        response.setHeader("cache-control", "public, max-age=31536000, immutable");
    },
  });
  /** Close this desk, clear its folder and open another: for rehearsals, whose data is nobody's. */
  const beginAgain = async (beginning: Beginning) => {
    if (!house) return;
    const before = house;
    house = null;
    try {
      await before.close();
      await clear(config.data);
      await begin(config, beginning);
      // Where any free port is taken, the one before may be somebody else's by now.
      house = await openHouse(config, origin, log);
    } catch (error) {
      // Half a desk is none: whoever keeps it running starts it anew, and it begins again.
      log.fatal({ err: error }, "the rehearsal could not begin again");
      process.exit(1);
    }
    before.desk.feed.publish(BEGUN_AGAIN);
  };
  serve = (request, response) => {
    const refuse = (status: number, title: string, detail: string) => {
      response.writeHead(status, { "content-type": "application/problem+json" });
      response.end(JSON.stringify(problemBody(status, title, detail)));
    };
    if (!house) {
      response.setHeader("retry-after", "2");
      return refuse(503, "Not ready yet", "The desk is about to begin again. Try again in a moment.");
    }
    if (house.door.serve(request, response)) return;
    const { desk, rehearsal, accounts, ads, dialer, mailPort } = house;
    const locals = {
      desk,
      rehearsal,
      accounts,
      ads,
      dialer,
      origin,
      publicUrl: config.url || origin,
      mailPort,
      beginAgain: config.demo ? beginAgain : null,
    };
    const render = () =>
      handler(
        request,
        response,
        (error) => {
          if (!error) return refuse(404, "Not found", "Nothing is here.");
          log.error({ err: error, url: request.url }, "a request failed");
          refuse(500, "Something went wrong", "It has been logged.");
        },
        locals,
      );
    if (request.method === "GET" && !request.url?.startsWith("/api/")) files(request, response, render);
    else render();
  };
  // Whoever came while the desk was opening has waited, and is served now.
  for (const asked of early.splice(0)) serve(...asked);
  // Pages are loaded when first asked for; asking now spares the first visitor the wait.
  for (const path of ["/", "/api/v1/health", "/api/v1/people"])
    await (await fetch(origin + path)).arrayBuffer();
  // What the platform held while the desk was down.
  void house.ads.catchUpAll();
  console.log(`Mail for the desk is received on port ${house.mailPort}.`);
  console.log(`Kite Bell is ready at ${origin}`);

  let closing = false;
  const close = async () => {
    if (closing) return;
    closing = true;
    server.close();
    server.closeAllConnections();
    await house?.close();
    process.exit(0);
  };
  process.on("SIGTERM", close).on("SIGINT", close);
}

main(readConfig(process.env, process.argv.slice(2))).catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
});

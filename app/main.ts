import { createServer, type IncomingMessage, type ServerResponse } from "node:http";
import type { AddressInfo } from "node:net";
import { dirname, join } from "node:path";
import { fileURLToPath, pathToFileURL } from "node:url";
import pino, { type Logger } from "pino";
import sirv from "sirv";
import { type Config, readConfig } from "../server/config.ts";
import { Folder } from "../server/db/folder.ts";
import { addressReader } from "../server/http/address.ts";
import { cutOff, mostFor, saysTooMuch, type Weighed } from "../server/http/body.ts";
import { guardAnswer } from "../server/http/headers.ts";
import { BEGUN_AGAIN } from "../server/live/feed.ts";
import { problemBody } from "../server/problem.ts";
import { isMetrics, mayReadMetrics } from "../server/watch/metrics-door.ts";
import { callOf, openLog, served } from "../server/watch/request-log.ts";
import { type Beginning, begin, clear, type House, localsOf, openHouse } from "./house.ts";

/** The pages lie beside this file, and what browsers are given beside both. */
const built = dirname(fileURLToPath(import.meta.url));

/** The methods that are served; TRACE and whatever else there is are answered by nobody. */
const METHODS = new Set(["GET", "HEAD", "POST", "OPTIONS"]);

type Handler = (request: unknown, response: unknown, next: (error?: unknown) => void, locals: object) => void;

async function main(config: Config): Promise<void> {
  const log = openLog(config.logLevel, pino.destination(2));
  const addressOf = addressReader(config.proxies);
  const folder = Folder.take(config.data);
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
  const ground = { config, folder, origin, log };
  const publicUrl = config.url || origin;

  let house: House | null = await openHouse(ground);

  const { handler } = (await import(pathToFileURL(join(built, "entry.mjs")).href)) as {
    handler: Handler;
  };
  const files = sirv(join(built, "../client"), {
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
      house = await openHouse(ground);
    } catch (error) {
      // Half a desk is none: whoever keeps it running starts it again, and it begins again.
      log.fatal({ err: error }, "the rehearsal could not begin again");
      process.exit(1);
    }
    before.desk.feed.publish(BEGUN_AGAIN);
  };
  const answered = (call: string, status: number, ms: number) => house?.metrics.answered(call, status, ms);
  serve = (request, response) =>
    served(request, response, { log, answered }, () => answer(request, response));
  const answer = (request: IncomingMessage, response: ServerResponse) => {
    const refuse = (code: string, status: number, title: string, detail: string) => {
      response.writeHead(status, { "content-type": "application/problem+json" });
      response.end(JSON.stringify(problemBody(code, status, title, detail)));
    };
    if (!METHODS.has(request.method ?? "")) {
      response.setHeader("allow", [...METHODS].join(", "));
      return refuse("no-such-method", 405, "No such method", `${request.method} is not served here.`);
    }
    if (!house) {
      response.setHeader("retry-after", "2");
      return refuse(
        "not-ready-yet",
        503,
        "Not ready yet",
        "The desk is about to begin again. Try again in a moment.",
      );
    }
    if (house.door.serve(request, response)) return;
    if (isMetrics(request)) {
      if (!mayReadMetrics(request, config.metricsToken, addressOf(request)))
        return refuse(
          "not-signed-in",
          401,
          "Not signed in",
          "Send the token of KITEBELL_METRICS_TOKEN as Bearer.",
        );
      void house.metrics.read().then(({ type, text }) => response.setHeader("content-type", type).end(text));
      return;
    }
    guardAnswer(response, { https: publicUrl.startsWith("https:") });
    const weighed: Weighed = { most: mostFor(request.url ?? ""), over: false };
    if (saysTooMuch(request, weighed.most)) {
      // What still comes is let go by, unread: whoever is cut off while sending would not read why.
      request.resume();
      return refuse(
        "too-large",
        413,
        "Too large",
        `At most ${Math.round(weighed.most / 1_048_576)} MB are taken here.`,
      );
    }
    const locals = localsOf(house, {
      origin,
      publicUrl,
      weighed,
      address: addressOf(request),
      beginAgain: config.demo ? beginAgain : null,
    });
    const render = (missing = false) => {
      // Astro reads the body where one is put for it, and from the request itself otherwise.
      if (request.method === "POST") Object.assign(request, { body: cutOff(request, weighed) });
      handler(
        request,
        response,
        (error) => {
          // People get a page, programs a problem document.
          const isPerson = request.headers.accept?.includes("text/html") && !request.url?.startsWith("/api/");
          if (!error && isPerson && !missing) {
            request.url = "/nothing-here";
            return render(true);
          }
          if (!error) return refuse("not-found", 404, "Not found", "Nothing is here.");
          log.error({ err: error, call: callOf(request.method, request.url) }, "a request failed");
          refuse("something-went-wrong", 500, "Something went wrong", "It has been logged.");
        },
        locals,
      );
    };
    if (request.method === "GET" && !request.url?.startsWith("/api/"))
      files(request, response, () => render());
    else render();
  };
  // Whoever came while the desk was opening has waited, and is served now.
  for (const asked of early.splice(0)) serve(...asked);
  // Pages are loaded when first asked for; asking now spares the first visitor the wait.
  for (const path of ["/", "/api/v1/health", "/api/v1/people"])
    await (await fetch(origin + path)).arrayBuffer();
  if (folder.lostSince)
    console.log(
      `The database's log was lost: what was written after ${folder.lostSince} may be missing. Look at the newest leads.`,
    );
  console.log(`Mail for the desk is received on port ${house.mailPort}.`);
  console.log(`Kite Bell is ready at ${origin}`);

  let closing = false;
  const close = async () => {
    if (closing) return;
    closing = true;
    server.close();
    server.closeAllConnections();
    await house?.close();
    folder.close();
    process.exit(0);
  };
  process.on("SIGTERM", close).on("SIGINT", close);
  keepAlive(log);
}

/**
 * What nobody expected ends no desk that can still answer: it is logged, and the database is what counts, where every
 * act is whole or not there at all.
 */
function keepAlive(log: Logger): void {
  process.on("unhandledRejection", (error) => log.error({ err: error }, "something failed unheard"));
  process.on("uncaughtException", (error) => log.error({ err: error }, "something failed uncaught"));
}

main(readConfig(process.env, process.argv.slice(2))).catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
});

import { join, resolve } from "node:path";
import { pathToFileURL } from "node:url";
import { dev } from "astro";
import { build, context } from "esbuild";
import { BUNDLE, install, option, root, WORKERS } from "./lib.mjs";

/**
 * `npm run dev [-- --port N] [--data DIR]`: the desk with the demo's data, for whoever works on it. A change of a page or
 * an island shows in the browser at once; a change of server, core, stand-ins or app opens the desk again on the same
 * data. The data is kept from one time to the next: remove the folder to have it made again.
 */
// Nothing outside is asked for anything while one works.
process.env.ASTRO_TELEMETRY_DISABLED = "1";
process.env.ASTRO_DISABLE_UPDATE_CHECK = "true";

const args = process.argv.slice(2);
await install();
const port = Number(option(args, "port") ?? 4322);
const data = resolve(option(args, "data") ?? join(root, "data", "dev"));
const origin = `http://127.0.0.1:${port}`;
const outdir = "dist/dev";
/** Where a page finds what its request is given with: a name that Astro has given it. */
const LOCALS = Symbol.for("astro.locals");

let house = null;
let opening = Promise.resolve();
let times = 0;

/** Close the desk that is open, and open the one just built; a fault leaves none, and says why. */
async function reopen() {
  const begun = performance.now();
  try {
    await house?.close();
    house = null;
    const built = `${pathToFileURL(join(root, outdir, "dev.mjs")).href}?${++times}`;
    house = await (await import(built)).open(data, origin);
    const ms = Math.round(performance.now() - begun);
    console.log(times === 1 ? `Kite Bell is ready at ${origin}` : `The desk was opened again in ${ms} ms.`);
  } catch (error) {
    console.error(error);
  }
}

const desk = {
  name: "desk",
  hooks: {
    "astro:server:setup": ({ server }) => {
      server.middlewares.use(async (request, response, next) => {
        await opening;
        if (!house) {
          response.writeHead(503, { "content-type": "text/plain; charset=utf-8" });
          return response.end("The desk does not open: the console says why.");
        }
        if (house.serve(request, response)) return;
        request[LOCALS] = house.locals(request);
        next();
      });
    },
  },
};

await build({ ...WORKERS, outdir });
const watched = await context({
  ...BUNDLE,
  outdir,
  entryPoints: { dev: "app/dev.ts" },
  packages: "external",
  logLevel: "error",
  plugins: [
    {
      name: "reopen",
      setup: ({ onEnd }) =>
        onEnd(({ errors }) => {
          if (errors.length === 0) opening = opening.then(reopen);
        }),
    },
  ],
});
await watched.watch();
const pages = await dev({
  root,
  server: { port, host: "127.0.0.1" },
  integrations: [desk],
  logLevel: "warn",
});

for (const signal of ["SIGINT", "SIGTERM"])
  process.on(signal, async () => {
    await Promise.all([pages.stop(), watched.dispose()]);
    await house?.close();
    process.exit(0);
  });

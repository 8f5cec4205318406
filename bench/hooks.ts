import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import { monitorEventLoopDelay } from "node:perf_hooks";
import { pino } from "pino";
import { tarnholt } from "../demo/tarnholt.ts";
import { MovableClock } from "../server/clock.ts";
import { openDesk } from "../server/desk.ts";
import { newSecret } from "../server/hooks/hooks.ts";
import { folderOf, report } from "./support.ts";

const DELIVERIES = 10_000;
const LEADS = 1_000;
const nowhere = { deliver: async () => {}, close: async () => {} };

/** Ten thousand deliveries about a thousand leads, drained to a system on the same machine. */
export async function benchHooks(): Promise<void> {
  let got = 0;
  const server = createServer((request, response) => {
    request.resume().on("end", () => {
      got++;
      response.end("{}");
    });
  });
  await new Promise<void>((ready) => server.listen(0, "127.0.0.1", ready));
  const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}/in`;
  const desk = await openDesk({
    data: await folderOf("hooks"),
    clock: new MovableClock(Date.parse("2026-03-04T16:00:00Z"), { frozen: true }),
    setup: tarnholt,
    channels: { email: nowhere, text: nowhere, chat: nowhere },
    url: "http://127.0.0.1",
    log: pino({ level: "silent" }),
    hooksInside: () => true,
  });
  const secret = newSecret();
  const saved = desk.customers.saveHook("p_oskar", {
    name: "One",
    url,
    events: ["lead.stage"],
    on: true,
    secret,
  });
  if (!saved.ok) throw new Error(saved.problem.detail);
  desk.sql.transaction(() => {
    for (let n = 0; n < DELIVERIES; n++)
      desk.hooks.queue(
        [{ event: "lead.stage", leadId: `lead_${n % LEADS}`, dealId: null }],
        null,
        desk.clock.now(),
      );
  });
  const delay = monitorEventLoopDelay({ resolution: 5 });
  delay.enable();
  const begun = performance.now();
  desk.hooks.start();
  await desk.hooks.drained();
  const took = performance.now() - begun;
  report(`Webhooks: ${got.toLocaleString("en")} deliveries about ${LEADS.toLocaleString("en")} leads`, [
    ["all drained", `${(took / 1000).toFixed(1)} s`],
    ["a second (500 wanted)", Math.round(got / (took / 1000)).toLocaleString("en")],
    ["event loop, p99 of its delay", `${(delay.percentile(99) / 1e6).toFixed(0)} ms`],
  ]);
  await desk.close();
  server.close();
  server.closeAllConnections();
}

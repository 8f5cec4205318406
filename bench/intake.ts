import autocannon from "autocannon";
import { folderOf, report, start } from "./support.ts";

const CONNECTIONS = 64;
const SECONDS = 8;

interface Measured {
  readonly rate: number;
  readonly p50: number;
  readonly p99: number;
  readonly failed: number;
}

async function measure(options: Partial<autocannon.Options> & { url: string }): Promise<Measured> {
  const result = await autocannon({ connections: CONNECTIONS, duration: SECONDS, ...options });
  return {
    rate: result.requests.average,
    p50: result.latency.p50,
    p99: result.latency.p99,
    failed: result.non2xx + result.errors,
  };
}

/** Intake over HTTP, fully durable, matched, routed, replies queued, beside an endpoint of the same server that does nothing. */
export async function benchIntake(): Promise<void> {
  const server = await start(await folderOf("intake"), ["--empty"], { KITEBELL_OUTBOX: "hold" });
  const bare = await start(await folderOf("intake-bare"), ["--empty"], {
    KITEBELL_OUTBOX: "hold",
    KITEBELL_INDEX: "hold",
  });
  const url = `${server.origin}/api/v1`;
  let n = 0;
  const inquiry = () => {
    n++;
    const phone = `+1303${200 + Math.floor(n / 10_000)}${String(n % 10_000).padStart(4, "0")}`;
    return JSON.stringify({
      name: `Bench ${n}`,
      phone,
      email: `bench${n}@example.com`,
      product: "barrel",
      message: "Will it fit?",
      submission_id: `bench-${n}`,
    });
  };
  const post = { method: "POST" as const, headers: { "content-type": "application/json" } };
  // Both get the same bodies, made the same way, so that the client costs the same.
  const requests = [{ setupRequest: (request: autocannon.Request) => ({ ...request, body: inquiry() }) }];
  const working = { ...post, requests, url: `${url}/intake/plan-your-sauna` };
  const idle = { ...post, requests, url: `${url}/health` };
  const unfound = { ...working, url: `${bare.origin}/api/v1/intake/plan-your-sauna` };
  for (const one of [working, unfound]) await autocannon({ ...one, connections: CONNECTIONS, duration: 5 });
  await autocannon({ ...idle, connections: CONNECTIONS, duration: 3 });
  // In turns, so that neither has the machine's better half.
  const runs = { nothing: [] as Measured[], intake: [] as Measured[], unfound: [] as Measured[] };
  for (let i = 0; i < 2; i++) {
    runs.nothing.push(await measure(idle));
    runs.intake.push(await measure(working));
    runs.unfound.push(await measure(unfound));
  }
  await server.stop();
  await bare.stop();
  const best = (list: Measured[]) => list.reduce((a, b) => (b.rate > a.rate ? b : a));
  const [nothing, intake, without] = [best(runs.nothing), best(runs.intake), best(runs.unfound)];
  const line = (m: Measured) =>
    `${m.rate.toFixed(0)}/s, p50 ${m.p50} ms, p99 ${m.p99} ms${m.failed ? `, ${m.failed} FAILED` : ""}`;
  report("intake over HTTP, 64 connections, messages queued but held", [
    ["does nothing", line(nothing)],
    ["intake", line(intake)],
    ["ratio (at least 0.5)", (intake.rate / nothing.rate).toFixed(2)],
    ["intake without anything kept up to be found by", line(without)],
    ["ratio (at least 0.9)", (intake.rate / without.rate).toFixed(2)],
  ]);
}

import { join } from "node:path";
import Database from "better-sqlite3";
import { said, times } from "./many-leads.ts";
import { manyYears } from "./scale.ts";
import { folderOf, report, start } from "./support.ts";

const EVENTS = Number(process.env.EVENTS ?? 1_000_000);
/** Inquiries come meanwhile, so many a second. */
const A_SECOND = 20;

/** A backup of a million events while inquiries come and somebody works the queue: what they notice of it. */
export async function benchBackup(): Promise<void> {
  const folder = await folderOf("backup");
  const { path, events, leads } = await manyYears(folder, EVENTS);
  const server = await start(folder, [], { KITEBELL_INDEX: "hold" });
  const headers = { authorization: "Bearer rehearsal", "content-type": "application/json" };
  const call = async (path: string, body?: object) => {
    const begun = performance.now();
    const response = await fetch(`${server.origin}/api/v1${path}`, {
      headers,
      ...(body && { method: "POST", body: JSON.stringify(body) }),
    });
    const answer = (await response.json()) as { last?: { state: string; error: string | null } };
    if (!response.ok) throw new Error(`${path} answered ${response.status}: ${JSON.stringify(answer)}`);
    return { ms: performance.now() - begun, answer };
  };
  let n = 0;
  const looks = { quiet: [] as number[], meanwhile: [] as number[] };
  const taken: number[] = [];
  const onTheirWay: Promise<unknown>[] = [];
  const work = async (into: number[], until: () => boolean) => {
    const inquiries = setInterval(() => {
      n++;
      const sent = {
        name: `Sender ${n}`,
        phone: `303 557 ${1000 + n}`,
        product: "barrel",
        submission_id: `b-${n}`,
      };
      onTheirWay.push(call("/intake/plan-your-sauna", sent).then(({ ms }) => taken.push(ms)));
    }, 1_000 / A_SECOND);
    while (!until()) {
      into.push((await call("/queue?limit=60")).ms);
      await new Promise((next) => setTimeout(next, 20));
    }
    clearInterval(inquiries);
    await Promise.all(onTheirWay);
  };
  const quietUntil = performance.now() + 15_000;
  await work(looks.quiet, () => performance.now() > quietUntil);
  taken.length = 0;
  const begun = performance.now();
  await call("/backups/now", {});
  let state = "running";
  const watch = setInterval(async () => {
    const { answer } = await call("/backups");
    state = answer.last?.state ?? state;
  }, 500);
  await work(looks.meanwhile, () => state !== "running");
  clearInterval(watch);
  const took = (performance.now() - begun) / 1_000;
  const { answer: last } = await call("/backups");
  await server.stop();
  const kept = new Database(join(path), { readonly: true });
  const [{ found }] = kept
    .prepare("select count(*) as found from inquiries where dedupe like '%b-%'")
    .all() as [{ found: number }];
  kept.close();
  report(
    `a backup of ${said(events)} events and ${said(leads)} leads while ${A_SECOND} inquiries come a second`,
    [
      ["written, read again, checked", `${took.toFixed(0)} s, ${state} ${last.last?.error ?? ""}`],
      ["the queue before it", times(looks.quiet)],
      ["the queue meanwhile (p95 under 100 ms)", times(looks.meanwhile)],
      ["an inquiry meanwhile", times(taken)],
      ["inquiries that came in all", said(found)],
    ],
  );
}

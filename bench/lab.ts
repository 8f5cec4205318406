import { makeHistory } from "../demo/history.ts";
import { folderOf, percentile, report, start } from "./support.ts";

const RUNS = Number(process.env.RUNS ?? 20);
/** Inquiries of a run, in its four weeks. */
const INQUIRIES = Number(process.env.INQUIRIES ?? 10_000);
/** How many the demo's eight weeks bring in four. */
const USUAL = 684;

/** How long the lab takes for four weeks of a busy desk, run after run of two policies, and how long the queue takes meanwhile. */
export async function benchLab(): Promise<void> {
  const folder = await folderOf("lab");
  await makeHistory(folder);
  const desk = await start(folder, []);
  const ask = async (method: string, path: string, body?: object) => {
    const response = await fetch(`${desk.origin}/api/v1${path}`, {
      method,
      headers: { authorization: "Bearer rehearsal", "content-type": "application/json" },
      ...(body && { body: JSON.stringify(body) }),
    });
    return (await response.json()) as { id: string; state: string; result: { came: number } | null };
  };
  const begun = performance.now();
  const demand = { kind: "made", weeks: 4, times: INQUIRIES / USUAL };
  let kept = await ask("POST", "/lab", {
    demand,
    runs: RUNS,
    b: [
      { kind: "habits", personId: null, takes: null, passes: null, answerMinutes: 1, handlingMinutes: null },
    ],
  });
  const queue: number[] = [];
  for (let n = 0; kept.state === "running"; n++) {
    const asked = performance.now();
    await ask("GET", "/queue");
    queue.push(performance.now() - asked);
    await new Promise((resolve) => setTimeout(resolve, 50));
    if (n % 20 === 0) kept = await ask("GET", `/lab/${kept.id}`);
  }
  const took = (performance.now() - begun) / 1000;
  await desk.stop();
  const leads = (kept.result?.came ?? 0) * RUNS * 2;
  report(`the lab: four weeks, ${RUNS} runs of two policies`, [
    ["inquiries of a run", String(Math.round(kept.result?.came ?? 0))],
    [
      "all of it",
      `${took.toFixed(0)} s (${kept.state}), ${((took * 1000) / Math.max(1, leads)).toFixed(2)} ms an inquiry`,
    ],
    [
      "the queue meanwhile, p95 (under 100 ms)",
      `${percentile(queue, 0.95).toFixed(0)} ms of ${queue.length}`,
    ],
  ]);
}

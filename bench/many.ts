import pino from "pino";
import { tag } from "../core/desk/tags.ts";
import { tarnholt } from "../demo/tarnholt.ts";
import { MovableClock } from "../server/clock.ts";
import { openDesk } from "../server/desk.ts";
import { arrive } from "./cadences.ts";
import { folderOf, percentile, report } from "./support.ts";

const LEADS = 10_000;
const nowhere = { deliver: async () => {}, close: async () => {} };

/** 10,000 leads tagged in the background and all of it taken back, and how long others wait meanwhile. */
export async function benchMany(): Promise<void> {
  const clock = new MovableClock(Date.parse("2026-03-04T16:00:00Z"), { frozen: true });
  const desk = await openDesk({
    data: await folderOf("many"),
    clock,
    setup: tarnholt,
    channels: { email: nowhere, text: nowhere, chat: nowhere },
    url: "http://127.0.0.1",
    log: pino({ level: "silent" }),
  });
  const ids: string[] = [];
  for (let n = 0; n < LEADS; n += 500)
    desk.sql.transaction(() => {
      for (let i = n; i < n + 500; i++) {
        const plan = arrive(desk.look(null), i);
        desk.commitAll([plan]);
        ids.push(plan.leadId);
      }
    });
  // Whoever asks something meanwhile waits for the stretch that is going on.
  const waits: number[] = [];
  let working = true;
  const others = (async () => {
    while (working) {
      const asked = performance.now();
      await new Promise((resolve) => setTimeout(resolve, 5));
      desk.reader.counts(clock.now() + 86_400_000);
      waits.push(performance.now() - asked - 5);
    }
  })();
  const timed = async (work: () => Promise<unknown>) => {
    const begun = performance.now();
    await work();
    return performance.now() - begun;
  };
  const act = (world: Parameters<typeof tag>[0]) => tag(world, "p_ines", { on: ["spring"] });
  const dry = await timed(() => desk.many.outlook(ids, act));
  const job = desk.many.begin(ids, "p_ines", "tagged", act);
  const tagging = await timed(() => desk.many.settled());
  const back = desk.many.undo(job)!;
  const undoing = await timed(() => desk.many.settled());
  working = false;
  await others;
  const left = ids.filter((id) => desk.looker.lead(id)?.tags.length).length;
  await desk.close();
  report(`the same with ${LEADS.toLocaleString("en-US")} leads`, [
    ["said before what it would come to", `${(dry / 1_000).toFixed(1)} s`],
    ["tagged", `${(tagging / 1_000).toFixed(1)} s, ${job.acted.length} leads`],
    ["taken back", `${(undoing / 1_000).toFixed(1)} s, ${back.acted.length} leads, ${left} still tagged`],
    ["both (under 10 s)", `${((tagging + undoing) / 1_000).toFixed(1)} s`],
    [
      "others waited meanwhile",
      `p50 ${percentile(waits, 0.5).toFixed(0)} ms, p95 ${percentile(waits, 0.95).toFixed(0)} ms, most ${percentile(waits, 1).toFixed(0)} ms`,
    ],
  ]);
}

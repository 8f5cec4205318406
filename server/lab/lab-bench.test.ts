import { afterEach, expect, it } from "vitest";
import { NINE, testDesk } from "../../tests/support/desk.ts";
import { dataFolder } from "../../tests/support/server.ts";
import type { Desk } from "../desk.ts";

let desk: Desk | null = null;
let folder: Awaited<ReturnType<typeof dataFolder>> | null = null;

async function open(data: string): Promise<Desk> {
  desk = await testDesk({ data });
  return desk;
}
afterEach(async () => {
  await desk?.close();
  await folder?.remove();
  desk = null;
  folder = null;
});

const ASKED = { from: 0, to: NINE, demand: { kind: "past" as const }, runs: 3, seed: 1, a: [], b: [] };
/** Written as the desk writes it when an experiment begins. */
const keep = ({ sql }: Desk, id: string, at: number, state = "running") =>
  sql.run(
    sql.q.insertInto("experiments").values({
      id,
      at,
      by: "p_ines",
      name: id,
      askedJson: JSON.stringify(ASKED),
      saidJson: JSON.stringify({ a: [], b: [] }),
      state,
      resultJson: null,
      error: null,
    }),
  );

it("what ran when the desk was cut off says so when it is opened again, and another can begin", async () => {
  folder = await dataFolder();
  keep(await open(folder.path), "lab_1", NINE);
  await desk!.close();
  const { lab } = await open(folder.path);
  expect(lab.get("lab_1")).toMatchObject({
    state: "failed",
    error: "the desk was stopped while it ran; run it again",
    result: null,
    done: 0,
  });
  expect(lab.start("", ASKED, "p_ines").ok).toBe(true);
  expect(lab.start("", ASKED, "p_ines")).toMatchObject({ ok: false, problem: { code: "one-runs-already" } });
});

it("a hundred are kept: the oldest makes room, the latest stands first", async () => {
  folder = await dataFolder();
  const { lab } = await open(folder.path);
  for (let i = 0; i < 104; i++) keep(desk!, `lab_${String(i).padStart(3, "0")}`, NINE - 1000 + i, "done");
  const begun = lab.start("The newest", ASKED, "p_ines");
  const all = lab.all();
  expect([all.length, all[0]!.id, all[0]!.name]).toEqual([100, begun.ok && begun.id, "The newest"]);
  expect(all.at(-1)!.id).toBe("lab_005");
  lab.remove(all[0]!.id);
  expect([lab.all().length, lab.all().some((e) => e.state === "running")]).toEqual([99, false]);
});

it("a desk that keeps nothing on disk has no record to learn from", async () => {
  const { lab } = await open(":memory:");
  expect(lab.start("", ASKED, "p_ines")).toMatchObject({ ok: false, problem: { code: "no-record" } });
});

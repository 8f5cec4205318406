import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { take } from "../../core/desk/hand-off.ts";
import { handOver } from "../../core/desk/hand-over.ts";
import { addNote } from "../../core/desk/notes.ts";
import { logTry } from "../../core/desk/work.ts";
import { foldAll } from "../../core/lead/fold.ts";
import { tarnholt } from "../../demo/tarnholt.ts";
import { NINE, testDesk } from "../../tests/support/desk.ts";
import { HOUR, MIN } from "../../tests/support/memory.ts";
import { MovableClock } from "../clock.ts";
import { DATABASE } from "../db/folder.ts";
import type { Desk } from "../desk.ts";
import { verify } from "../verify-desk.ts";
import { rewind } from "./rewind.ts";

const site = tarnholt.sources.find((s) => s.key === "plan-your-sauna")!;

let folder: string;
let clock: MovableClock;
let desk: Desk;
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), "kite-bell-rewind-"));
  clock = new MovableClock(NINE, { frozen: true });
  desk = await testDesk({ data: folder, clock });
});
afterEach(async () => {
  await desk.close();
  rmSync(folder, { recursive: true });
});

const inquire = async (n: number, more: object = {}) => {
  const fields = { name: `Lead ${n}`, phone: `303 555 ${1000 + n}`, product: "barrel", ...more };
  const raw = Buffer.from(JSON.stringify(fields));
  return (await desk.intake.submit(site, { contentType: "application/json", headers: {}, raw })).leadId!;
};
const act = (id: string, decide: Parameters<Desk["act"]>[1]) => {
  const done = desk.act(id, decide);
  if (!done.ok) throw new Error(done.problem.detail);
};
/** Close the desk, take it back to a moment, and open it again then. */
async function backTo(at: number): Promise<Awaited<ReturnType<typeof rewind>>> {
  await desk.close();
  const told = await rewind(join(folder, DATABASE), at);
  clock = new MovableClock(at, { frozen: true });
  desk = await testDesk({ data: folder, clock });
  expect(verify(desk.sql).faults).toEqual([]);
  return told;
}

describe("a desk that is taken back to a moment", () => {
  it("has every lead as its events made it then, knows nobody who came later, and goes on from there", async () => {
    const [first, second] = [await inquire(1), await inquire(2)];
    act(first, (w) => take(w, "p_mara"));
    clock.hold(NINE + HOUR);
    act(first, (w) => addNote(w, "p_mara", "wants cedar"));
    const then = [first, second].map((id) => foldAll(desk.reader.events(id)));
    const at = NINE + HOUR;
    clock.hold(at + MIN);
    act(first, (w) =>
      logTry(w, { personId: "p_mara", channel: "call", outcome: "reached", note: "wants larch" }),
    );
    act(first, (w) => handOver(w, "p_mara", { company: null, contact: {}, deal: { value: 900 } }));
    const third = await inquire(3);
    desk.changeSetup({ ...desk.setup, policies: { ...desk.setup.policies, teamChat: "#other" } });
    desk.search.index.follow(1_000);
    const told = await backTo(at);
    expect(told).toMatchObject({ gone: 1, changed: 1 });
    expect([first, second].map((id) => desk.looker.lead(id))).toEqual(
      then.map((l) => expect.objectContaining({ ...l })),
    );
    expect(desk.looker.lead(third)).toBeNull();
    expect(desk.looker.book.deals()).toEqual({ open: [], closed: [] });
    expect(desk.setup.policies.teamChat).toBe(tarnholt.policies.teamChat);
    const find = (typed: string) => desk.search.find(typed, { of: null, limit: 9 }).map((h) => h.lead.id);
    expect(find("larch")).toEqual([]);
    expect(find("cedar")).toEqual([first]);
    expect(await inquire(1)).toBe(first);
    expect(await inquire(3)).not.toBe(third);
  });

  it("has two leads again that were joined since, each found by its own number", async () => {
    const [first, second] = [await inquire(1), await inquire(2)];
    clock.hold(NINE + HOUR);
    expect(desk.join(first, second, "p_ines").ok).toBe(true);
    await backTo(NINE + MIN);
    expect(desk.looker.lead(first)?.phones).toHaveLength(1);
    expect(desk.looker.lead(second)).toMatchObject({ joinedTo: null, phones: ["+13035551002"] });
    expect([await inquire(1), await inquire(2)]).toEqual([first, second]);
  });

  it("before its first lead is empty, and one that nothing happened to since is as it is", async () => {
    const id = await inquire(1);
    const { seq } = desk.looker.lead(id)!;
    expect(await backTo(NINE + HOUR)).toEqual({ gone: 0, changed: 0, events: 0 });
    expect(desk.looker.lead(id)?.seq).toBe(seq);
    expect(await backTo(NINE - 1)).toMatchObject({ gone: 1 });
    expect(desk.reader.leads({ limit: 5 }).items).toEqual([]);
    expect((await inquire(1)).length).toBeGreaterThan(5);
  });
});

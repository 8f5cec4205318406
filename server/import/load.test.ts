import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { addNote } from "../../core/desk/notes.ts";
import { setShared } from "../../core/desk/same.ts";
import { mapTo } from "../../core/policy/mapping.ts";
import { tarnholt } from "../../demo/tarnholt.ts";
import { NINE, testDesk } from "../../tests/support/desk.ts";
import { Sql } from "../db/sql.ts";
import type { Desk } from "../desk.ts";
import { Looker } from "../engine/looker.ts";
import { idMaker } from "../ids.ts";
import { verify } from "../verify-desk.ts";
import type { LoadJob } from "./jobs.ts";
import { Load } from "./loader.ts";
import type { Packed } from "./packed.ts";
import { prepareRows } from "./prepare.ts";
import { leadsOf } from "./slices.ts";

/** A list that is only kept, loaded step by step, while the desk goes on beside it. */

const show = tarnholt.sources.find((s) => s.key === "garden-show")!;

let folder: string;
let desk: Desk;
let loader: Sql;
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), "kite-bell-load-"));
  desk = await testDesk({ data: folder });
  loader = await Sql.open(desk.sql.path, { durable: "in time", references: false });
});
afterEach(async () => {
  loader.close();
  await desk.close();
  rmSync(folder, { recursive: true, force: true });
});

/** The list as an import that has begun, what its preparing thread hands over, and a load to give it to. */
async function begin(rows: readonly string[]): Promise<{ id: string; load: Load; packed: Packed[] }> {
  const path = join(folder, "list.csv");
  writeFileSync(path, `Name,Phone,Email\n${rows.join("\n")}\n`);
  const preview = desk.imports.preview(Buffer.from(`Name,Phone,Email\n${rows.join("\n")}\n`), "list.csv");
  if ("problem" in preview) throw new Error(preview.problem);
  const { fields } = mapTo({ Name: "name", Phone: "phone", Email: "email" });
  const job: LoadJob = {
    importId: "imp_1",
    database: desk.sql.path,
    rows: {
      path,
      encoding: "utf-8",
      delimiter: ",",
      source: { ...show, mapping: { ...show.mapping, fields } },
      policies: tarnholt.policies,
      erased: null,
      from: 1,
    },
    setup: tarnholt,
    ahead: NINE - Date.now(),
    indexed: 0,
  };
  const { q } = desk.sql;
  const row = {
    id: "imp_1",
    at: NINE,
    by: "p_ines",
    sourceId: show.id,
    name: "list.csv",
    fileId: preview.fileId,
  };
  const progress = {
    state: "running" as const,
    total: rows.length,
    done: 0,
    made: 0,
    joined: 0,
    rejected: 0,
  };
  const rest = { optionsJson: "{}", indexed: 0, finishedAt: null, error: null };
  desk.sql.run(q.insertInto("imports").values({ ...row, ...progress, ...rest }));
  const now = () => NINE;
  const load = new Load(job, loader, new Looker(loader, { now }, idMaker({ now }), tarnholt), now);
  const packed: Packed[] = [];
  for await (const one of prepareRows(job)) packed.push(structuredClone(one));
  return { id: job.importId, load, packed };
}

function write(load: Load, { packs }: Packed): void {
  for (let at = 0; at < packs.length; ) at += load.slice(packs, at);
}

const inquire = async (phone: string): Promise<string> => {
  const raw = Buffer.from(JSON.stringify({ name: "Ana Ruiz", phone }));
  const receipt = await desk.intake.submit(tarnholt.sources[0]!, {
    contentType: "application/json",
    headers: {},
    raw,
  });
  return receipt.leadId!;
};

describe("a list that is loaded beside the desk", () => {
  it("joins who is known, who stands there twice, and keeps whom a shared number tells nothing of apart", async () => {
    const known = await inquire("303 555 0100");
    const shared = await inquire("303 555 0199");
    desk.act(shared, (world) => setShared(world, "+13035550199", true, "p_ines"));
    const { id, load, packed } = await begin([
      "Ana R,303 555 0100,",
      "Bo Lee,303 555 0101,bo.lee@example.com",
      "Bo Lee,,bo.lee@example.com",
      "Cy Inn,303 555 0199,",
      "Di Inn,303 555 0199,",
      "Nobody,,",
    ]);
    for (const one of packed) {
      write(load, one);
      if (one.found) load.writeFound(one.found);
    }
    expect(desk.imports.get(id)).toMatchObject({ done: 6, made: 3, joined: 2, rejected: 1, indexed: 6 });
    const [ana, bo, again, cy, di] = [...leadsOf(desk.sql, id)].map(([, leadId]) => leadId);
    expect(ana).toBe(known);
    expect(again).toBe(bo);
    expect(new Set([bo, cy, di, shared]).size).toBe(4);
    expect(desk.looker.match(["bo.lee@example.com"])?.leadId).toBe(bo);
    expect(verify(desk.sql).faults).toEqual([]);
  });
  it("who inquires before their lead from the list can be found is joined to it, and stays who is being worked", async () => {
    const { id, load, packed } = await begin([
      "Ana R,303 555 0100,ana.r@example.com",
      "Bo Lee,303 555 0101,",
    ]);
    for (const one of packed) write(load, one);
    const [listed] = [...leadsOf(desk.sql, id)].map(([, leadId]) => leadId);
    const worked = await inquire("303 555 0100");
    expect(worked).not.toBe(listed);
    for (const { found } of packed) if (found) load.writeFound(found);
    expect(desk.looker.lead(listed!)).toMatchObject({ joinedTo: worked });
    expect(desk.looker.lead(worked)).toMatchObject({
      emails: ["ana.r@example.com"],
      inquiries: 2,
      parked: null,
      bell: { state: "waiting" },
    });
    expect(desk.looker.match(["ana.r@example.com"])?.leadId).toBe(worked);
    expect(verify(desk.sql).faults).toEqual([]);
  });
  it("goes on after a restart with whoever could not be found yet, and takes nobody for two", async () => {
    const { id, load, packed } = await begin(["Ana R,303 555 0100,", "Bo Lee,303 555 0101,"]);
    for (const one of packed) write(load, one);
    expect(desk.looker.match(["+13035550100"])).toBeNull();
    load.writeFoundOf(0, 2);
    const leads = [...leadsOf(desk.sql, id)].map(([, leadId]) => leadId);
    expect(desk.looker.match(["+13035550100"])?.leadId).toBe(leads[0]);
    expect(desk.looker.match(["+13035550101"])?.leadId).toBe(leads[1]);
    expect(verify(desk.sql).faults).toEqual([]);
  });
  it("is taken back whole, unless somebody has worked on one of its leads", async () => {
    const { id, load, packed } = await begin(["Ana R,303 555 0100,", "Bo Lee,303 555 0101,"]);
    for (const one of packed) {
      write(load, one);
      if (one.found) load.writeFound(one.found);
    }
    desk.sql.run(desk.sql.q.updateTable("imports").set({ state: "done" }));
    const [ana, bo] = [...leadsOf(desk.sql, id)].map(([, leadId]) => leadId);
    const before = desk.act(ana!, (world) => addNote(world, "p_ines", "Knows us"));
    expect(before.ok).toBe(true);
    expect(await desk.imports.undo(id)).toEqual({
      problem: expect.stringContaining("worked on 1 of its leads"),
    });
    expect(desk.looker.lead(bo!)).not.toBeNull();
    desk.sql.run(desk.sql.q.deleteFrom("events").where("leadId", "=", ana!).where("kind", "=", "noted"));
    const twice = await Promise.all([desk.imports.undo(id), desk.imports.undo(id)]);
    expect(twice).toEqual([
      { removed: 2, kept: 0 },
      { problem: expect.stringContaining("being taken back") },
    ]);
    expect(desk.looker.match(["+13035550100"])).toBeNull();
    expect(
      desk.looker.likely({ name: "Bo Lee", company: null, emails: [], phones: [], postalCode: null }),
    ).toEqual([]);
    for (const table of ["leads", "events", "contacts", "likeKeys", "importSlices"] as const)
      expect(desk.sql.all(desk.sql.q.selectFrom(table).selectAll())).toEqual([]);
  });
});

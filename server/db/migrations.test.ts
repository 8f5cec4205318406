import { existsSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import Database from "better-sqlite3";
import { Kysely, Migrator, SqliteDialect } from "kysely";
import { afterEach, beforeEach, expect, it } from "vitest";
import { leadsOf } from "../import/slices.ts";
import { migrations } from "./migrations.ts";
import { Sql } from "./sql.ts";

/** A desk that began with an older version goes on with this one, with everything it had. */

let folder: string;
let path: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), "kite-bell-migrate-"));
  path = join(folder, "kite-bell.db");
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

/** A database as the version up to that migration made it, with two leads. */
async function older(last: string): Promise<Database.Database> {
  const native = new Database(path);
  const db = new Kysely<unknown>({ dialect: new SqliteDialect({ database: native }) });
  const migrator = new Migrator({ db, provider: { getMigrations: async () => migrations } });
  const { error } = await migrator.migrateTo(last);
  if (error) throw error;
  const lead = native.prepare(
    "insert into leads (id, seq, leadJson, place, placeAt, createdAt, lastActivityAt, search) values (?, 1, '{}', 'parked', 9, 5, 5, 'ana')",
  );
  for (const id of ["lead_a", "lead_b"]) lead.run(id);
  return native;
}

/** The same from a time when lists had a table of their rows, with a list of three. */
async function olderWithList(last: string): Promise<void> {
  const native = await older(last);
  native
    .prepare("insert into contacts (value, kind, leadId) values ('+13035550100', 'phone', 'lead_a')")
    .run();
  const row = native.prepare("insert into importRows values ('imp_1', ?, ?, ?)");
  row.run(1, "lead_a", 1);
  row.run(2, "lead_b", 1);
  row.run(700, "lead_a", 0);
  native.close();
}

/** How a database is built, table by table and index by index. */
const shapeOf = (native: Database.Database): unknown[] =>
  native
    .prepare(
      "select type, name, tbl_name from sqlite_master where name not like 'sqlite_%' order by type, name",
    )
    .all();
const columnsOf = (native: Database.Database): unknown[] =>
  native
    .prepare(
      `select m.name as "table", c.name, c.type, c."notnull", c.pk from sqlite_master m join pragma_table_info(m.name) c
       where m.type = 'table' and m.name not like 'sqlite_%' order by m.name, c.name`,
    )
    .all();

it.each(Object.keys(migrations))(
  "a desk that began as of %s opens, has its leads, and is built as a new one is",
  async (version) => {
    (await older(version)).close();
    const sql = await Sql.open(path);
    expect(sql.all(sql.q.selectFrom("leads").select("id").orderBy("id")).map((l) => l.id)).toEqual([
      "lead_a",
      "lead_b",
    ]);
    sql.checkIntegrity();
    sql.close();
    (await Sql.open(join(folder, "new.db"))).close();
    const [began, made] = [
      new Database(path, { readonly: true }),
      new Database(join(folder, "new.db"), { readonly: true }),
    ];
    expect(shapeOf(began)).toEqual(shapeOf(made));
    expect(columnsOf(began)).toEqual(columnsOf(made));
    began.close();
    made.close();
  },
);

it("leads and the rows of lists are taken over, with what refers to them", async () => {
  await olderWithList("005-bells");
  const sql = await Sql.open(path);
  const leads = sql.q.selectFrom("leads").select(["id", "place", "search"]).orderBy("id");
  expect(sql.all(leads)).toEqual([
    { id: "lead_a", place: "parked", search: "ana" },
    { id: "lead_b", place: "parked", search: "ana" },
  ]);
  expect([...leadsOf(sql, "imp_1")]).toEqual([
    [1, "lead_a", 1],
    [2, "lead_b", 1],
    [700, "lead_a", 0],
  ]);
  sql.checkIntegrity();
  // What refers to a lead is still looked after.
  expect(() => sql.run(sql.q.deleteFrom("leads").where("id", "=", "lead_a"))).toThrow(/FOREIGN KEY/);
  sql.close();
});

it("a step that fails leaves everything as it was, and the next start begins it again", async () => {
  await olderWithList("005-bells");
  const native = new Database(path);
  // In the way of a table that is to be made.
  native.exec("create table leadRows (x)");
  native.close();
  await expect(Sql.open(path)).rejects.toThrow(/leadRows/);
  const after = new Database(path);
  expect(after.prepare("select count(*) as n from importRows").get()).toEqual({ n: 3 });
  after.exec("drop table leadRows");
  after.close();
  const sql = await Sql.open(path);
  expect([...leadsOf(sql, "imp_1")]).toHaveLength(3);
  sql.close();
});

it("is copied whole before its shape is changed, by whoever opens it as a desk alone; a new one and one of today are not", async () => {
  const copy = join(folder, "before-upgrade.db");
  (await Sql.open(path, { copyBefore: copy })).close();
  expect(existsSync(copy)).toBe(false);
  rmSync(path);
  await olderWithList("005-bells");
  const sql = await Sql.open(path, { copyBefore: copy });
  sql.close();
  const before = new Database(copy, { readonly: true });
  expect(before.prepare("select count(*) as n from importRows").get()).toEqual({ n: 3 });
  expect(before.prepare("select name from sqlite_master where name = 'openLinks'").get()).toBeUndefined();
  before.close();
  rmSync(copy);
  (await Sql.open(path, { copyBefore: copy })).close();
  expect(existsSync(copy)).toBe(false);
});

it("stages are called as they are today, wherever one was kept, and what anybody wrote stays", async () => {
  const native = await older("010-tests");
  const said = 'They wrote "stage":"Working" to us';
  const lead = { stage: "Working", facts: { message: said } };
  native.prepare("update leads set leadJson = ? where id = 'lead_a'").run(JSON.stringify(lead));
  native
    .prepare(
      "insert into events (id, leadId, seq, actId, at, actorJson, kind, dataJson) values (?,?,?,?,?,?,?,?)",
    )
    .run(
      "e1",
      "lead_a",
      1,
      "a1",
      5,
      "{}",
      "undone",
      JSON.stringify({ before: { stage: "In conversation" } }),
    );
  const asks = {
    all: [
      { field: "stage", is: "one-of", value: ["Working", "Qualified"] },
      { field: "message", is: "contains", value: "Working" },
    ],
  };
  const keep = native.prepare("insert into setup (at, setupJson) values (5, ?)");
  keep.run(
    JSON.stringify({
      policies: { stages: ["New", "Working", "In conversation"], rules: [{ name: "Working", when: asks }] },
    }),
  );
  keep.run("{ damaged");
  native.close();
  const sql = await Sql.open(path);
  const { leadJson } = sql.get(sql.q.selectFrom("leads").select("leadJson").where("id", "=", "lead_a"))!;
  expect(JSON.parse(leadJson)).toEqual({ stage: "Being tried", facts: { message: said } });
  expect(sql.get(sql.q.selectFrom("events").select("dataJson"))!.dataJson).toBe(
    '{"before":{"stage":"Talking"}}',
  );
  const [whole, damaged] = sql.all(sql.q.selectFrom("setup").select("setupJson").orderBy("version"));
  expect(damaged!.setupJson).toBe("{ damaged");
  expect(JSON.parse(whole!.setupJson).policies).toEqual({
    stages: ["New", "Being tried", "Talking"],
    rules: [
      {
        name: "Working",
        when: { all: [{ field: "stage", is: "one-of", value: ["Being tried", "Qualified"] }, asks.all[1]] },
      },
    ],
  });
  sql.close();
});

it("reads letters of before as Markdown, in every version of the set-up, and leaves texts and what can’t be read alone", async () => {
  const native = await older("012-conversations");
  const letter = "Hi *Ana*,\n\nhttps://t.example/deck.jpg\n\n- *power*\n2 * 3 * 4";
  const template = (channel: string) => ({
    id: "t",
    channel,
    texts: { en: { subject: "*S*", body: letter } },
  });
  const setup = { policies: { templates: [template("email"), template("text")], other: "*kept*" } };
  const insert = native.prepare("insert into setup (version, at, setupJson) values (?, 1, ?)");
  insert.run(1, JSON.stringify(setup));
  insert.run(2, "{");
  native.close();
  const sql = await Sql.open(path, { durable: false });
  const rows = sql.all(sql.q.selectFrom("setup").select("setupJson").orderBy("version"));
  const [email, text] = JSON.parse(rows[0]!.setupJson).policies.templates;
  expect(email.texts.en).toEqual({
    subject: "*S*",
    body: "Hi **Ana**,\n\n![](https://t.example/deck.jpg)\n\n- **power**\n2 * 3 * 4",
  });
  expect(text.texts.en.body).toBe(letter);
  expect([JSON.parse(rows[0]!.setupJson).policies.other, rows[1]!.setupJson]).toEqual(["*kept*", "{"]);
  sql.close();
});

it("leads in slow plans are in the cadences these have become, at the same message and moment", async () => {
  const native = await older("013-letters");
  const event = native.prepare(
    "insert into events (id, leadId, seq, actId, at, actorJson, kind, dataJson) values (?, 'lead_a', ?, 'act', ?, '{\"kind\":\"desk\"}', ?, ?)",
  );
  const DAY = 86_400_000;
  const say = (seq: number, at: number, kind: string, data: object) =>
    event.run(`ev_${seq}`, seq, at, kind, JSON.stringify(data));
  say(1, 0, "noted", { text: "Begun" });
  say(2, DAY, "parked", {
    reason: "Spring",
    planId: "sp_x",
    planName: "Seasons",
    lookAt: 99 * DAY,
    nextAt: 29 * DAY,
  });
  say(3, 29 * DAY, "slow-step", { nextAt: 57 * DAY });
  const old = { reason: "Spring", at: DAY, planId: "sp_x", lookAt: 99 * DAY, sent: 1, nextAt: 57 * DAY };
  native
    .prepare("update leads set seq = 3, leadJson = ? where id = 'lead_a'")
    .run(JSON.stringify({ id: "lead_a", seq: 3, parked: old }));
  native
    .prepare(
      "insert into timers (id, leadId, kind, dueAt, attempts) values ('lead_a:slow:1', 'lead_a', 'slow', ?, 0)",
    )
    .run(57 * DAY);
  native.close();
  const sql = await Sql.open(path);
  const row = sql.get(sql.q.selectFrom("leads").select("leadJson").where("id", "=", "lead_a"))!;
  const lead = JSON.parse(row.leadJson);
  expect(lead.parked).toEqual({ reason: "Spring", at: DAY, lookAt: 99 * DAY });
  expect(lead.cadences).toMatchObject([
    { cadenceId: "sp_x", name: "Seasons", version: 1, state: "running", n: 1, at: 57 * DAY },
  ]);
  const timers = sql.all(sql.q.selectFrom("timers").select(["kind", "dueAt"]).where("leadId", "=", "lead_a"));
  expect(timers).toEqual([{ kind: "touch", dueAt: 57 * DAY }]);
  expect(sql.all(sql.q.selectFrom("cadenceLeads").select(["cadenceId", "n"]))).toEqual([
    { cadenceId: "sp_x", n: 1 },
  ]);
  sql.close();
});

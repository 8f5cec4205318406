import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, utimesSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { take } from "../../core/desk/hand-off.ts";
import { handOver } from "../../core/desk/hand-over.ts";
import { hearFrom } from "../../core/desk/hear.ts";
import { learn } from "../../core/desk/learn.ts";
import { addNote } from "../../core/desk/notes.ts";
import { close } from "../../core/desk/stage.ts";
import { logTry, writeTo } from "../../core/desk/work.ts";
import { mapTo } from "../../core/policy/mapping.ts";
import { accountOf } from "../../core/report/account.ts";
import { tarnholt } from "../../demo/tarnholt.ts";
import { idle, NINE, testDesk } from "../../tests/support/desk.ts";
import { DAY, HOUR } from "../../tests/support/memory.ts";
import { writeBackup } from "../backup/backup.ts";
import { MovableClock } from "../clock.ts";
import type { Desk } from "../desk.ts";
import { WAS_ERASED } from "../import/read-rows.ts";
import { verify } from "../verify-desk.ts";
import { erasedPrints } from "./prints.ts";

const site = tarnholt.sources.find((s) => s.key === "plan-your-sauna")!;
const show = tarnholt.sources.find((s) => s.channel === "spreadsheet")!;

/** Somebody nobody else is called like, and every text by which they could be found. */
const marked = {
  name: "Quillon Zephyrmark",
  email: "Quillon.Z@marked-person.example",
  phone: "(303) 555-0187",
  message: "Is the floor of my xylotarium strong enough?",
};
const STRINGS = [
  ...["quillon", "zephyrmark", "marked-person", "+13035550187", "555-0187", "xylotarium"],
  ...["grommet lane", "velvetine", "note-about-him", "hidden-answer", "second-word"],
];

let folder: string;
let clock: MovableClock;
let desk: Desk;

beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), "kite-bell-erase-"));
  clock = new MovableClock(NINE, { frozen: true });
  desk = await testDesk({ data: folder, clock, channels: { email: idle, text: idle, chat: idle } });
  desk.outbox.start();
  desk.erasures.nextDue = Number.POSITIVE_INFINITY;
});
afterEach(async () => {
  expect(verify(desk.sql).faults).toEqual([]);
  await desk.close();
  rmSync(folder, { recursive: true });
});

const post = async (fields: object, headers: Record<string, string> = {}) =>
  (
    await desk.intake.submit(site, {
      contentType: "application/json",
      headers,
      raw: Buffer.from(JSON.stringify(fields)),
    })
  ).leadId!;

/** Everything somebody may leave behind in a desk. */
async function leaveTraces() {
  const leadId = await post(marked, { "idempotency-key": "zephyrmark-1" });
  const other = await post({ name: "Anders Berg", phone: "(303) 555-0144", message: "Hello" });
  const act = (id: string, decide: Parameters<Desk["act"]>[1]) => {
    const done = desk.act(id, decide);
    if (!done.ok) throw new Error(done.problem.detail);
    return done;
  };
  act(leadId, (w) => take(w, "p_mara"));
  act(leadId, (w) => addNote(w, "p_mara", "note-about-him: lives alone"));
  act(leadId, (w) =>
    logTry(w, { personId: "p_mara", channel: "call", outcome: "reached", note: "hidden-answer was yes" }),
  );
  act(leadId, (w) => learn(w, { address: "7 Grommet Lane", postalCode: "80202" }, "p_mara"));
  const file = desk.files.keep(
    Buffer.from("a plan of the velvetine room of Quillon Zephyrmark"),
    "velvetine.txt",
    "text/plain",
  );
  act(leadId, (w) =>
    hearFrom(w, {
      channel: "email",
      from: "quillon.z@marked-person.example",
      subject: "The velvetine room",
      body: "second-word",
      attachments: [file],
    }),
  );
  act(leadId, (w) =>
    writeTo(w, {
      personId: "p_mara",
      channel: "email",
      subject: "Dear Quillon",
      body: "Dear Mr Zephyrmark, thank you.",
      template: null,
    }),
  );
  desk.drafts.keep("p_mara", leadId, { body: "Dear Zephyrmark" } as never);
  // Others who speak of him, and lists he stands in.
  act(other, (w) => addNote(w, "p_mara", "A friend of Quillon Zephyrmark, who recommended us."));
  act(other, (w) =>
    learn(w, { related: [{ name: "Quillon Zephyrmark", relation: "friend", leadId }] }, "p_mara"),
  );
  desk.office.audit("p_mara", "dismissed what Quillon Zephyrmark sent", { before: { from: "+13035550187" } });
  const list = desk.imports.preview(
    Buffer.from("Name,Phone\nQuillon Zephyrmark,+13035550187\nSome Body,+13035550155\n"),
    "zephyrmark-list.csv",
  );
  if ("problem" in list) throw new Error(list.problem);
  await desk.intake.submit(site, {
    contentType: "application/json",
    headers: {},
    raw: Buffer.from(JSON.stringify({ nothing: "readable of Quillon Zephyrmark" })),
  });
  desk.search.index.follow(1_000);
  await desk.outbox.drained();
  return { leadId, other, fileId: file.fileId };
}

/** Every file of the desk, as the bytes that lie there. */
function* filesIn(path: string): Generator<{ path: string; text: string }> {
  for (const name of readdirSync(path)) {
    const own = join(path, name);
    if (statSync(own).isDirectory()) yield* filesIn(own);
    else if (name !== "kite-bell.lock")
      yield { path: own, text: readFileSync(own).toString("latin1").toLowerCase() };
  }
}
const foundIn = (path: string) => [
  ...new Set(
    [...filesIn(path)].flatMap((f) =>
      STRINGS.filter((s) => f.text.includes(s) || f.path.toLowerCase().includes(s)).map(
        (s) => `${s} in ${f.path.slice(path.length)}`,
      ),
    ),
  ),
];
const night = async () => {
  clock.hold(clock.now() + DAY);
  await desk.erasures.run();
};

describe("somebody who is erased", () => {
  it("is found in no byte of the data folder and of a backup made afterwards, while figures stay", async () => {
    const { leadId, other, fileId } = await leaveTraces();
    expect(new Set(foundIn(folder).map((f) => f.split(" in ")[0])).size).toBeGreaterThan(8);
    expect(desk.erasures.ask(leadId, "p_oskar", "Zephyrmark wrote that he wants it").ok).toBe(true);
    const before = accountOf(desk.reader.events(leadId));
    const beforeOther = accountOf(desk.reader.events(other));
    await night();
    expect(foundIn(folder)).toEqual([]);
    const { seq: _was, ...told } = before!.lead;
    expect(accountOf(desk.reader.events(leadId))).toMatchObject({
      lead: told,
      tries: before!.tries,
      offers: before!.offers,
    });
    expect(accountOf(desk.reader.events(other))).toEqual(beforeOther);
    expect(desk.looker.lead(leadId)).toMatchObject({ name: null, phones: [], erased: { at: clock.now() } });
    expect(desk.looker.lead(other)).toMatchObject({ name: "Anders Berg", related: [{ name: "(erased)" }] });
    expect(desk.files.read(fileId)).toBeNull();
    const place = join(folder, "..", `${folder.split("/").at(-1)}-backups`);
    try {
      await writeBackup({ data: folder, place, passphrase: null, now: clock.now() });
      expect(foundIn(place)).toEqual([]);
    } finally {
      rmSync(place, { recursive: true, force: true });
    }
  });

  it("is found also where there are more rows than are looked through in one stretch, in tables of either kind", async () => {
    const leadId = await post(marked);
    const name = "Quillon Zephyrmark";
    const { sql } = desk;
    const ROWS = 11_000;
    sql.transaction(() => {
      for (let n = 0; n < ROWS; n++) {
        // In the first stretch, at the edges of the next ones, and at the very end.
        const text = [3, 4_999, 5_000, 9_999, 10_000, ROWS - 1].includes(n)
          ? `${name} is number ${n}`
          : `Number ${n}`;
        const id = String(n).padStart(6, "0");
        const draftJson = JSON.stringify({ body: text });
        sql.run(
          sql.q.insertInto("drafts").values({ personId: "p_mara", leadId: `lead_${id}`, at: n, draftJson }),
        );
        sql.run(
          sql.q.insertInto("audit").values({ at: n, by: null, what: text, detailJson: "{}", via: null }),
        );
      }
    });
    desk.erasures.ask(leadId, "p_oskar", "");
    await night();
    expect(foundIn(folder)).toEqual([]);
    const drafts = sql.all(sql.q.selectFrom("drafts").select("draftJson").where("leadId", "like", "lead_0%"));
    expect(drafts).toHaveLength(ROWS);
    expect(drafts.filter((d) => !/Number \d/.test(d.draftJson))).toHaveLength(6);
  });

  it("is found by no search, and in no part of a word of the index", async () => {
    const { leadId } = await leaveTraces();
    const find = (typed: string) => desk.search.find(typed, { of: null, limit: 10 }).length;
    for (const word of ["zephyrmark", "5550187", "hidden-answer", "xylotarium"])
      expect(find(word)).toBeGreaterThan(0);
    desk.erasures.ask(leadId, "p_oskar", "");
    await night();
    for (const word of ["zephyrmark", "zephirmark", "5550187", "hidden-answer", "xylotarium", "second-word"])
      expect([word, find(word)]).toEqual([word, 0]);
    expect(find("anders")).toBe(1);
    expect(find("recommended us")).toBe(1);
  });

  it("takes their other leads and their contact in the book along, and leaves the deal its value", async () => {
    const leadId = await post(marked);
    const second = await post({ name: "Q. Zephyrmark", phone: "303 555 0199", message: "xylotarium" });
    desk.act(leadId, (w) => take(w, "p_mara"));
    expect(desk.join(leadId, second, "p_ines").ok).toBe(true);
    const over = desk.act(leadId, (w) =>
      handOver(w, "p_mara", { company: null, contact: {}, deal: { value: 900 } }),
    );
    if (!over.ok) throw new Error(over.problem.detail);
    desk.erasures.ask(leadId, "p_oskar", "");
    await night();
    expect(foundIn(folder)).toEqual([]);
    expect(desk.looker.lead(second)?.erased).not.toBeNull();
    const { open } = desk.looker.book.deals();
    expect(open).toMatchObject([{ value: 90_000, name: expect.not.stringMatching(/zephyr/i) }]);
  });

  it("shares a number with somebody else, who keeps it", async () => {
    const leadId = await post(marked);
    const wife = await post({ name: "Ottoline Vey", email: "ottoline@vey.example", message: "Hi" });
    desk.act(wife, (w) => learn(w, { morePhones: [{ number: "+13035550187" }] }, "p_ines"));
    desk.act(wife, (w) => addNote(w, "p_ines", "Reach her under +13035550187 in the evening."));
    desk.erasures.ask(leadId, "p_oskar", "");
    await night();
    expect(desk.looker.lead(wife)?.name).toBe("Ottoline Vey");
    const notes = desk.reader.events(wife).filter((e) => e.kind === "noted");
    expect(JSON.stringify(notes)).toContain("+13035550187");
  });

  it("is erased all the same when the desk is killed before its files are gone: the next night takes them", async () => {
    const { leadId, fileId } = await leaveTraces();
    desk.erasures.ask(leadId, "p_oskar", "");
    const { remove } = desk.files;
    desk.files.remove = () => {
      throw new Error("killed");
    };
    await expect(night()).rejects.toThrow("killed");
    desk.files.remove = remove;
    expect(desk.erasures.list("done", 5)).toMatchObject([{ leadId }]);
    expect(desk.files.read(fileId)).toBeNull();
    const path = join(folder, "files", fileId.slice(0, 2), fileId);
    expect(existsSync(path)).toBe(true);
    // A file of somebody who is writing just now is younger.
    utimesSync(path, new Date(0), new Date(0));
    await night();
    expect(existsSync(path)).toBe(false);
  });

  it("is known by a list only as somebody who was erased, and by a submission sent again only as done", async () => {
    const leadId = await post(marked, { "idempotency-key": "sent-once" });
    desk.erasures.ask(leadId, "p_oskar", "");
    await night();
    expect(await post(marked, { "idempotency-key": "sent-once" })).toBe(leadId);
    const list = desk.imports.preview(
      Buffer.from("Name,Phone\nQ Z,303-555-0187\nSome Body,303-555-0155\n"),
      "list.csv",
    );
    if ("problem" in list) throw new Error(list.problem);
    const source = { ...show, mapping: { ...show.mapping, ...mapTo({ Name: "name", Phone: "phone" }) } };
    const options = { fields: source.mapping.fields, tags: [], route: false };
    const check = await desk.imports.check(list.fileId, source, options);
    expect(check).toMatchObject({ total: 2, fresh: 1, rejected: 1, erased: 1 });
    expect(check.rejectedRows).toEqual([{ row: 1, cells: [], reason: WAS_ERASED }]);
    const knowingly = await desk.imports.check(list.fileId, source, { ...options, takeErased: true });
    expect(knowingly).toMatchObject({ fresh: 2, rejected: 0, erased: 0 });
    expect(erasedPrints(desk.sql, desk.kept)?.prints.join()).not.toMatch(/0187|marked/);
  });
});

describe("whoever is to be erased", () => {
  it("is closed at once and nothing more is sent, and is as before where it is taken back before the night", async () => {
    const leadId = await post(marked);
    desk.act(leadId, (w) => take(w, "p_mara"));
    const before = desk.looker.lead(leadId)!;
    desk.erasures.ask(leadId, "p_oskar", "by letter");
    expect(desk.looker.lead(leadId)).toMatchObject({ closed: { reason: "To be erased" }, nextStep: null });
    const [waiting] = desk.erasures.list("waiting", 10);
    expect(desk.erasures.keep(waiting!.id, "p_oskar")).toEqual({ ok: true });
    const { seq: _a, lastActivityAt: _b, ...now } = desk.looker.lead(leadId)!;
    const { seq: _c, lastActivityAt: _d, ...was } = before;
    expect(now).toEqual(was);
    await night();
    expect(desk.looker.lead(leadId)?.name).toBe("Quillon Zephyrmark");
  });

  it("is kept when they ask again before the night, and whoever asked finds out why", async () => {
    const leadId = await post(marked);
    desk.erasures.ask(leadId, "p_oskar", "");
    clock.hold(clock.now() + HOUR);
    await post({ ...marked, message: "I have changed my mind" });
    expect(desk.looker.lead(leadId)).toMatchObject({ closed: null, erasing: null });
    await night();
    expect(desk.looker.lead(leadId)?.name).toBe("Quillon Zephyrmark");
    expect(desk.erasures.list("kept", 5)).toMatchObject([
      { leadId, saidJson: expect.stringContaining("in touch since") },
    ]);
  });

  it("is asked for once, is no other lead's joined part, and can't be opened again once erased", async () => {
    const leadId = await post(marked);
    expect(desk.erasures.ask(leadId, "p_oskar", "").ok).toBe(true);
    expect(desk.erasures.ask(leadId, "p_oskar", "")).toMatchObject({
      ok: false,
      problem: { code: "asked-already" },
    });
    await night();
    expect(desk.erasures.ask(leadId, "p_oskar", "")).toMatchObject({
      ok: false,
      problem: { code: "erased-already" },
    });
    const [done] = desk.erasures.list("done", 5);
    expect(desk.erasures.keep(done!.id, "p_oskar")).toMatchObject({
      ok: false,
      problem: { code: "too-late" },
    });
  });
});

describe("a rule of how long somebody is kept", () => {
  const rule = {
    id: "r1",
    name: "Never reached",
    when: { field: "reached", is: "equal", value: "no" } as const,
    quietDays: 500,
  };
  const put = (rules: readonly object[]) =>
    desk.changeSetup({
      ...desk.setup,
      policies: { ...desk.setup.policies, privacy: { noticeDays: 7, rules: rules as never } },
    });
  const closed = async (fields: object) => {
    const id = await post(fields);
    desk.act(id, (w) => close(w, "p_ines", "No fit"));
    return id;
  };

  it("lists its leads for a week, and erases those nobody has held back and nothing has happened to", async () => {
    const [gone, held, moved] = [
      await closed(marked),
      await closed({ name: "Held Back", phone: "303 555 0161" }),
      await closed({ name: "Has Moved", phone: "303 555 0162" }),
    ] as [string, string, string];
    put([rule]);
    clock.hold(NINE + 400 * DAY);
    await desk.erasures.run();
    expect(desk.erasures.count("waiting")).toBe(0);
    clock.hold(NINE + 501 * DAY);
    expect(desk.erasures.wouldErase(rule).map((l) => l.id)).toEqual([gone, held, moved]);
    await desk.erasures.run();
    const waiting = desk.erasures.list("waiting", 10);
    expect(waiting.map((w) => w.leadId).sort()).toEqual([gone, held, moved].sort());
    expect(desk.looker.lead(gone)?.name).toBe("Quillon Zephyrmark");
    desk.erasures.keep(waiting.find((w) => w.leadId === held)!.id, "p_oskar");
    desk.act(moved, (w) => addNote(w, "p_ines", "Wants to be called in spring"));
    await night();
    expect(desk.looker.lead(gone)?.name).toBe("Quillon Zephyrmark");
    clock.hold(NINE + 510 * DAY);
    await desk.erasures.run();
    expect(desk.looker.lead(gone)?.erased).not.toBeNull();
    expect(desk.looker.lead(held)?.name).toBe("Held Back");
    expect(desk.looker.lead(moved)?.name).toBe("Has Moved");
    await night();
    expect(desk.erasures.count("waiting")).toBe(0);
  });

  it("that is switched off or taken away erases nobody it had listed", async () => {
    const id = await closed(marked);
    put([rule]);
    clock.hold(NINE + 501 * DAY);
    await desk.erasures.run();
    put([{ ...rule, off: true }]);
    clock.hold(NINE + 510 * DAY);
    await desk.erasures.run();
    expect(desk.looker.lead(id)?.name).toBe("Quillon Zephyrmark");
    expect(desk.erasures.list("kept", 5)).toMatchObject([{ leadId: id }]);
  });
});

import { beforeEach, describe, expect, it } from "vitest";
import { take } from "../../core/desk/hand-off.ts";
import { undo } from "../../core/desk/undo.ts";
import { logTry } from "../../core/desk/work.ts";
import { tarnholt } from "../../demo/tarnholt.ts";
import { testDesk } from "../../tests/support/desk.ts";
import type { Desk } from "../desk.ts";
import { verify } from "../verify-desk.ts";
import { wipeTest } from "../wipe.ts";
import { AccountBook, reachedBy } from "./accounts.ts";
import { AccountsInMemory, AccountsOnDisk } from "./memory.ts";

let desk: Desk;
let book: AccountBook;

beforeEach(async () => {
  desk = await testDesk();
  book = new AccountBook(desk.sql);
});

let n = 0;
async function inquire(): Promise<string> {
  const raw = Buffer.from(JSON.stringify({ phone: `303 555 ${1000 + ++n}`, product: "barrel" }));
  const receipt = await desk.intake.submit(tarnholt.sources[0]!, {
    contentType: "application/json",
    headers: {},
    raw,
  });
  return receipt.leadId!;
}

/** A lead made by a test through the real path. */
async function test(): Promise<string> {
  const raw = Buffer.from(JSON.stringify({ phone: `303 555 ${2000 + ++n}` }));
  const delivery = { contentType: "application/json", headers: {}, raw };
  const receipt = await desk.intake.submit(tarnholt.sources[0]!, delivery, { test: { only: null } });
  return receipt.leadId!;
}

const followAll = () => {
  while (book.follow(1));
};
const rows = () =>
  (["accounts", "accountTries", "accountOffers"] as const).map((table) =>
    desk.sql
      .all(desk.sql.q.selectFrom(table).selectAll())
      .map((row) => JSON.stringify(row))
      .sort(),
  );
const account = (leadId: string) =>
  desk.sql.get(desk.sql.q.selectFrom("accounts").selectAll().where("leadId", "=", leadId));

describe("accounts kept beside the record", () => {
  it("follow what happens, and are what they would be if all were told again", async () => {
    const [first, second] = [await inquire(), await inquire()];
    followAll();
    expect(account(first)).toMatchObject({ tries: 0, triedAt: null, source: tarnholt.sources[0]!.id });
    const by = desk.looker.lead(first)!.handOff!.to[0]!;
    desk.act(first, (world) => take(world, by));
    desk.act(first, (world) => logTry(world, { personId: by, channel: "call", outcome: "voicemail" }));
    desk.act(second, (world) => logTry(world, { personId: "p_mara", channel: "call", outcome: "reached" }));
    expect(account(first)).toMatchObject({ tries: 0 });
    expect(book.behind()).toBeGreaterThan(0);
    followAll();
    expect(book.behind()).toBe(0);
    expect(account(first)).toMatchObject({ tries: 1, person: by, talkedAt: null });
    expect(account(second)).toMatchObject({ tries: 1, talkedAtTry: 1 });
    const kept = rows();
    book.clear();
    expect(rows().flat()).toEqual([]);
    followAll();
    expect(rows()).toEqual(kept);
  });

  it("forget what was taken back", async () => {
    const id = await inquire();
    const tried = desk.act(id, (world) =>
      logTry(world, { personId: "p_mara", channel: "call", outcome: "reached" }),
    );
    if (!tried.ok) throw new Error(tried.problem.detail);
    followAll();
    expect(account(id)).toMatchObject({ tries: 1 });
    desk.act(id, (world) => undo(world, "p_mara", tried.plan.actId, desk.reader.events(id)));
    followAll();
    expect(account(id)).toMatchObject({ tries: 0, triedAt: null, talkedAt: null, talkedAtTry: null });
    expect(desk.sql.all(desk.sql.q.selectFrom("accountTries").selectAll())).toEqual([]);
  });

  it("miss nothing whose number is given again after a lead was taken out", async () => {
    const gone = await test();
    const real = await inquire();
    followAll();
    expect(account(gone)).toBeUndefined();
    expect(account(real)).toBeDefined();
    expect(wipeTest(desk, gone, "p_ines")).toBeNull();
    const last = await test();
    followAll();
    wipeTest(desk, last, "p_ines");
    // The next event has the number the last one of the wiped lead had.
    const next = await inquire();
    followAll();
    expect(account(next)).toMatchObject({ leadId: next });
    expect(reachedBy(desk.sql)).toBeGreaterThan(0);
  });

  it("are made again where they were told another way, and a desk says which are not as they should be", async () => {
    const id = await inquire();
    followAll();
    expect(verify(desk.sql).faults).toEqual([]);
    desk.sql.run(desk.sql.q.updateTable("accounts").set({ tries: 7 }));
    desk.sql.run(desk.sql.q.deleteFrom("accountOffers"));
    expect(verify(desk.sql).faults).toEqual([
      `${id}: its account is not what its events tell.`,
      `${id}: its offers are not accounted for as its events tell.`,
    ]);
    desk.sql.run(desk.sql.q.updateTable("counters").set({ value: 0 }).where("name", "=", "figures-told-by"));
    expect(reachedBy(desk.sql)).toBe(0);
    followAll();
    expect(verify(desk.sql).faults).toEqual([]);
  });
});

describe("figures of a desk", () => {
  it("are told as things stand now, again after something has happened", async () => {
    const NINE = desk.clock.now();
    const span = { from: NINE - 86_400_000, to: NINE + 86_400_000 };
    const ask = () => desk.figures.ask("effort", span);
    expect(await ask()).toMatchObject({ leads: 0, tries: 0 });
    const id = await inquire();
    expect(await ask()).toMatchObject({ leads: 1, tries: 0 });
    desk.act(id, (world) => logTry(world, { personId: "p_mara", channel: "call", outcome: "voicemail" }));
    expect(await ask()).toMatchObject({ leads: 1, tries: 1 });
    expect(await ask()).toBe(await ask());
    // Other names are told at once, though nothing has happened.
    const names = async () =>
      (
        await desk.figures.ask("response", {
          ...span,
          clock: "wall",
          until: "try",
          by: "source",
          split: null,
        })
      ).groups.map((g) => g.name);
    expect(await names()).toEqual([tarnholt.sources[0]!.name]);
    desk.office.change("p_oskar", (setup) => ({
      ok: true,
      setup: {
        ...setup,
        sources: setup.sources.map((s, i) => (i === 0 ? { ...s, name: "The new form" } : s)),
      },
    }));
    expect(await names()).toEqual(["The new form"]);
  });
});

describe("accounts in memory", () => {
  it("are those of the database, as leads come, go on, and are taken out", async () => {
    const memory = AccountsInMemory.of(desk.sql)!;
    const own = new AccountBook(desk.sql, (leadId, accounts) => memory.told(leadId, accounts));
    const disk = new AccountsOnDisk(desk.sql);
    const NINE = desk.clock.now();
    const span = { from: NINE - 1, to: NINE + 1, now: NINE };
    const same = () => {
      while (own.follow(1));
      const sorted = (list: readonly object[]) => list.map((one) => JSON.stringify(one)).sort();
      for (const kind of ["accounts", "tries", "offers"] as const)
        expect(sorted(memory[kind](span))).toEqual(sorted(disk[kind](span)));
      return memory.accounts(span).length;
    };
    const ids = [await inquire(), await inquire(), await test()];
    expect(same()).toBe(2);
    desk.act(ids[0]!, (world) => logTry(world, { personId: "p_mara", channel: "call", outcome: "reached" }));
    expect(same()).toBe(2);
    expect(memory.accounts({ ...span, from: NINE + 1 })).toEqual([]);
    // Read again from the start they are the same.
    expect(AccountsInMemory.of(desk.sql)!.accounts(span)).toHaveLength(2);
  });
});

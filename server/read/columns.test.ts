import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Condition } from "../../core/condition/tree.ts";
import { startCadence } from "../../core/desk/cadence.ts";
import { take } from "../../core/desk/hand-off.ts";
import { learn } from "../../core/desk/learn.ts";
import { close } from "../../core/desk/stage.ts";
import { tag } from "../../core/desk/tags.ts";
import { ColumnStore, countOf } from "../../core/lead/column-store.ts";
import { personOf } from "../../core/policy/setup.ts";
import { testDesk } from "../../tests/support/desk.ts";
import type { Desk } from "../desk.ts";
import { testRun } from "../source/test-run.ts";
import { wipeTest } from "../wipe.ts";
import { Columns } from "./columns.ts";
import { Listing, orderOf } from "./listing.ts";
import { whereOf } from "./where.ts";

/** Leads in memory, against the database they are read from, whatever happens to them. */

let desk: Desk;
let columns: Columns;
let inMemory: Listing;
let asked: Listing;
const site = () => desk.setup.sources.find((s) => s.key === "plan-your-sauna")!;

beforeEach(async () => {
  desk = await testDesk();
  for (let n = 0; n < 12; n++) await come(n);
  columns = new Columns(desk.sql);
  inMemory = new Listing(desk.sql, desk.looker.leads, columns);
  asked = new Listing(desk.sql, desk.looker.leads);
});
afterEach(async () => {
  columns.stop();
  await desk.close();
});

async function come(n: number): Promise<string> {
  const said = { name: `Visitor ${n}`, phone: `303 555 ${2000 + n}`, product: n % 2 ? "barrel" : "plunge" };
  const receipt = await desk.intake.submit(site(), {
    contentType: "application/json",
    headers: {},
    raw: Buffer.from(JSON.stringify(said)),
  });
  return receipt.leadId!;
}
const filled = async () => {
  columns.start();
  await vi.waitUntil(() => columns.now() !== null, { timeout: 120_000 });
};
const ids = () =>
  desk.sql.all(desk.sql.q.selectFrom("leads").select("id").orderBy("createdAt")).map((l) => l.id);

const QUESTIONS: (Condition | null)[] = [
  null,
  { field: "product", is: "equal", value: "barrel" },
  { field: "tag", is: "one-of", value: ["vip"] },
  { field: "state", is: "equal", value: "closed" },
  { field: "cadence", is: "known" },
  { field: "owner", is: "equal", value: "P_MARA" },
  { field: "company", is: "contains", value: ["inn"] },
];
/** Both say the same of everything that is asked, in the same order; gives how many leads there are in all. */
function same(): number {
  for (const when of QUESTIONS)
    for (const sort of ["recent", "name", "-company"]) {
      const list = { where: whereOf(when, desk.setup, desk.clock.now()), order: orderOf(sort)!, of: null };
      const page = (way: Listing) => way.page(list, 50, null).items.map((l) => l.id);
      expect(page(inMemory), JSON.stringify(when)).toEqual(page(asked));
      expect(inMemory.count(list)).toBe(asked.count(list));
    }
  expect(columns.now()).not.toBeNull();
  return columns.now()!.size;
}

describe("the columns in memory", () => {
  it("are those of the database, whatever comes and is done, at the next question", async () => {
    await filled();
    expect(same()).toBe(12);
    const [first, second, third] = ids();
    desk.act(first!, (w) => tag(w, "p_ines", { on: ["VIP"] }));
    desk.act(second!, (w) => close(w, "p_ines", "No fit"));
    desk.act(third!, (w) => take(w, "p_mara"));
    desk.act(third!, (w) => learn(w, { company: "Cedar Inn" }, "p_mara"));
    await come(20);
    expect(same()).toBe(13);
    const cadenceId = desk.setup.policies.cadences[0]!.id;
    desk.act(third!, (w) => startCadence(w, "p_mara", { cadenceId }));
    desk.act(first!, (w) => tag(w, "p_ines", { off: ["VIP"] }));
    expect(same()).toBe(13);
  });

  it("forget a lead that is wiped, and do not miss what takes the numbers of its events", async () => {
    await filled();
    const ines = personOf(desk.setup, "p_ines")!;
    const said = { name: "Sample Person", phone: "303 555 0123", product: "barrel" };
    const { leadId } = await testRun(desk, site(), said, undefined, ines, false);
    expect(same()).toBe(13);
    const last = () => desk.reader.lastEvent();
    const before = last();
    expect(wipeTest(desk, leadId!, "p_ines")).toBeNull();
    expect(last()).toBeLessThan(before);
    // Others happen under the numbers that became free, before anybody asks.
    for (const id of ids()) desk.act(id, (w) => tag(w, "p_ines", { on: ["vip"] }));
    expect(last()).toBeGreaterThanOrEqual(before);
    expect(same()).toBe(12);
    const vip: Condition = { field: "tag", is: "one-of", value: ["vip"] };
    const where = whereOf(vip, desk.setup, desk.clock.now());
    expect(inMemory.count({ where, order: orderOf("recent")!, of: null })).toBe(12);
  });

  it("are not asked before they are whole, nor after they were stopped; the database answers", async () => {
    expect(columns.now()).toBeNull();
    const list = { where: whereOf(null, desk.setup, 0), order: orderOf("recent")!, of: null };
    expect(inMemory.count(list)).toBe(12);
    await filled();
    columns.stop();
    expect(columns.now()).toBeNull();
    await come(30);
    expect(inMemory.count(list)).toBe(13);
  });
});

describe("a column store", () => {
  const lead = (n: number, more: object = {}) => ({
    id: `l${String(n).padStart(5, "0")}`,
    place: "answer",
    ownerId: null,
    cadences: null,
    createdAt: n,
    lastActivityAt: n,
    sourceId: "s",
    product: null,
    territory: null,
    language: null,
    postalCode: null,
    company: null,
    preferred: null,
    campaign: null,
    stage: "new",
    creditId: null,
    value: null,
    inquiries: 1,
    tries: 0,
    reached: 0,
    lastTryAt: null,
    dueAt: null,
    called: `n${n}`,
    tags: null,
    people: null,
    ...more,
  });

  it("grows, gives rows again, and keeps what is not known last, whichever way it is sorted", () => {
    const store = new ColumnStore();
    for (let n = 0; n < 5_000; n++)
      store.put(lead(n, n % 3 === 0 ? {} : { value: n % 7, company: `c${n % 5}` }));
    for (let n = 0; n < 5_000; n += 2) store.remove(`l${String(n).padStart(5, "0")}`);
    store.remove("nobody");
    for (let n = 5_000; n < 6_000; n++) store.put(lead(n, { value: 3 }));
    expect(store.size).toBe(3_500);
    const { mask, exact } = store.mask(null, desk.setup, 0);
    expect([countOf(mask), exact]).toEqual([3_500, true]);
    for (const down of [true, false]) {
      const all = store.first(mask, { column: "value", down }, null, 10_000);
      expect(new Set(all.map((p) => p.id)).size).toBe(3_500);
      const known = all.findIndex((p) => p.by === null);
      expect(all.slice(known).every((p) => p.by === null)).toBe(true);
      // From any place on, it goes on as the whole does.
      for (const at of [0, 99, known - 1, known, 3_400])
        expect(store.first(mask, { column: "value", down }, all[at]!, 50)).toEqual(
          all.slice(at + 1, at + 51),
        );
    }
    expect(store.first(mask, { column: "called", down: false }, null, 0)).toEqual([]);
    expect(store.idsOf(mask, 7)).toHaveLength(7);
  });
});

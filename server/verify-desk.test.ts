import { beforeEach, describe, expect, it } from "vitest";
import { book, slotsFor } from "../core/desk/book.ts";
import { tarnholt } from "../demo/tarnholt.ts";
import { testDesk } from "../tests/support/desk.ts";
import type { Desk } from "./desk.ts";
import { verify } from "./verify-desk.ts";

let desk: Desk;
let leadId: string;

beforeEach(async () => {
  desk = await testDesk();
  const raw = Buffer.from('{"phone":"303 555 0123"}');
  const receipt = await desk.intake.submit(tarnholt.sources[0]!, {
    contentType: "application/json",
    headers: {},
    raw,
  });
  leadId = receipt.leadId!;
});

/** A check that cannot fail is none: each of these is damage it must see. */
describe("verify", () => {
  it("finds nothing on a sound desk", () => expect(verify(desk.sql)).toMatchObject({ leads: 1, faults: [] }));
  it("finds a row that was changed behind the engine's back", () => {
    desk.sql.run(desk.sql.q.updateTable("leads").set({ ownerId: "p_mara" }).where("id", "=", leadId));
    expect(verify(desk.sql).faults).toEqual([`${leadId}: ownerId is not what its events make.`]);
  });
  it("finds a timer that is missing, and one without a reason", () => {
    const [timer] = desk.sql.all(desk.sql.q.selectFrom("timers").selectAll());
    desk.sql.run(desk.sql.q.deleteFrom("timers").where("id", "=", timer!.id));
    expect(verify(desk.sql).faults).toEqual([`Timer ${timer!.id} is missing.`]);
    desk.sql.run(desk.sql.q.insertInto("timers").values([timer!, { ...timer!, id: "stray" }]));
    expect(verify(desk.sql).faults).toEqual(["Timer stray has no reason."]);
  });
  it("finds a booked call that the free times would not know of", () => {
    const { at } = slotsFor(desk.look(leadId))[0]!;
    desk.act(leadId, (world) => book(world, at));
    expect(verify(desk.sql).faults).toEqual([]);
    desk.sql.run(desk.sql.q.deleteFrom("bookings"));
    expect(verify(desk.sql).faults).toEqual([`${leadId}: its booked call is not what its events make.`]);
  });
  it("stops at an event that is gone", () => {
    desk.sql.run(desk.sql.q.deleteFrom("events").where("leadId", "=", leadId).where("seq", "=", 2));
    expect(() => verify(desk.sql)).toThrow(/event 3 cannot follow 1/);
  });
});

import { describe, expect, it } from "vitest";
import { rehearsal } from "../support/rehearsal.ts";

/** Who changed what, and how it is asked for. */

const { api } = rehearsal();

interface Change {
  readonly n: number;
  readonly by: string;
  readonly at: string;
  readonly what: string;
  readonly differs: { where: string[]; was: string | null; is: string | null }[];
}
const changes = async (query = "") =>
  (await api.get(`/audit?limit=100${query}`)).body as { items: Change[]; next: string | null };

describe("the list of changes", () => {
  it("has who must not be written to, put on and taken off, and nothing where nothing was changed", async () => {
    const list = () => changes("&about=must not be written to");
    const before = (await list()).items.length;
    await api.post("/setup/suppressed", {
      values: "never@example.com, 303 555 0177",
      reason: "asked at the fair",
    });
    await api.post("/setup/suppressed", { values: "never@example.com", reason: "again" });
    await api.post("/setup/suppressed/remove", { value: "never@example.com" });
    await api.post("/setup/suppressed/remove", { value: "never@example.com" });
    const { items } = await list();
    expect(items).toHaveLength(before + 2);
    expect(items[1]?.differs).toContainEqual({
      where: [],
      was: null,
      is: "reason asked at the fair; added never@example.com, +13035550177",
    });
    expect(items[0]?.differs[0]).toMatchObject({ was: "removed never@example.com", is: null });
  });
  it("has who went on and off duty, and until when", async () => {
    await api.post("/setup/people/p_luc/duty", { off: true, until: "2026-03-04T20:00:00Z" });
    await api.post("/setup/people/p_luc/duty", { off: false });
    const [back, away] = (await changes("&about=duty of")).items;
    expect(away?.what).toMatch(/^duty of Luc/);
    expect(away?.differs).toEqual([
      { where: ["off duty"], was: "no", is: "yes" },
      { where: ["off until"], was: null, is: "2026-03-04 13:00" },
    ]);
    expect(back?.differs[0]).toEqual({ where: ["off duty"], was: "yes", is: "no" });
  });
  it("has tests that were wiped by hand", async () => {
    const tested = await api.post("/sources/plan-your-sauna/test", {
      fields: { name: "Tess Tester", phone: "303 555 6200" },
    });
    const { leadId } = tested.body;
    expect((await api.post(`/leads/${leadId}/wipe`)).status).toBe(200);
    expect((await changes("&about=wiped")).items[0]?.what).toBe("wiped the test Test: Tess Tester");
  });
  it("is asked by person, by thing and by day of the desk, and page by page", async () => {
    const me = (await api.get("/me")).body;
    const mine = (await changes(`&by=${me.id}`)).items;
    expect(mine.length).toBeGreaterThan(0);
    expect(new Set(mine.map((c) => c.by))).toEqual(new Set([me.name]));
    expect((await changes("&by=p_nobody")).items).toEqual([]);
    expect((await changes("&about=DUTY of")).items.length).toBeGreaterThan(0);
    // The desk's own day: its last minute is the next day's first hour in UTC.
    const day = "2026-03-04";
    const all = (await changes()).items.length;
    expect((await changes(`&from=${day}&to=${day}`)).items).toHaveLength(all);
    expect((await changes("&from=2026-03-05")).items).toEqual([]);
    expect((await changes("&to=2026-03-03")).items).toEqual([]);
    expect((await changes("&from=rubbish&to=2026-02-31")).items).toHaveLength(all);
    const first = (await api.get("/audit?limit=1")).body;
    const second = (await api.get(`/audit?limit=1&cursor=${first.next}`)).body;
    expect(second.items[0].n).toBeLessThan(first.items[0].n);
  });
});

import { describe, expect, it, vi } from "vitest";
import { rehearsal } from "../support/rehearsal.ts";
import { asPerson, PEOPLE } from "../support/server.ts";

/** The lab as other systems use it: what it learns from, what it refuses, what it keeps. */

const { server, api } = rehearsal({ fresh: true });
const as = asPerson(() => server().origin);

let n = 0;
const inquire = async () =>
  (
    await api.post("/intake/plan-your-sauna", {
      name: `Caller ${++n}`,
      phone: `303 555 ${String(1000 + n)}`,
      product: "barrel",
    })
  ).body.leadId as string;
/** A day on which some came and were called. */
async function someRecord(leads = 6): Promise<void> {
  for (let i = 0; i < leads; i++) {
    const id = await inquire();
    await api.post("/rehearsal/clock", { advance: "PT4M" });
    if (i % 2 === 0)
      await api.post(`/leads/${id}/tries`, { personId: "p_mara", channel: "call", outcome: "reached" });
  }
  await api.post("/rehearsal/clock", { advance: "PT1H" });
}
const short = { demand: { kind: "made", weeks: 1, times: 15 }, runs: 4 };
const done = (id: string) =>
  vi.waitFor(
    async () => {
      const { body } = await api.get(`/lab/${id}`);
      expect(body.state).not.toBe("running");
      return body;
    },
    { timeout: 240_000, interval: 200 },
  );
const run = async (asked: object) => {
  const { status, body } = await api.post("/lab", { ...short, ...asked });
  expect([status, body]).toEqual([200, expect.objectContaining({ state: "running" })]);
  return done(body.id);
};

describe("the lab", () => {
  it("of two sides that are alike finds no difference, of two that are not finds which, again the same by its seed", async () => {
    await someRecord();
    const alike = await run({});
    expect(alike).toMatchObject({
      state: "done",
      name: "As it is live, by chance alone",
      said: { a: [], b: [] },
    });
    for (const { key, a, b, mean, low, high } of alike.result.differences)
      if (mean !== null) expect([key, a === b, mean, low, high]).toEqual([key, true, 0, 0, 0]);
    const b = [
      { kind: "habits", personId: null, takes: 0, passes: 1, answerMinutes: 1, handlingMinutes: null },
    ];
    const apart = await run({ b, seed: 7 });
    expect(apart.said.b).toEqual(["Everybody: takes 0 % of offers, passes 100 %, answers after 1 minute"]);
    const passed = apart.result.differences.find((d: { key: string }) => d.key === "passed");
    expect(passed.low).toBeGreaterThan(0);
    expect(apart.result).toMatchObject({ runs: 4, weeks: 1 });
    expect(apart.result.assumes.length).toBeGreaterThan(5);
    const again = await run({ b, seed: 7 });
    expect(again.id).not.toBe(apart.id);
    expect(again.result).toEqual(apart.result);
    expect((await run({ b, seed: 8 })).result).not.toEqual(apart.result);
    const { items } = (await api.get("/lab")).body;
    expect(items.map((line: { id: string }) => line.id)).toEqual(
      expect.arrayContaining([alike.id, apart.id]),
    );
  });

  it("runs those who really came again, each at their time, and shows a day of them", async () => {
    await someRecord(5);
    const { result } = await run({ demand: { kind: "past" }, runs: 2, b: [{ kind: "reach", times: 2 }] });
    expect(result.came).toBe(5);
    expect(result.days.a.leads).toHaveLength(5);
    expect(result.days.b.leads.map((l: { states: { at: string }[] }) => l.states[0]!.at)).toEqual(
      result.days.a.leads.map((l: { states: { at: string }[] }) => l.states[0]!.at),
    );
    expect(result.days.a.leads[0].states[0]).toMatchObject({
      dueAt: expect.any(String),
      rung: false,
      tries: 0,
    });
  });

  it("makes rules the draft, and names what is left to be done by hand", async () => {
    await someRecord(2);
    const { rules } = (await api.get("/lab/choices")).body;
    const ruleId = rules[0].id;
    const tried = await run({
      runs: 2,
      b: [
        { kind: "offer", ruleId, minutes: 11 },
        { kind: "away", personId: "p_mara" },
      ],
    });
    expect(tried.draftable).toEqual({ a: false, b: true });
    expect((await api.post(`/lab/${tried.id}/draft`, { side: "a" })).status).toBe(409);
    expect((await api.post(`/lab/${tried.id}/draft`, { side: "b" })).body).toEqual({
      byHand: ["Without Mara Whitehorse"],
    });
    const { draft, live } = (await api.get("/setup/routing")).body;
    expect(draft.rules.find((r: { id: string }) => r.id === ruleId).offerMinutes).toBe(11);
    expect(live.rules.find((r: { id: string }) => r.id === ruleId).offerMinutes).toBe(rules[0].minutes);
    // The draft itself can be run, and is what it was then.
    const drafted = await run({ runs: 2, b: [{ kind: "rules", of: "draft" }] });
    expect(drafted.said.b).toEqual(["The rules as drafted"]);
    expect(drafted.changes.b).toEqual([{ kind: "rules", of: "draft" }]);
  });

  it("one runs at a time, is cancelled, and is taken out", async () => {
    await someRecord(2);
    const long = { demand: { kind: "made", weeks: 26, times: 30 }, runs: 100 };
    const { body } = await api.post("/lab", long);
    expect((await api.post("/lab", short)).body).toMatchObject({ status: 409, code: "one-runs-already" });
    expect((await api.post(`/lab/${body.id}/cancel`)).body).toMatchObject({
      state: "cancelled",
      result: null,
    });
    expect((await run({ runs: 2 })).state).toBe("done");
    expect(
      (await api.post(`/lab/${body.id}/remove`)).body.items.map((l: { id: string }) => l.id),
    ).not.toContain(body.id);
    for (const path of [`/lab/${body.id}/cancel`, `/lab/${body.id}/remove`])
      expect((await api.post(path)).status).toBe(404);
    expect((await api.get(`/lab/${body.id}`)).status).toBe(404);
  });

  it("is never asked for more than it can hold", async () => {
    await someRecord(2);
    const wild = await run({ demand: { kind: "made", weeks: 26, times: 200, growth: 1 } });
    expect(wild).toMatchObject({ state: "failed", error: expect.stringMatching(/20,000 are the most/) });
    const many = await run({ demand: { kind: "made", weeks: 26, times: 200, growth: 0.1 }, runs: 100 });
    expect(many).toMatchObject({ state: "failed", error: expect.stringMatching(/1,000,000 are the most/) });
  });

  it("says what is wrong, by its place, and that there is nothing to learn from", async () => {
    const empty = await run({});
    expect(empty).toMatchObject({ state: "failed", error: expect.stringContaining("nothing to learn from") });
    const wrong: [object, string][] = [
      [{ runs: 1 }, "runs"],
      [{ demand: { kind: "made", weeks: 0 } }, "demand.weeks"],
      [{ b: [{ kind: "away", personId: "nobody" }] }, "b.0"],
      [{ a: [{ kind: "rules", of: "draft" }] }, "a.0"],
      [{ b: [{ kind: "hours", personId: "p_mara", days: [], span: null }] }, "b.0.days"],
      [{ b: [{ kind: "desk", days: [1], span: ["17:00", "09:00"] }] }, "b.0.span"],
      [{ from: "2026-03-05", to: "2026-03-01" }, "to"],
    ];
    for (const [asked, path] of wrong) {
      const { status, body } = await api.post("/lab", asked);
      expect([path, status, body.errors?.[0]?.path]).toEqual([path, 422, path]);
    }
  });

  it("is not for salespeople", async () => {
    for (const path of ["/lab", "/lab/choices", "/lab/lab_1"])
      expect([path, (await as(PEOPLE.salesperson, "GET", path)).status]).toEqual([path, 403]);
    expect((await as(PEOPLE.salesperson, "POST", "/lab", short)).status).toBe(403);
    expect((await as(PEOPLE.coordinator, "GET", "/lab")).status).toBe(200);
  });
});

describe("how many are needed", () => {
  const found = () =>
    vi.waitFor(
      async () => {
        const { body } = await api.get("/figures/staffing/run");
        expect(body.state).not.toBe("running");
        return body;
      },
      { timeout: 240_000, interval: 200 },
    );
  const ask = (asked: object) => api.post("/figures/staffing/run", asked);

  it("is found out by running the desk with one, two, three, and says where it can't", async () => {
    expect((await api.get("/figures/staffing/run")).body).toMatchObject({ state: "none", hours: [] });
    await ask({});
    expect(await found()).toMatchObject({
      state: "failed",
      error: expect.stringMatching(/^Nobody new inquired/),
    });
    await someRecord(4);
    const begun = await ask({ goal: 50, minutes: 30, seconds: 60 });
    expect([begun.status, begun.body.state]).toEqual([200, "running"]);
    const told = await found();
    expect(told).toMatchObject({ state: "done", goal: 50, minutes: 30, seconds: 60, weeks: 60, error: null });
    // All came on Wednesday from nine on, and each calls for a minute: one is enough for half an hour.
    expect(told.hours.map((h: { hour: number; needed: number }) => [h.hour, h.needed])).toEqual([[57, 1]]);
    expect(told.hours[0].low).toBeLessThan(told.hours[0].within);
    // One that is asked for meanwhile takes its place.
    await ask({ goal: 50, minutes: 30, seconds: 60 });
    await ask({ goal: 50, minutes: 30, seconds: 60 });
    expect(await found()).toMatchObject({ state: "done", hours: [{ hour: 57, needed: 1 }] });
  });

  it("is for those who may see figures, within bounds", async () => {
    expect((await as(PEOPLE.salesperson, "GET", "/figures/staffing/run")).status).toBe(403);
    expect((await as(PEOPLE.salesperson, "POST", "/figures/staffing/run", {})).status).toBe(403);
    for (const [sent, path] of [
      [{ goal: 100 }, "goal"],
      [{ minutes: 0 }, "minutes"],
      [{ seconds: 5 }, "seconds"],
      [{ from: "2026-03-05", to: "2026-03-01" }, "to"],
    ] as const) {
      const { status, body } = await ask(sent);
      expect([sent, status, body.errors?.[0]?.path]).toEqual([sent, 422, path]);
    }
  });
});

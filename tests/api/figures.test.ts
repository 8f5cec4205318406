import { describe, expect, it } from "vitest";
import { rehearsal } from "../support/rehearsal.ts";
import { asPerson, PEOPLE } from "../support/server.ts";

/** Figures over the record as other systems ask for them: against a plain recount, and whatever they are asked by. */

const { server, api } = rehearsal({ fresh: true });
const as = asPerson(() => server().origin);

let n = 0;
const inquire = async (source = "plan-your-sauna", more: object = {}) =>
  (await api.post(`/intake/${source}`, { name: `Caller ${++n}`, phone: `303 555 ${1000 + n}`, ...more })).body
    .leadId as string;
const figures = async (what: string) => (await api.get(`/figures/${what}`)).body;
const forward = (by: string) => api.post("/rehearsal/clock", { advance: by });
const tryLead = (id: string, outcome: string, personId = "p_mara") =>
  api.post(`/leads/${id}/tries`, { personId, channel: "call", outcome });

describe("figures", () => {
  it("of an empty desk say so, and none of them is no number", async () => {
    for (const what of ["response?by=source", "effort", "sources", "people", "staffing"]) {
      const { status, body } = await api.get(`/figures/${what}`);
      expect([what, status]).toEqual([what, 200]);
      expect(JSON.stringify(body)).not.toContain('"NaN"');
    }
    expect(await figures("response")).toMatchObject({
      n: 0,
      censored: 0,
      median: null,
      low: null,
      high: null,
      inTarget: { n: 0, share: null },
      curve: [{ t: 0, s: 1 }],
      groups: [],
      logRank: null,
    });
  });

  it("asked by more at once than can wait: some are told to ask again, which they can, and nobody is told of a fault", async () => {
    await inquire();
    // Each another question, so that none is answered from memory.
    const crowd = Array.from({ length: 400 }, (_, n) => {
      const [from, to] = [1 + (n % 28), 1 + Math.floor(n / 28)].map((day) => String(day).padStart(2, "0"));
      return `/figures/effort?from=2026-01-${from}&to=2026-03-${to}`;
    });
    const answers = await Promise.all(crowd.map((path) => api.get(path)));
    const refused = answers.filter((a) => a.status !== 200);
    expect(refused.length).toBeGreaterThan(0);
    for (const { status, body } of refused) expect([status, body.code]).toEqual([503, "not-now"]);
    expect((await api.get("/figures/effort")).status).toBe(200);
  });

  it("count leads as they were tried, those that wait and those let go among them", async () => {
    const ids = [
      await inquire(),
      await inquire(),
      await inquire(),
      await inquire("ad-none-such"),
      await inquire(),
    ];
    const [first, second, third] = ids as [string, string, string];
    await forward("PT2M");
    await tryLead(first, "reached");
    await forward("PT2M");
    await tryLead(second, "voicemail");
    await forward("PT10S");
    await api.post(`/leads/${third}/close`, { personId: "p_ines", reason: "No fit" });
    await forward("PT10M");
    const told = await figures("response?by=source&clock=wall");
    expect(told).toMatchObject({ n: 4, censored: 2, target: 5 });
    // Two of four had it: after 2 and 4 minutes; of the third it was known to wait for 4.
    expect(told.curve.map((p: { t: number; atRisk: number }) => [Math.round(p.t), p.atRisk])).toEqual([
      [0, 4],
      [2, 4],
      [4, 3],
    ]);
    expect(told.median).toBeCloseTo(4, 1);
    expect(told.inTarget).toMatchObject({ n: 3, hits: 2 });
    expect(told.groups).toMatchObject([{ n: 4, name: "Website: plan your sauna" }]);
    const effort = await figures("effort");
    expect(effort).toMatchObject({ leads: 4, tries: 2 });
    expect(effort.triesPerLead.slice(0, 3)).toEqual([2, 2, 0]);
    expect(await figures("response?until=talk")).toMatchObject({ n: 4, censored: 3 });
    expect(await figures("people")).toMatchObject({
      people: expect.arrayContaining([expect.objectContaining({ key: "p_mara", given: 2 })]),
    });
  });

  it("lead to the leads they count", async () => {
    const id = await inquire();
    const other = await inquire();
    await tryLead(id, "reached");
    const behind = (query: string) => figures(`behind?${query}`);
    expect(await behind("part=untried")).toMatchObject({
      n: 1,
      items: [{ leadId: other, name: `Caller ${n}` }],
    });
    expect(await behind("part=reached")).toMatchObject({ n: 1, items: [{ leadId: id }] });
    expect(await behind("part=all&by=source&key=src_site")).toMatchObject({ n: 2 });
    expect(await behind("part=all&by=source&key=src_barrel")).toMatchObject({ n: 0, items: [] });
    expect(await behind("by=person&key=p_mara")).toMatchObject({ n: 1 });
  });

  it("are of leads that came in the days asked for, as the desk's zone has them", async () => {
    await inquire();
    await forward("P1DT1H");
    await inquire();
    const of = async (query: string) => (await figures(`response?${query}`)).n;
    expect(await of("from=2026-03-04&to=2026-03-04")).toBe(1);
    expect(await of("from=2026-03-05")).toBe(1);
    expect(await of("")).toBe(2);
    expect(await of("to=2026-03-03")).toBe(0);
    expect(await figures("response?from=2026-03-04&to=2026-03-04")).toMatchObject({
      from: "2026-03-04T07:00:00.000Z",
      to: "2026-03-05T07:00:00.000Z",
    });
    expect((await figures("response?split=2026-03-05&clock=wall")).split).toMatchObject({
      before: { n: 1 },
      after: { n: 1 },
      logRank: null,
    });
  });

  it("say what is wrong with what they are asked by", async () => {
    const wrong = [
      ["response?from=yesterday", "from"],
      ["response?from=2026-03-05&to=2026-03-04", "to"],
      ["response?from=1980-01-01", "from"],
      ["response?by=colour", "by"],
      ["response?clock=sun", "clock"],
      ["staffing?goal=120", "goal"],
      ["staffing?minutes=x", "minutes"],
      ["staffing?seconds=1e9", "seconds"],
      ["sources?attribution=none", "attribution"],
      ["behind?part=everything", "part"],
      ["response?split=2026-02-30", "split"],
    ] as const;
    for (const [what, path] of wrong) {
      const { status, body } = await api.get(`/figures/${what}`);
      expect([what, status, body.errors?.[0]?.path]).toEqual([what, 422, path]);
    }
  });

  it("are for those who see everybody's leads, and spend is entered by those who change Set-up", async () => {
    for (const what of ["response", "effort", "sources", "people", "staffing", "behind", "spend"])
      expect((await as(PEOPLE.salesperson, "GET", `/figures/${what}`)).status).toBe(403);
    const rows = [{ sourceId: "src_barrel", month: "2026-03", amount: 5, currency: "USD" }];
    expect((await as(PEOPLE.salesperson, "POST", "/figures/spend", { rows })).status).toBe(403);
    expect((await as(PEOPLE.coordinator, "POST", "/figures/spend", { rows })).status).toBe(200);
  });
});

describe("spend", () => {
  const row = (more: object = {}) => ({
    sourceId: "src_barrel",
    month: "2026-03",
    amount: 4200.5,
    currency: "USD",
    ...more,
  });
  const kept = async () =>
    (await figures("spend")).rows.map(
      (r: { source: string; month: string; amount: number; currency: string; campaign?: string }) => [
        r.source,
        r.campaign ?? "",
        r.month,
        r.amount,
        r.currency,
      ],
    );
  const BARREL = "Ad: barrel saunas, spring";

  it("is kept by source, campaign, month and currency: again replaces, nothing takes out, and it is written down who did", async () => {
    await api.post("/figures/spend", {
      rows: [row(), row({ campaign: "spring" }), row({ currency: "CAD" })],
    });
    expect(await kept()).toHaveLength(3);
    await api.post("/figures/spend", { rows: [row({ amount: 17 }), row({ currency: "CAD", amount: 0 })] });
    expect(await kept()).toEqual([
      [BARREL, "", "2026-03", 17, "USD"],
      [BARREL, "spring", "2026-03", 4200.5, "USD"],
    ]);
    const { body } = await as(PEOPLE.administrator, "GET", "/audit?limit=5");
    expect(JSON.stringify(body)).toContain("Entered what sources cost");
  });

  it("is set against what came, in the company's currency alone", async () => {
    const ids = [await inquire(), await inquire()];
    await tryLead(ids[0]!, "reached");
    await api.post("/figures/spend", {
      rows: [
        row({ sourceId: "src_site", amount: 100 }),
        row({ sourceId: "src_site", amount: 7, currency: "EUR" }),
      ],
    });
    const told = await figures("sources");
    expect(told.groups[0]).toMatchObject({
      key: "src_site",
      leads: 2,
      spend: 100,
      perInquiry: { each: 50 },
      perReached: { each: 100 },
      perWon: { each: null, high: null },
    });
    expect(told.elsewhere).toEqual([{ currency: "EUR", amount: 7 }]);
  });

  it("is loaded from a table, all of it or nothing, and each line that is wrong is named", async () => {
    const file = (text: string) => api.post("/figures/spend/file", { text });
    const good = `Month;Source;Amount;Campaign\r\n2026-02;${BARREL};1,200.50;spring\r\n2026-03-01;ad-plunge;80;\r\n`;
    expect((await file(good)).body).toEqual({ kept: 2, problems: [] });
    expect(await kept()).toEqual([
      ["Ad: plunge tubs for athletes", "", "2026-03", 80, "USD"],
      [BARREL, "spring", "2026-02", 1200.5, "USD"],
    ]);
    const bad =
      "source,month,amount,currency\nnone such,2026-02,5,\nad-barrel,02/2026,5,\nad-barrel,2026-02,5.123,USD\nad-barrel,2026-02,-4,\nad-barrel,2026-02,9,USD\n";
    const { body } = await file(bad);
    expect(body.kept).toBe(0);
    expect(body.problems.map((p: string) => p.split(":")[0])).toEqual([
      "Line 2, source",
      "Line 3, month",
      "Line 4, amount",
      "Line 5, amount",
    ]);
    expect(await kept()).toHaveLength(2);
    expect((await file("a,b\n1,2\n")).body.problems[0]).toContain("no column “source”, “month”, “amount”");
    expect((await file("")).body.kept).toBe(0);
  });

  it("refuses what it cannot keep, naming the field", async () => {
    const wrong = [
      [row({ sourceId: "none" }), "rows.0.sourceId"],
      [row({ amount: 1.234 }), "rows.0.amount"],
      [row({ amount: -1 }), "rows.0.amount"],
      [row({ month: "March" }), "rows.0.month"],
      [row({ currency: "dollars" }), "rows.0.currency"],
    ] as const;
    for (const [sent, path] of wrong) {
      const { status, body } = await api.post("/figures/spend", { rows: [sent] });
      expect([status, body.errors[0].path]).toEqual([422, path]);
    }
    expect(await kept()).toEqual([]);
  });
});

describe("the weekly letter", () => {
  const sent = async () =>
    (
      (await api.get("/rehearsal/outside")).body.items as { channel: string; to: string; subject?: string }[]
    ).filter((m) => m.channel === "email" && m.subject?.startsWith("The lead desk"));

  it("is composed, seen, sent at a press, and goes out by itself as time goes on", async () => {
    await inquire();
    await forward("P1D");
    const before = (await api.get("/figures/letter")).body;
    expect(before).toMatchObject({ on: true, weekday: 1, to: [], nextAt: "2026-03-09T14:00:00.000Z" });
    expect(before.readers).toEqual([{ id: "p_greta", name: expect.any(String) }]);
    const seen = (await api.get("/figures/letter/preview?parts=offers,response")).body;
    expect(seen.text.indexOf("Offers")).toBeLessThan(seen.text.indexOf("How fast"));
    expect(seen.html).toContain('src="data:image/png;base64,');
    const { on, time, to } = before;
    const saved = await api.post("/figures/letter", { on, time, to, weekday: 5, parts: ["response"] });
    expect(saved.body).toMatchObject({ parts: ["response"], nextAt: "2026-03-06T15:00:00.000Z" });
    const now = await as(PEOPLE.coordinator, "POST", "/figures/letter/send", { parts: ["offers"], to: "me" });
    expect([now.status, now.body.sent]).toEqual([200, 1]);
    await forward("P1D");
    const subjects = (await sent()).map((m) => m.to).sort();
    expect(subjects).toEqual(["greta@tarnholt.example", "ines@tarnholt.example"]);
  });

  it("is for those who may see figures, and what can't be is refused by its field", async () => {
    for (const path of ["/figures/letter", "/figures/letter/preview"])
      expect((await as(PEOPLE.salesperson, "GET", path)).status).toBe(403);
    const { on, weekday, time, to, parts } = (await api.get("/figures/letter")).body;
    const put = (more: object) => api.post("/figures/letter", { on, weekday, time, to, parts, ...more });
    const wrong = [
      [{ weekday: 8 }, "weekday"],
      [{ time: "24:00" }, "time"],
      [{ parts: ["weather"] }, "parts.0"],
      [{ to: ["p_mara"] }, "to.0"],
    ] as const;
    for (const [more, path] of wrong) {
      const { status, body } = await put(more);
      expect([more, status, body.errors?.[0]?.path]).toEqual([more, 422, path]);
    }
    const { status, body } = await api.get("/figures/letter/preview?parts=none");
    expect([status, body.errors[0].path]).toEqual([422, "parts.0"]);
  });
});

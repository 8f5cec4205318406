import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import ICAL from "ical.js";
import Papa from "papaparse";
import { Webhook } from "standardwebhooks";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import { rehearsal } from "../support/rehearsal.ts";
import { asPerson } from "../support/server.ts";

/** From a lead to a customer, as an integrator goes it: by HTTP alone. */

const { server, api } = rehearsal();
let made = 0;

async function lead(more: Record<string, unknown> = {}): Promise<string> {
  const n = ++made;
  const { body } = await api.post("/leads", {
    name: `Rosa Lindqvist ${n}`,
    phone: `+1303555${String(100 + n).padStart(4, "0")}`,
    email: `rosa${n}@example.com`,
    route: false,
    ownerId: "p_mara",
    ...more,
  });
  return body.id;
}

const paths = (body: { errors?: { path: string }[] }) => (body.errors ?? []).map((e) => e.path);

/** The stages of the desk, with some of them changed. */
async function withStages(change: (stages: Record<string, unknown>[]) => Record<string, unknown>[]) {
  const { body } = await api.get("/setup/stages");
  return api.post("/setup/stages", { stages: change(body.stages), reasons: body.reasons });
}

describe("stages", () => {
  it("a move that lacks facts names them, answering them lets it through, and the answers are kept", async () => {
    const saved = await withStages((stages) =>
      stages.map((s) => (s.key === "Qualified" ? { ...s, asks: ["own.power", "postal_code"] } : s)),
    );
    expect(saved.status).toBe(200);
    const id = await lead();
    const refused = await api.post(`/leads/${id}/stage`, { stage: "Qualified" });
    expect(refused.status).toBe(409);
    expect(paths(refused.body)).toEqual(["own.power", "postal_code"]);
    expect(refused.body.detail).toContain("Power at the site");
    const half = await api.post(`/leads/${id}/stage`, {
      stage: "Qualified",
      answers: { "own.power": "240 V there" },
    });
    expect([half.status, paths(half.body)]).toEqual([409, ["postal_code"]]);
    // Refused as a whole: what came with it is not kept either.
    expect((await api.get(`/leads/${id}`)).body.facts.own).toEqual({});
    const wrong = await api.post(`/leads/${id}/stage`, {
      stage: "Qualified",
      answers: { "own.power": "lots", postal_code: "80301" },
    });
    expect([wrong.status, paths(wrong.body)]).toEqual([422, ["own.power"]]);
    const moved = await api.post(`/leads/${id}/stage`, {
      stage: "Qualified",
      answers: { "own.power": "240 v there", postal_code: "80301" },
    });
    expect(moved.status).toBe(200);
    expect(moved.body).toMatchObject({ stage: "Qualified", facts: { own: { power: "240 V there" } } });
    const undone = await api.post(`/leads/${id}/undo`, { actId: moved.body.actId });
    expect(undone.body.stage).toBe("Being tried");
    await withStages((stages) => stages.map((s) => (s.key === "Qualified" ? { ...s, asks: [] } : s)));
  });

  it("one with leads in it goes only with where they go, which their thread tells", async () => {
    await withStages((stages) => [...stages, { name: "Visited", kind: "open", of: "lead" }]);
    const id = await lead();
    expect((await api.post(`/leads/${id}/stage`, { stage: "visited" })).body.stage).toBe("Visited");
    const { body } = await api.get("/setup/stages");
    const without = body.stages.filter((s: { key: string }) => s.key !== "Visited");
    const refused = await api.post("/setup/stages", { stages: without, reasons: body.reasons });
    expect([refused.status, paths(refused.body)]).toEqual([409, ["moves.Visited"]]);
    expect(refused.body.detail).toContain("1 lead stands in “Visited”");
    const gone = await api.post("/setup/stages", {
      stages: without,
      reasons: body.reasons,
      moves: { Visited: "Talking" },
    });
    expect(gone.status).toBe(200);
    expect((await api.get(`/leads/${id}`)).body.stage).toBe("Talking");
    const { body: events } = await api.get(`/leads/${id}/events`);
    expect(events.items.map((e: { summary: string }) => e.summary)).toContain(
      "Visited → Talking: the stage is gone",
    );
  });

  it("an end asks for its reason; a closed lead is opened again with one", async () => {
    await withStages((stages) => [...stages, { key: "gone", name: "Gone", kind: "lost", of: "lead" }]);
    const id = await lead();
    const refused = await api.post(`/leads/${id}/stage`, { stage: "gone" });
    expect([refused.status, paths(refused.body)]).toEqual([409, ["reason"]]);
    const closed = await api.post(`/leads/${id}/stage`, { stage: "gone", reason: "No fit" });
    expect(closed.body).toMatchObject({ stage: "gone", closed: { reason: "No fit" } });
    expect((await api.post(`/leads/${id}/reopen`, { reason: " " })).status).toBe(422);
    const open = await api.post(`/leads/${id}/reopen`, { reason: "They called the showroom" });
    expect(open.body.closed).toBeNull();
    expect((await api.post(`/leads/${id}/reopen`, { reason: "again" })).status).toBe(409);
  });
});

describe("handing over", () => {
  it("makes company, contact and deal with what was open, offers the company to the next lead of its domain, and is undone", async () => {
    const id = await lead({
      company: "Granite Lodge LLC",
      email: "ana@granite-lodge.example",
      facts: { product: "lodge" },
    });
    await api.post(`/leads/${id}/notes`, { text: "Six units, the road is steep." });
    await api.post(`/leads/${id}/next-step`, {
      kind: "call",
      note: "Send drawings",
      dueAt: "2027-01-04T17:00:00Z",
    });
    await api.post(`/leads/${id}/questions/later`, { question: "Is there a permit?" });
    const { body: choice } = await api.get(`/leads/${id}/hand-over`);
    expect(choice.companies).toEqual([]);
    expect(choice.said).toMatchObject({ domain: "granite-lodge.example", value: 48_000 });
    const done = await api.post(`/leads/${id}/hand-over`, {
      company: { name: "Granite Lodge" },
      contact: {},
      deal: { name: "Six saunas", value: 51_250.5, expectedOn: "2026-05-04" },
    });
    expect(done.status).toBe(200);
    const { companyId, contactId, dealId, actId } = done.body;
    const deal = (await api.get(`/deals/${dealId}`)).body;
    expect(deal).toMatchObject({
      name: "Six saunas",
      value: 51_250.5,
      companyId,
      contactId,
      expectedOn: "2026-05-04",
      nextStep: { note: "Send drawings" },
      owner: { id: "p_mara" },
      source: "Walk-in, by hand",
    });
    expect(deal.taskList.map((t: { note: string }) => t.note)).toEqual(["Ask: Is there a permit?"]);
    expect(deal.thread.map((t: { said: string }) => t.said)).toContain("Note: Six units, the road is steep.");
    const company = (await api.get(`/companies/${companyId}`)).body;
    expect(company).toMatchObject({ domain: "granite-lodge.example", contacts: 1, deals: 1, leadIds: [id] });
    const contact = (await api.get(`/contacts/${contactId}`)).body;
    expect(contact.thread.some((t: { said: string }) => t.said.includes("the road is steep"))).toBe(true);
    expect((await api.get(`/leads/${id}`)).body).toMatchObject({
      stage: "Handed over",
      closed: { reason: "Handed over" },
      handedOver: { companyId, contactId, dealId },
    });
    expect((await api.post(`/leads/${id}/hand-over`, { contact: {} })).body.code).toBe("handed-over-already");

    const second = await lead({ company: "The Granite Lodge", email: "ben@granite-lodge.example" });
    const { body: offered } = await api.get(`/leads/${second}/hand-over`);
    expect(offered.companies[0]).toMatchObject({ id: companyId, name: "Granite Lodge" });
    expect(offered.companies[0].reasons).toContain("the same domain, granite-lodge.example");

    const undone = await api.post(`/leads/${id}/undo`, { actId });
    expect(undone.status).toBe(200);
    expect(undone.body).toMatchObject({
      stage: "Being tried",
      closed: null,
      handedOver: null,
      nextStep: { note: "Send drawings" },
    });
    expect(undone.body.tasks).toHaveLength(1);
    for (const path of [`/deals/${dealId}`, `/companies/${companyId}`, `/contacts/${contactId}`])
      expect((await api.get(path)).status).toBe(404);
    expect((await api.get(`/leads/${second}/hand-over`)).body.companies).toEqual([]);
  });

  it("can’t be taken back once somebody has worked on the deal", async () => {
    const id = await lead();
    const { body } = await api.post(`/leads/${id}/hand-over`, { contact: {}, deal: { value: 100 } });
    await api.post(`/deals/${body.dealId}`, { value: 120 });
    const undone = await api.post(`/leads/${id}/undo`, { actId: body.actId });
    expect([undone.status, undone.body.code]).toEqual([409, "too-late-to-undo"]);
    expect((await api.get(`/deals/${body.dealId}`)).body.value).toBe(120);
  });

  it("a contact is a vCard other programs read, and deals a table no spreadsheet runs", async () => {
    const id = await lead({ name: "Zoë O’Hara; “Inc”", company: "=HYPERLINK(1)" });
    const { body } = await api.post(`/leads/${id}/hand-over`, {
      company: { name: "=HYPERLINK(1)" },
      contact: {},
      deal: { name: "+1+1", value: 5 },
    });
    const card = await fetch(`${server().origin}/api/v1/contacts/${body.contactId}/card`, {
      headers: { authorization: "Bearer rehearsal" },
    });
    // Read by ical.js, which wrote none of it.
    const read = new ICAL.Component(ICAL.parse(await card.text()));
    expect(read.name).toBe("vcard");
    expect(read.getFirstPropertyValue("version")).toBe("4.0");
    expect(read.getFirstPropertyValue("fn")).toBe("Zoë O’Hara; “Inc”");
    expect(read.getFirstPropertyValue("email")).toMatch(/@example\.com$/);
    expect(String(read.getFirstPropertyValue("tel"))).toMatch(/^tel:\+1303555/);
    const table = await fetch(`${server().origin}/api/v1/deals/table`, {
      headers: { authorization: "Bearer rehearsal" },
    });
    const rows = Papa.parse<Record<string, string>>(await table.text(), {
      header: true,
      skipEmptyLines: true,
    });
    expect(rows.errors).toEqual([]);
    const row = rows.data.find((r) => r.id === body.dealId);
    expect([row?.name, row?.company]).toEqual(["'+1+1", "'=HYPERLINK(1)"]);
  });
});

describe("deals and the board", () => {
  it("sums equal a recount, a won deal asks why, makes a customer, and is taken back with it", async () => {
    const id = await lead();
    const { body } = await api.post(`/leads/${id}/hand-over`, { contact: {}, deal: { value: 6_800.25 } });
    const { body: board } = await api.get("/board");
    for (const column of board.columns) {
      expect(column.count).toBe(column.deals.length);
      const cents = column.deals.reduce(
        (sum: number, d: { value: number }) => sum + Math.round(d.value * 100),
        0,
      );
      expect(Math.round(column.sum * 100)).toBe(cents);
    }
    const refused = await api.post(`/deals/${body.dealId}`, { stage: "Won" });
    expect([refused.status, paths(refused.body)]).toEqual([409, ["reason"]]);
    const won = await api.post(`/deals/${body.dealId}`, { stage: "Won", reason: "Signed" });
    expect(won.body.closed).toMatchObject({ kind: "won", reason: "Signed" });
    expect((await api.get(`/leads/${id}`)).body.customer).not.toBeNull();
    expect((await api.get(`/contacts/${body.contactId}`)).body.customerSince).not.toBeNull();
    // What follows of it by itself, here the first tasks of a cadence for customers, is taken back with it.
    await vi.waitFor(async () => expect((await api.get(`/leads/${id}`)).body.tasks).toHaveLength(2), {
      timeout: 30_000,
      interval: 100,
    });
    const back = await api.post(`/deals/${body.dealId}/undo`, { actId: won.body.actId });
    expect(back.body).toMatchObject({ closed: null });
    const after = (await api.get(`/leads/${id}`)).body;
    expect([after.customer, after.tasks]).toEqual([null, []]);
    expect((await api.get(`/contacts/${body.contactId}`)).body.customerSince).toBeNull();
  });

  it("of two who move a deal at once, the second is told where it is", async () => {
    const id = await lead();
    const { body } = await api.post(`/leads/${id}/hand-over`, { contact: {}, deal: {} });
    const from = (await api.get(`/deals/${body.dealId}`)).body.stage;
    expect((await api.post(`/deals/${body.dealId}`, { stage: "Priced", fromStage: from })).status).toBe(200);
    const late = await api.post(`/deals/${body.dealId}`, { stage: "Deciding", fromStage: from });
    expect([late.status, late.body.code]).toEqual([409, "moved-meanwhile"]);
    expect(late.body.detail).toContain("Priced");
  });

  it("companies are joined and taken apart again; a deal of one is found at the other", async () => {
    const one = await lead({ company: "Cedar Inn" });
    const two = await lead({ company: "Cedar Inn Ltd" });
    const a = (await api.post(`/leads/${one}/hand-over`, { company: {}, contact: {}, deal: {} })).body;
    const b = (await api.post(`/leads/${two}/hand-over`, { company: {}, contact: {}, deal: {} })).body;
    expect((await api.get(`/companies/${a.companyId}`)).body.likely[0].id).toBe(b.companyId);
    await api.post(`/companies/${a.companyId}/join`, { with: b.companyId });
    const joined = (await api.get(`/companies/${a.companyId}`)).body;
    expect([joined.deals, joined.contacts, joined.leadIds.length]).toEqual([2, 2, 2]);
    expect((await api.get(`/companies/${b.companyId}`)).body.id).toBe(a.companyId);
    await api.post(`/companies/${a.companyId}/part`, { from: b.companyId });
    const apart = (await api.get(`/companies/${a.companyId}`)).body;
    expect([apart.deals, apart.contacts, apart.leadIds]).toEqual([1, 1, [one]]);
    expect((await api.get(`/companies/${b.companyId}`)).body.deals).toBe(1);
  });
});

describe("other systems", () => {
  const got: { headers: Record<string, string>; body: string }[] = [];
  let failing = 1;
  let receiver: Server;
  let url = "";
  beforeAll(async () => {
    receiver = createServer((request, response) => {
      let body = "";
      request.on("data", (part) => {
        body += part;
      });
      request.on("end", () => {
        got.push({ headers: request.headers as Record<string, string>, body });
        response.statusCode = failing-- > 0 ? 500 : 200;
        response.setHeader("content-type", "application/json");
        response.end(JSON.stringify({ id: "THEIRS-77" }));
      });
    });
    await new Promise<void>((ready) => receiver.listen(0, "127.0.0.1", ready));
    url = `http://127.0.0.1:${(receiver.address() as AddressInfo).port}/in`;
  });
  afterAll(() => {
    receiver.close();
  });

  it("are told with a signature, again after a 500 under the same id, and what they call it is kept", async () => {
    const saved = await api.post("/setup/hooks", { name: "Ledger", url, events: ["lead.handed-over"] });
    expect(saved.status).toBe(200);
    const { secret } = saved.body;
    expect((await api.get("/setup/hooks")).body.secret).toBeNull();
    const id = await lead({ company: "Birch House" });
    const { body } = await api.post(`/leads/${id}/hand-over`, {
      company: {},
      contact: {},
      deal: { value: 12_000 },
    });
    await api.post("/rehearsal/clock", { advance: "PT30S" });
    expect(got).toHaveLength(2);
    expect(got[0]!.headers["webhook-id"]).toBe(got[1]!.headers["webhook-id"]);
    for (const { headers, body: sent } of got) {
      const told = new Webhook(secret).verify(sent, headers) as {
        type: string;
        data: { deal: { id: string; value: number }; company: { name: string } };
      };
      expect(told).toMatchObject({
        type: "lead.handed-over",
        data: { deal: { id: body.dealId, value: 12_000 }, company: { name: "Birch House" } },
      });
    }
    const { body: deliveries } = await api.get(`/hooks/deliveries?deal=${body.dealId}`);
    expect(deliveries.items).toMatchObject([
      { state: "delivered", attempts: 2, status: 200, hook: "Ledger" },
    ]);
    expect((await api.get(`/deals/${body.dealId}`)).body.theirs).toEqual({ Ledger: "THEIRS-77" });
    await api.post(`/hooks/deliveries/${deliveries.items[0].id}/resend`);
    await api.post("/rehearsal/clock", { advance: "PT1S" });
    expect(got[2]?.headers["webhook-id"]).toBe(got[0]!.headers["webhook-id"]);
  });

  it("get a list at its time, signed, as JSON whatever form was asked for", async () => {
    const { secret, hooks } = (await api.post("/setup/hooks", { name: "Sheets", url, events: ["deal.won"] }))
      .body;
    const hook = hooks.find((h: { name: string }) => h.name === "Sheets").id as string;
    const where = { all: [{ field: "company", is: "equal", value: "Birch House" }] };
    const kept = (
      await api.post("/lists", { name: "Birches", where, columns: ["name", "company"], shared: "desk" })
    ).body;
    const sends = `/lists/${kept.id}/sends`;
    const admin = asPerson(() => server().origin);
    const added = await admin("p_oskar", "POST", sends, {
      to: { kind: "hook", id: hook },
      format: "csv",
      time: "00:00",
    });
    expect([added.status, added.body.format]).toEqual([201, "json"]);
    const before = got.length;
    await api.post("/rehearsal/clock", { advance: "P1D" });
    const mine = got.slice(before).filter(({ body }) => body.includes("Birches"));
    expect(mine).toHaveLength(1);
    const told = new Webhook(secret).verify(mine[0]!.body, mine[0]!.headers) as {
      type: string;
      data: { list: { name: string }; items: { company: string }[]; cut: boolean };
    };
    const { count } = (await api.get(`/leads?list=${kept.id}`)).body;
    expect(told).toMatchObject({ type: "list", data: { list: { name: "Birches" }, cut: false } });
    expect(told.data.items.map((i) => i.company)).toEqual(Array.from({ length: count }, () => "Birch House"));
    expect((await admin("p_oskar", "GET", sends)).body.items[0].said).toBe(`${count} lead to Sheets.`);
  });
});

describe("estimates", () => {
  it("are worked out, numbered, printed, sent, and answered by the lead without an account", async () => {
    const sheets = (await api.get("/setup/worksheets")).body;
    const check = {
      name: "Fix and sell",
      inputs: [
        { key: "worth", name: "Worth after", type: "money" },
        { key: "share", name: "Share", type: "percent" },
        { key: "repairs", name: "Repairs", type: "money" },
        { key: "fee", name: "Fee", type: "money" },
      ],
      lines: [{ key: "offer", name: "Offer", formula: "worth * share - repairs - fee" }],
      total: "offer",
    };
    await api.post("/setup/worksheets", { worksheets: [...sheets.worksheets, check] });
    const id = await lead();
    const order = {
      worksheet: "Fix and sell",
      inputs: { worth: "140,000", share: 65, repairs: 40_000, fee: "10000" },
    };
    const estimate = await api.post(`/leads/${id}/estimates`, order);
    expect(estimate.status).toBe(201);
    // Common practice: 140,000 × 65 % − 40,000 − 10,000.
    expect(estimate.body.total).toBe(41_000);
    expect(estimate.body.number).toBe("1001");
    const missing = await api.post(`/leads/${id}/estimates`, { ...order, inputs: { worth: "x" } });
    expect([missing.status, paths(missing.body)[0]]).toEqual([422, "inputs.worth"]);
    const next = await api.post(`/leads/${id}/estimates`, { ...order, replaces: estimate.body.id });
    expect([next.body.number, next.body.version]).toEqual(["1001", 2]);
    const pdf = await fetch(server().origin + next.body.pdf, {
      headers: { authorization: "Bearer rehearsal" },
    });
    expect(Buffer.from(await pdf.arrayBuffer()).toString("latin1", 0, 5)).toBe("%PDF-");

    expect((await api.post(`/estimates/${estimate.body.id}/send`, {})).body.code).toBe("not-to-be-sent");
    const sent = await api.post(`/estimates/${next.body.id}/send`, { body: "Here it is: {estimate}" });
    expect(sent.status).toBe(200);
    expect(sent.body.nextStep.note).toBe("Follow up on the estimate");
    await api.post("/rehearsal/clock", { advance: "PT1M" });
    const { body: outside } = await api.get("/rehearsal/outside?channel=email&limit=500");
    const mail = outside.items.findLast(
      (m: { subject: string }) => m.subject === "Estimate 1001 from Tarnholt Bathworks",
    );
    expect(mail.files).toEqual([{ name: "estimate-1001-2.pdf", size: expect.any(Number) }]);
    // Links of ours tell when they are opened: the short one leads on.
    const short: string = /https?:\/\/\S+\/l\/[\w-]+/.exec(mail.body)![0];
    const opened = await fetch(`${server().origin}${new URL(short).pathname}`, { redirect: "manual" });
    const page = `${server().origin}${new URL(opened.headers.get("location") ?? "", server().origin).pathname}`;
    const seen = await (await fetch(page)).text();
    expect({ page, shows: seen.includes("$41,000") }).toEqual({ page, shows: true });
    expect((await fetch(page.slice(0, -3))).status).toBe(404);
    const answer = (fields: Record<string, string>) =>
      fetch(page, {
        method: "POST",
        body: new URLSearchParams(fields),
        headers: { origin: server().origin },
      });
    expect(await (await answer({ do: "accept", name: "Rosa L." })).text()).toContain("accepted it");
    // The first answer counts.
    expect(await (await answer({ do: "decline", name: "Somebody" })).text()).toContain("Rosa L. accepted it");
    const after = (await api.get(`/leads/${id}`)).body;
    expect(after.replyWaiting).not.toBeNull();
    expect((await api.get(`/estimates/${next.body.id}`)).body).toMatchObject({
      state: "accepted",
      answered: { name: "Rosa L." },
    });
  });
});

describe("questions to colleagues", () => {
  it("stay open until answered, and are found by whoever is asked", async () => {
    const id = await lead();
    const asked = await api.post(`/leads/${id}/notes`, { text: "@Greta may I go to 8 %?", asks: true });
    expect(asked.status).toBe(201);
    expect(asked.body.asked).toMatchObject([{ to: ["p_greta"] }]);
    const { noteId } = asked.body.asked[0];
    const nobody = await api.post(`/leads/${id}/notes`, { text: "May I?", asks: true });
    expect(nobody.status).toBe(422);
    const mended = await api.post(`/leads/${id}/notes/${noteId}`, { text: "@Greta may I go to 6 %?" });
    expect(mended.body.asked[0].text).toContain("6 %");
    const answered = await api.post(`/leads/${id}/notes/${noteId}/answer`, { text: "Yes." });
    expect(answered.body.asked).toEqual([]);
    expect((await api.post(`/leads/${id}/notes/${noteId}/answer`, { text: "Yes." })).status).toBe(409);
  });
});

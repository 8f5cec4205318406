import { Webhook } from "standardwebhooks";
import { describe, expect, it } from "vitest";
import { rehearsal, WEDNESDAY_NINE } from "../support/rehearsal.ts";

/** The HTTP contract, from outside and by it alone. The demo company’s hours: Mon–Fri 8–18 in Denver. */

const { server, api } = rehearsal({ fresh: true });

const MINUTE = 60_000;

let n = 0;
const somebody = (more: object = {}) => {
  n++;
  return {
    name: `Ana Ruiz${n}`,
    email: `ana${n}@example.com`,
    phone: `(303) 555-${String(100 + n).padStart(4, "0")}`,
    product: "barrel",
    submission_id: `s-${n}`,
    ...more,
  };
};
const inquire = async (more: object = {}) =>
  (await api.post("/intake/plan-your-sauna", somebody(more))).body.leadId as string;
const lead = async (id: string) => (await api.get(`/leads/${id}`)).body;
const events = async (id: string) =>
  (await api.get(`/leads/${id}/events`)).body.items as {
    kind: string;
    at: string;
    why?: { steps: unknown[] };
  }[];
const count = async (id: string, kind: string) => (await events(id)).filter((e) => e.kind === kind).length;
const outside = async (channel: string) =>
  (await api.get(`/rehearsal/outside?channel=${channel}`)).body.items as {
    to: string;
    body: string;
    url?: string;
    headers?: Record<string, string>;
  }[];

describe("an inquiry by the contract", () => {
  it("waits with a bell five open minutes on; one text and one email stand outside; six minutes later it has rung once, with a chat alert", async () => {
    const sent = somebody();
    const answer = await api.post("/intake/plan-your-sauna", sent);
    expect(answer).toMatchObject({ status: 202, body: { matched: "new", quarantined: false } });
    const id = answer.body.leadId;
    const waiting = await lead(id);
    expect(waiting.bell).toMatchObject({ state: "waiting", answeredAt: null, rangAt: null });
    expect(Date.parse(waiting.bell.dueAt) - Date.parse(waiting.bell.startedAt)).toBe(300_000);
    expect(waiting.handOff).toMatchObject({ state: "offered" });
    await api.post("/rehearsal/clock", { advance: "PT1S" });
    const [texts, mails] = await Promise.all([outside("text"), outside("email")]);
    expect(texts.filter((m) => m.to === waiting.phones[0])).toHaveLength(1);
    expect(mails.filter((m) => m.to === waiting.emails[0])).toHaveLength(1);
    expect(mails[0]!.body).toContain("Hi Ana,");
    // RFC 3834: automatic answers say so.
    expect(mails[0]!.headers).toMatchObject({ "auto-submitted": "auto-replied" });
    expect(waiting.tries).toBe(0);
    await api.post("/rehearsal/clock", { advance: "PT6M" });
    expect((await lead(id)).bell.state).toBe("rung");
    expect(await count(id, "rang")).toBe(1);
    expect(
      (await outside("chat")).filter((m) => m.to === "#lead-desk" && m.body.includes("Rung")),
    ).toHaveLength(1);
  });

  it("is answered by a try and never rings", async () => {
    const id = await inquire();
    const tried = await api.post(`/leads/${id}/tries`, {
      personId: "p_mara",
      channel: "call",
      outcome: "voicemail",
    });
    expect(tried).toMatchObject({
      status: 201,
      body: { tries: 1, bell: { state: "answered" }, ownerId: "p_mara" },
    });
    // Voicemail on Wednesday: again in three days, not on a weekend.
    expect(tried.body.nextStep).toMatchObject({
      kind: "call",
      dueAt: expect.stringMatching(/^2026-03-09T15:00/),
    });
    await api.post("/rehearsal/clock", { advance: "P2D" });
    expect(await count(id, "rang")).toBe(0);
  });

  it("that comes at 17:58 rings at 8:03 the next open day", async () => {
    await api.post("/rehearsal/clock", { to: "2026-03-06T17:58:00-07:00" });
    const id = await inquire();
    const { dueAt: due, startedAt } = (await lead(id)).bell as { dueAt: string; startedAt: string };
    // Friday evening; the desk is open on Saturday from 9 to 13. What was left of the five minutes at six is left at nine.
    const open = Date.parse("2026-03-06T18:00:00-07:00") - Date.parse(startedAt);
    expect(Date.parse(due)).toBe(Date.parse("2026-03-07T09:00:00-07:00") + 5 * MINUTE - open);
    await api.post("/rehearsal/clock", { advance: "P1D" });
    const rang = (await events(id)).filter((e) => e.kind === "rang");
    expect(rang.map((e) => e.at)).toEqual([due]);
  });

  it("a night over a lead of 17:58 on a Wednesday ends at 8:03 on Thursday", async () => {
    await api.post("/rehearsal/clock", { to: "2026-03-05T00:58:00Z" });
    const id = await inquire();
    const { dueAt, startedAt } = (await lead(id)).bell as { dueAt: string; startedAt: string };
    const due = Date.parse(dueAt);
    const open = Date.parse("2026-03-04T18:00:00-07:00") - Date.parse(startedAt);
    expect(due).toBe(Date.parse("2026-03-05T08:00:00-07:00") + 5 * MINUTE - open);
    await api.post("/rehearsal/clock", { to: new Date(due - MINUTE).toISOString() });
    expect((await lead(id)).bell.state).toBe("waiting");
    await api.post("/rehearsal/clock", { to: new Date(due).toISOString() });
    expect((await lead(id)).bell.state).toBe("rung");
  });

  it("is one lead from the same phone in two spellings, one inquiry from the same submission twice", async () => {
    const first = await api.post("/intake/plan-your-sauna", {
      name: "Ana",
      phone: "303-555-0188",
      submission_id: "a",
    });
    const second = await api.post("/intake/plan-your-sauna", {
      phone: "+1 (303) 555.0188",
      submission_id: "b",
    });
    const again = await api.post("/intake/plan-your-sauna", {
      phone: "+1 (303) 555.0188",
      submission_id: "b",
    });
    expect(second.body).toMatchObject({ leadId: first.body.leadId, matched: "sure" });
    expect(again.body).toEqual(second.body);
    expect((await lead(first.body.leadId)).inquiries).toBe(2);
  });
});

describe("hand-offs", () => {
  it("ten inquiries fall evenly on those on duty, differing by one at most", async () => {
    const ids: string[] = [];
    for (let i = 0; i < 10; i++) ids.push(await inquire());
    const turns: Record<string, number> = {};
    for (const id of ids) {
      const [to] = (await lead(id)).handOff.to;
      turns[to] = (turns[to] ?? 0) + 1;
    }
    const counts = Object.values(turns);
    expect(Math.max(...counts) - Math.min(...counts)).toBeLessThanOrEqual(1);
    expect((await events(ids[0]!)).find((e) => e.kind === "offered")?.why?.steps.length).toBeGreaterThan(3);
  });
  it("a pass goes to another person", async () => {
    const id = await inquire();
    const [first] = (await lead(id)).handOff.to;
    const passed = await api.post(`/leads/${id}/pass`, { personId: first, reason: "Driving" });
    expect(passed.status).toBe(200);
    expect(passed.body.handOff.to).not.toContain(first);
  });
  it("two taking at the same instant: one has it, the other is told who", async () => {
    const id = await inquire();
    const answers = await Promise.all(
      ["p_mara", "p_idris"].map((personId) => api.post(`/leads/${id}/take`, { personId })),
    );
    expect(answers.map((a) => a.status).sort()).toEqual([200, 409]);
    const late = answers.find((a) => a.status === 409)!;
    expect(late.type).toContain("application/problem+json");
    expect(late.body.detail).toMatch(/(Mara Whitehorse|Idris Bell-Hassan) has this lead already/);
  });
  it("are moved by hand to people and groups", async () => {
    const id = await inquire();
    expect((await api.post(`/leads/${id}/give`, { to: "p_noor", reason: "Spanish" })).body).toMatchObject({
      ownerId: "p_noor",
    });
    expect(
      (await api.post(`/leads/${id}/give`, { to: "g_lodges", reason: "An inn" })).body.handOff.state,
    ).toBe("offered");
  });
  it("the link in the notification takes the lead from a phone, once, for its person", async () => {
    const id = await inquire();
    await api.post("/rehearsal/clock", { advance: "PT1S" });
    const link = (await outside("chat")).find((m) => m.url?.includes("/t/"))!.url!;
    const page = await (await fetch(link)).text();
    expect(page).toContain("Ana Ruiz");
    const form = { method: "POST", headers: { "content-type": "application/x-www-form-urlencoded" } };
    expect(await (await fetch(link, { ...form, body: "do=take" })).text()).toContain("you have this lead");
    const [to] = (await lead(id)).handOff.to;
    expect((await lead(id)).ownerId).toBe(to);
    // Once it is somebody else's, the link says so and does nothing.
    await api.post(`/leads/${id}/give`, { to: "p_hanne", reason: "by hand" });
    expect(await (await fetch(link, { ...form, body: "do=take" })).text()).toContain(
      "Hanne Delacroix has it now",
    );
    expect((await lead(id)).ownerId).toBe("p_hanne");
    expect((await fetch(`${link}x`)).status).toBe(404);
  });
});

describe("sources", () => {
  const signed = async (
    key: string,
    body: string,
    { at = new Date(), secret }: { at?: Date; secret?: string } = {},
  ) => {
    const sources = (await api.get("/sources")).body.items as { key: string; signingSecret?: string }[];
    const webhook = new Webhook(secret ?? sources.find((s) => s.key === key)!.signingSecret!);
    const headers = {
      "content-type": "application/json",
      "webhook-id": "msg_1",
      "webhook-timestamp": String(Math.floor(at.getTime() / 1000)),
      "webhook-signature": webhook.sign("msg_1", at, body),
    };
    return api.post(`/intake/${key}`, body, headers);
  };
  const delivery = JSON.stringify({
    submission_id: "x1",
    form_id: "f",
    created_at: WEDNESDAY_NINE,
    answers: [
      { field: "full_name", value: "Ravi Lodge" },
      { field: "phone_number", value: "802 555 0144" },
    ],
  });

  it("take a signed delivery, also one signed by the rehearsal's clock", async () => {
    const made = await signed("ad-lodge", delivery);
    expect(made.status).toBe(202);
    expect(await lead(made.body.leadId)).toMatchObject({
      name: "Ravi Lodge",
      phones: ["+18025550144"],
      facts: { product: "lodge" },
    });
    expect((await signed("ad-lodge", delivery, { at: new Date(WEDNESDAY_NINE) })).status).toBe(202);
  });
  it("refuse a wrong or stale signature and keep nothing", async () => {
    expect(
      (await signed("ad-lodge", delivery, { secret: `whsec_${Buffer.alloc(24, 1).toString("base64")}` }))
        .status,
    ).toBe(401);
    expect((await signed("ad-lodge", delivery, { at: new Date(Date.now() - 3_600_000) })).status).toBe(401);
    expect((await api.post("/intake/ad-lodge", delivery)).status).toBe(401);
    expect((await api.get("/leads")).body.items).toEqual([]);
    expect((await api.get("/quarantine")).body.items).toEqual([]);
  });
  it("take form-encoded and multipart posts", async () => {
    const form = await api.post("/intake/plan-your-sauna", "name=Ana+Ruiz&phone=303+555+0123", {
      "content-type": "application/x-www-form-urlencoded",
    });
    expect(form).toMatchObject({ status: 202, body: { matched: "new" } });
    const data = new FormData();
    data.set("phone", "303 555 0124");
    const response = await fetch(`${server().origin}/api/v1/intake/plan-your-sauna`, {
      method: "POST",
      body: data,
    });
    expect(await response.json()).toMatchObject({ matched: "new" });
  });
  it("quarantine what nobody could be reached by, with its reason", async () => {
    const garbage = await api.post("/intake/plan-your-sauna", "{{{{", { "content-type": "application/json" });
    expect(garbage).toMatchObject({ status: 202, body: { quarantined: true, leadId: null } });
    const [kept] = (await api.get("/quarantine")).body.items;
    expect(kept).toMatchObject({
      id: garbage.body.inquiryId,
      raw: "{{{{",
      reason: expect.stringContaining("could not be read"),
    });
    expect((await api.post(`/quarantine/${kept.id}/replay`)).body).toMatchObject({ quarantined: true });
  });
  it("refuse what weighs more than 1 MB, and what has no source", async () => {
    expect((await api.post("/intake/plan-your-sauna", `"${"x".repeat(1_048_576)}"`)).status).toBe(413);
    expect((await api.post("/intake/nowhere", {})).status).toBe(404);
  });
});

describe("errors and repeats", () => {
  it("are problem documents that name the field", async () => {
    const id = await inquire();
    const wrong = await api.post(`/leads/${id}/tries`, { channel: "pigeon" });
    expect(wrong).toMatchObject({
      status: 422,
      type: "application/problem+json",
      body: { type: "about:blank", status: 422, title: expect.any(String), detail: expect.any(String) },
    });
    expect(wrong.body.errors.map((e: { path: string }) => e.path).sort()).toEqual([
      "channel",
      "outcome",
      "personId",
    ]);
    expect((await api.post("/leads", { company: "Nobody Ltd" })).body.errors[0].path).toBe("phone");
    expect(
      (await api.post(`/leads/${id}/take`, "nonsense", { "content-type": "application/json" })).status,
    ).toBe(400);
    expect((await api.get("/leads/lead_none")).status).toBe(404);
    expect((await api.get("/nowhere")).status).toBe(404);
    expect((await api.get("/leads", { authorization: "Bearer wrong" })).status).toBe(401);
  });
  it("a writing call with the same Idempotency-Key is done once", async () => {
    const body = { phone: "303 555 0155", note: "Walked in" };
    const first = await api.post("/leads", body, { "idempotency-key": "once" });
    const second = await api.post("/leads", body, { "idempotency-key": "once" });
    expect(first.status).toBe(201);
    expect(second.body).toEqual(first.body);
    expect((await lead(first.body.id)).inquiries).toBe(1);
  });
  it("a lead by hand can be routed, kept or given", async () => {
    const routed = await api.post("/leads", { phone: "303 555 0101", route: true });
    expect(routed.body.handOff.state).toBe("offered");
    expect((await api.post("/leads", { phone: "303 555 0102", ownerId: "p_noor" })).body.ownerId).toBe(
      "p_noor",
    );
    expect((await api.post("/leads", { phone: "303 555 0103", route: false })).body).toMatchObject({
      ownerId: null,
      listed: { reason: "entered without routing" },
    });
  });
  it("time only moves forward once something has happened", async () => {
    expect((await api.post("/rehearsal/clock", { to: "2026-03-01T00:00:00Z" })).status).toBe(200);
    await api.post("/rehearsal/clock", { to: WEDNESDAY_NINE });
    await inquire();
    expect((await api.post("/rehearsal/clock", { to: "2026-03-01T00:00:00Z" })).status).toBe(422);
    expect((await api.post("/rehearsal/clock", { advance: "six minutes" })).status).toBe(422);
  });
});

describe("what is said of itself", () => {
  it("the live stream tells what changes, and what was missed by Last-Event-ID", async () => {
    const read = async (headers: Record<string, string>, until: (text: string) => boolean) => {
      const stop = new AbortController();
      const response = await fetch(`${server().origin}/api/v1/live`, { headers, signal: stop.signal });
      expect(response.headers.get("content-type")).toBe("text/event-stream");
      let text = "";
      const reader = response.body!.getReader();
      while (!until(text)) text += Buffer.from((await reader.read()).value ?? []);
      stop.abort();
      return text;
    };
    const id = await inquire();
    const missed = await read(
      { "last-event-id": "0" },
      (t) => t.includes(id) && /id: \d+\nevent: lead/.test(t),
    );
    expect(missed).toContain("event: lead");
    const live = read({}, (t) => t.includes("tried"));
    await api.post(`/leads/${id}/tries`, { personId: "p_mara", channel: "call", outcome: "busy" });
    expect(await live).toContain(id);
  });
});

describe("a list whose file is not kept", () => {
  it.each(["check", ""])("is refused by name when it is to be loaded: imports/%s", async (what) => {
    const { items } = (await api.get("/sources")).body;
    const sourceId = items.find((s: { channel: string }) => s.channel === "spreadsheet").id;
    const list = { fileId: "gone", name: "list.csv", sourceId, fields: {}, tags: [], route: false, total: 1 };
    const { status, body } = await api.post(`/imports${what && `/${what}`}`, list);
    expect([status, body.code]).toEqual([404, "no-such-file"]);
  });
});

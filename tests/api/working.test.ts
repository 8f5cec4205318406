import { describe, expect, it } from "vitest";
import { rehearsal } from "../support/rehearsal.ts";

/** What a day's work does over HTTP: calls that count while they last, texts of our own people, being somebody else. */

const { server, api } = rehearsal({ fresh: true });

const inquire = async (phone = "303 555 0101") =>
  (await api.post("/intake/plan-your-sauna", { name: "Ana Ruiz", phone, product: "barrel" })).body
    .leadId as string;
const lead = async (id: string) => (await api.get(`/leads/${id}`)).body;
const kinds = async (id: string) =>
  ((await api.get(`/leads/${id}/events?limit=200`)).body.items as { kind: string }[]).map((e) => e.kind);
const forward = (by: string) => api.post("/rehearsal/clock", { advance: by });
async function as(person: string, path: string, body: object) {
  const response = await fetch(`${server().origin}/api/v1${path}`, {
    method: "POST",
    headers: { "content-type": "application/json", cookie: `kb_me=${person}` },
    body: JSON.stringify(body),
  });
  return { status: response.status, body: await response.json(), cookie: response.headers.get("set-cookie") };
}

describe("a call placed from the desk", () => {
  it("counts from the moment it is placed: nothing rings, nudges or goes on while it is talked and its outcome chosen", async () => {
    const id = await inquire();
    const [offered] = (await lead(id)).handOff.to;
    const placed = await as(offered, "/calls", { leadId: id });
    expect(placed.status).toBe(201);
    expect((await lead(id)).engaged).toMatchObject({ personId: offered, how: "call" });
    await api.post("/rehearsal/phone", { callId: placed.body.id, does: "answer" });
    await forward("PT30M");
    const meanwhile = await kinds(id);
    for (const kind of ["nudged", "rang", "lapsed", "stood-by", "climbed"])
      expect(meanwhile).not.toContain(kind);
    await api.post("/rehearsal/phone", { callId: placed.body.id, does: "hang-up" });
    await forward("PT5M");
    expect(await kinds(id)).not.toContain("rang");
    const logged = await as(offered, `/leads/${id}/tries`, {
      personId: offered,
      channel: "call",
      outcome: "voicemail",
      callId: placed.body.id,
    });
    expect(logged.body).toMatchObject({ engaged: null, tries: 1, bell: { state: "answered" } });
  });
  it("whose outcome nobody says hides the lead for a stated while, and no longer", async () => {
    const id = await inquire();
    const [offered] = (await lead(id)).handOff.to;
    const placed = await as(offered, "/calls", { leadId: id });
    await api.post("/rehearsal/phone", { callId: placed.body.id, does: "no-answer" });
    await forward("PT9M");
    expect(await kinds(id)).not.toContain("rang");
    await forward("PT2M");
    expect(await kinds(id)).toContain("rang");
  });
  it("that is put aside as no try is none: what was due happens", async () => {
    const id = await inquire();
    const [offered] = (await lead(id)).handOff.to;
    const placed = await as(offered, "/calls", { leadId: id });
    await api.post("/rehearsal/phone", { callId: placed.body.id, does: "busy" });
    await forward("PT8M");
    await as(offered, `/calls/${placed.body.id}/done`, {});
    await forward("PT1S");
    expect(await kinds(id)).toContain("rang");
  });
  it("and so does writing by hand, for a quarter of an hour at most", async () => {
    const id = await inquire();
    const draft = (body: string) =>
      api.post(`/leads/${id}/draft`, { channel: "email", subject: "", body, templateId: null });
    await draft("Dear Ana");
    expect((await lead(id)).engaged).toMatchObject({ how: "writing" });
    for (let minute = 0; minute < 14; minute += 2) {
      await forward("PT2M");
      await draft(`Dear Ana, ${minute}`);
    }
    expect(await kinds(id)).not.toContain("rang");
    await forward("PT2M");
    await draft("Dear Ana, still");
    await forward("PT1M");
    expect(await kinds(id)).toContain("rang");
    const other = await inquire("303 555 0102");
    await api.post(`/leads/${other}/draft`, { channel: "email", subject: "", body: "Hm", templateId: null });
    await api.post(`/leads/${other}/draft`, { channel: "email", subject: "", body: "", templateId: null });
    expect((await lead(other)).engaged).toBeNull();
  });
});

describe("our own people", () => {
  const mara = async () =>
    (await api.get("/people")).body.items.find((p: { id: string }) => p.id === "p_mara") as {
      phone: string;
      email: string;
    };
  const texts = async (to: string) =>
    ((await api.get("/rehearsal/outside?channel=text")).body.items as { to: string; body: string }[]).filter(
      (m) => m.to === to,
    );

  it("who text something else than a command get help, make no lead, and stand where the coordinator sees it", async () => {
    const { phone } = await mara();
    await api.post("/rehearsal/text", { from: phone, to: "+17205550102", body: "Running late, sorry" });
    await forward("PT0S");
    expect((await api.get("/leads")).body.items).toEqual([]);
    expect((await texts(phone)).map((m) => m.body)).toEqual([
      expect.stringContaining("Text 1 to take the lead"),
    ]);
    const [held] = (await api.get("/quarantine")).body.items;
    expect(held).toMatchObject({
      insistable: true,
      reason: expect.stringContaining("texted “Running late, sorry”: one of us"),
    });
  });
  it("who text 1 with nothing offered are told so", async () => {
    const { phone } = await mara();
    await api.post("/rehearsal/text", { from: phone, to: "+17205550102", body: "1" });
    await forward("PT0S");
    expect((await texts(phone)).map((m) => m.body)).toEqual([
      expect.stringContaining("Nothing is offered to you just now"),
    ]);
    expect((await api.get("/leads")).body.items).toEqual([]);
  });
  it("who write or forward a mail become no lead, nor the lead whose mail they answer", async () => {
    const { email } = await mara();
    const mail = { to: "hello@tarnholt.example", subject: "Fwd: a sauna", body: "See below" };
    await api.post("/rehearsal/email", { ...mail, from: email });
    expect((await api.get("/leads")).body.items).toEqual([]);
    const [held] = (await api.get("/quarantine")).body.items;
    expect(held.reason).toContain("wrote this mail: one of us, and no lead");
    // Somebody may insist: it may be a friend's question in their words.
    expect(
      (await api.post(`/quarantine/${held.id}/replay?insisted=true`, { insisted: true })).body.quarantined,
    ).toBe(false);
  });
});

describe("in rehearsal", () => {
  it("whoever has become a salesperson becomes anybody else again", async () => {
    const there = await as("p_ines", "/rehearsal/me", { personId: "p_mara" });
    expect([there.status, there.cookie]).toEqual([200, expect.stringContaining("kb_me=p_mara")]);
    const back = await as("p_mara", "/rehearsal/me", { personId: "p_ines" });
    expect([back.status, back.cookie]).toEqual([200, expect.stringContaining("kb_me=p_ines")]);
    expect((await as("p_mara", "/rehearsal/me", { personId: "p_nobody" })).status).toBe(422);
  });
});

describe("a number that can't be read", () => {
  it("is said while it is written, stands on the lead, and is forgotten when somebody says so", async () => {
    const fields = { name: "Bo Lindqvist", phone: "12345", email: "bo@example.com" };
    expect((await api.post("/leads/match", { fields })).body.unread).toEqual(["12345"]);
    const { id } = (await api.post("/leads", { facts: fields, route: false })).body;
    expect((await lead(id)).facts.unread).toEqual(["12345"]);
    await api.post(`/leads/${id}/facts`, { phones: [{ number: "303 555 0177" }], unread: [] });
    expect(await lead(id)).toMatchObject({ phones: ["+13035550177"], facts: { unread: [] } });
  });
  it("in a list is shown before it is loaded", async () => {
    const text = "Name,Phone,Email\nCleo Marsh,555-01,cleo@example.com\nDan Otto,303 555 0188,\n";
    const file = await fetch(`${server().origin}/api/v1/imports/preview?name=fair.csv`, {
      method: "POST",
      headers: { "content-type": "text/csv" },
      body: text,
    });
    const { fileId, fields } = await file.json();
    const lists = (await api.get("/sources")).body.items as { id: string; channel: string }[];
    const sourceId = lists.find((s) => s.channel === "spreadsheet")!.id;
    const check = await api.post("/imports/check", { fileId, sourceId, fields, tags: [], route: false });
    expect(check.body).toMatchObject({
      fresh: 2,
      rejected: 0,
      unread: 1,
      unreadRows: [{ row: 1, who: "Cleo Marsh", said: ["555-01"] }],
    });
  });
});

describe("two people in one lead", () => {
  it("see each other there until one leaves", async () => {
    const id = await inquire("303 555 0131");
    expect((await as("p_ines", `/leads/${id}/here`, { here: true })).body).toEqual({ others: [] });
    const second = await as("p_greta", `/leads/${id}/here`, { here: true });
    expect(second.body.others.map((o: { id: string }) => o.id)).toEqual(["p_ines"]);
    await as("p_ines", `/leads/${id}/here`, { here: false });
    expect((await as("p_greta", `/leads/${id}/here`, { here: true })).body).toEqual({ others: [] });
  });
  it("and the second to log an outcome is told of the first; a second try is logged all the same", async () => {
    const id = await inquire("303 555 0132");
    const log = (person: string, more: object) =>
      as(person, `/leads/${id}/tries`, { personId: person, channel: "call", outcome: "voicemail", ...more });
    expect((await log("p_greta", { knows: 0 })).status).toBe(201);
    const late = await log("p_ines", { knows: 0, outcome: "no-answer" });
    expect(late.status).toBe(409);
    expect(late.body.detail).toMatch(/^Greta [A-Z]\S+ logged “Voicemail” just now\./);
    expect((await lead(id)).tries).toBe(1);
    expect((await log("p_ines", { knows: 1, outcome: "no-answer" })).body.tries).toBe(2);
  });
});

describe("what is set for a while", () => {
  it("off duty until a time ends on its own: leads are offered again, and what went to cover comes back", async () => {
    const id = await inquire("303 555 0141");
    const { people } = (await api.get("/setup/people")).body;
    const mara = people.find((p: { id: string }) => p.id === "p_mara");
    await api.post("/setup/people", { ...mara, cover: "p_noor" });
    await api.post(`/leads/${id}/give`, { to: "p_mara", reason: "" });
    const { now } = (await api.get("/rehearsal/clock")).body;
    const soon = new Date(Date.parse(now) + 10 * 60_000).toISOString();
    const next = { kind: "call", note: "Call again", dueAt: soon };
    const voicemail = { personId: "p_mara", channel: "call", outcome: "voicemail", nextStep: next };
    expect((await as("p_mara", `/leads/${id}/tries`, voicemail)).status).toBe(201);
    const until = new Date(Date.parse(now) + 60 * 60_000).toISOString();
    expect((await as("p_mara", "/me/duty", { off: true, until: now })).status).toBe(422);
    expect((await as("p_mara", "/me/duty", { off: true, until })).status).toBe(200);
    expect((await lead(id)).ownerId).toBe("p_noor");
    const stands = async () =>
      (
        (await api.get("/people")).body.items as { id: string; onDuty: boolean; offDutyBecause: string }[]
      ).find((p) => p.id === "p_mara");
    expect(await stands()).toMatchObject({
      onDuty: false,
      offDutyBecause: expect.stringMatching(/^went off duty until \d\d:\d\d$/),
    });
    await forward("PT61M");
    expect(await stands()).toMatchObject({ onDuty: true });
    expect((await lead(id)).ownerId).toBe("p_mara");
  });
  it("parked until a day, a lead comes back to whoever had it, with a call to make", async () => {
    const id = await inquire("303 555 0142");
    await api.post(`/leads/${id}/give`, { to: "p_mara", reason: "" });
    const { now } = (await api.get("/rehearsal/clock")).body;
    const until = new Date(Date.parse(now) + 5 * 86_400_000).toISOString();
    const park = { reason: "Builds in spring", planId: null };
    expect((await api.post(`/leads/${id}/park`, { ...park, until: now })).status).toBe(422);
    expect((await api.post(`/leads/${id}/park`, { ...park, until })).body.parked.lookAt).toBe(until);
    await forward("P5D");
    await forward("PT1S");
    expect(await lead(id)).toMatchObject({
      parked: null,
      ownerId: "p_mara",
      listed: null,
      nextStep: { kind: "call", note: "Call again: Builds in spring" },
    });
  });
  it("an early closing is taken back in one step, and the day is what it was before", async () => {
    const before = (await api.get("/setup/hours")).body.exceptions;
    const date = "2026-03-20";
    await api.post("/setup/hours/close", { date, from: "13:00", name: "Snow" });
    await api.post("/setup/hours/close", { date, from: "11:00", name: "More snow" });
    expect((await api.get("/setup/hours")).body.exceptions[date].name).toBe("More snow");
    expect((await api.post("/setup/hours/open", { date })).status).toBe(200);
    expect((await api.get("/setup/hours")).body.exceptions).toEqual(before);
    expect((await api.post("/setup/hours/open", { date })).status).toBe(409);
  });
});

describe("a list that is routed at night", () => {
  it("can be taken back as long as nobody has worked on it, whatever the desk has done with it on its own", async () => {
    await api.post("/rehearsal/clock", { to: "2026-03-12T05:00:00Z" });
    const file = await fetch(`${server().origin}/api/v1/imports/preview?name=night.csv`, {
      method: "POST",
      headers: { "content-type": "text/csv" },
      body: "Name,Phone\nNia Night,303 555 0161\n",
    });
    const { fileId, fields } = await file.json();
    const begin = {
      fileId,
      sourceId: "plan-your-sauna",
      fields,
      tags: [],
      route: true,
      name: "night.csv",
      total: 1,
    };
    const { id } = (await api.post("/imports", begin)).body;
    await expect.poll(async () => (await api.get(`/imports/${id}`)).body.state).toBe("done");
    const [nia] = (await api.get("/leads?q=Nia")).body.items;
    expect(await kinds(nia.id)).toContain("scheduled");
    // The morning comes: it is offered, lapses, rings, and is given to standby.
    await forward("PT16H");
    expect(await kinds(nia.id)).toEqual(expect.arrayContaining(["message-out", "lapsed", "rang", "given"]));
    expect((await api.post(`/imports/${id}/undo`)).body).toEqual({ removed: 1, kept: 0 });
    expect((await api.get(`/leads/${nia.id}`)).status).toBe(404);
  });
});

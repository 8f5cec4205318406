import { describe, expect, it } from "vitest";
import { CALLS } from "../../web/calls/table.ts";
import { rehearsal } from "../support/rehearsal.ts";

/** A second salesperson tries everything of the first one's, by its id: nothing is read, changed, or told of. */

const { server, api } = rehearsal();
const MINE = "p_mara";
const OTHER = "p_idris";
/** Words that stand in the lead and nowhere else. */
const SECRET = "Quillon";
const PHONE = "+13035550142";

async function as(person: string, method: string, path: string, body: unknown = {}) {
  const response = await fetch(`${server().origin}/api/v1${path}`, {
    method,
    headers: { "content-type": "application/json", cookie: `kb_me=${person}` },
    ...(method !== "GET" && { body: JSON.stringify(body) }),
  });
  return { status: response.status, text: await response.text() };
}

async function ownLead(): Promise<string> {
  const lead = await api.post("/leads", {
    name: `Vesna ${SECRET}`,
    phone: "303 555 0142",
    email: "vesna@example.com",
    note: `${SECRET} asked about snow load`,
    ownerId: MINE,
  });
  return lead.body.id as string;
}

describe("a second salesperson", () => {
  it("gets nothing of another's lead by any call that names it", async () => {
    const id = await ownLead();
    const before = (await api.get(`/leads/${id}`)).body;
    for (const call of Object.keys(CALLS).filter((c) => c.includes("/leads/[id]"))) {
      const [method, path] = call.split(" ") as [string, string];
      const { status, text } = await as(OTHER, method, path.replace("[id]", id), { personId: OTHER });
      expect([call, [403, 404].includes(status)]).toEqual([call, true]);
      expect([call, text.includes(SECRET) || text.includes("Mara")]).toEqual([call, false]);
    }
    for (const path of [
      "/leads?limit=200",
      `/leads?q=${SECRET}`,
      `/leads?owner=${MINE}`,
      "/queue?later",
      "/managers-list",
      "/parked",
    ])
      expect([path, (await as(OTHER, "GET", path)).text.includes(SECRET)]).toEqual([path, false]);
    expect(
      (await as(OTHER, "POST", "/leads/match", { fields: { phone: "303 555 0142" } })).text,
    ).not.toContain(SECRET);
    expect((await api.get(`/leads/${id}`)).body).toEqual(before);
  });

  it("who enters a number of another's lead learns that it is known and who has it, and changes nothing of it", async () => {
    const id = await ownLead();
    const before = (await api.get(`/leads/${id}`)).body;
    const entered = await as(OTHER, "POST", "/leads", {
      name: "Somebody Else",
      phone: "303 555 0142",
      email: "thief@example.com",
      company: "Thieves",
      note: "wants a cabin",
      ownerId: OTHER,
      more: { tags: ["stolen"], postalCode: "99999" },
    });
    expect([entered.status, JSON.parse(entered.text)]).toEqual([
      201,
      { known: true, has: "Mara Whitehorse" },
    ]);
    const after = (await api.get(`/leads/${id}`)).body;
    for (const fact of ["name", "emails", "phones", "company", "tags", "ownerId", "facts"])
      expect([fact, after[fact]]).toEqual([fact, before[fact]]);
    expect(after.inquiries).toBe(before.inquiries + 1);
    // What was written down is there for whoever has it.
    const events = (await api.get(`/leads/${id}/events`)).body.items;
    expect(events.find((e: { kind: string }) => e.kind === "noted").data.text).toContain("wants a cabin");
    expect((await as(OTHER, "GET", `/leads/${id}`)).status).toBe(404);
    expect(
      (await as(OTHER, "POST", "/leads", { name: "New", phone: "303 555 0143", ownerId: MINE })).status,
    ).toBe(403);
  });

  it("places no call to it, and touches no call of another's", async () => {
    const id = await ownLead();
    expect((await as(OTHER, "POST", "/calls", { leadId: id })).status).toBe(404);
    const placed = await as(MINE, "POST", "/calls", { leadId: id });
    expect(placed.status).toBe(201);
    const callId = JSON.parse(placed.text).id;
    for (const [act, body] of [
      ["notes", { notes: "mine now" }],
      ["hang-up", {}],
      ["done", {}],
    ] as const)
      expect([act, (await as(OTHER, "POST", `/calls/${callId}/${act}`, body)).status]).toEqual([act, 404]);
    const own = JSON.parse((await as(MINE, "GET", "/calls")).text);
    expect(own).toMatchObject({ id: callId, notes: "", seconds: 0, result: null });
    expect((await as(MINE, "POST", `/calls/${callId}/hang-up`)).status).toBe(200);
  });

  it("reads no file that came with it, knowing its id, and attaches none to a message of their own", async () => {
    const id = await ownLead();
    const { body: file } = await api.post("/rehearsal/email", {
      from: "vesna@example.com",
      to: "hello@tarnholt.example",
      subject: "Plan",
      body: "Attached",
      attachments: [{ name: "plan.txt", type: "text/plain", content: `${SECRET} plan` }],
    });
    expect(file).toBeDefined();
    const events = (await api.get(`/leads/${id}/events`)).body.items;
    const [attached] = events.find((e: { kind: string }) => e.kind === "message-in").data.attachments;
    expect((await as(MINE, "GET", `/files/${attached.fileId}`)).text).toContain(SECRET);
    const stolen = await as(OTHER, "GET", `/files/${attached.fileId}`);
    expect([stolen.status, stolen.text.includes(SECRET)]).toEqual([404, false]);
    const own = await as(OTHER, "POST", "/leads", { name: "Own", phone: "303 555 0144", ownerId: OTHER });
    const ownId = JSON.parse(own.text).id;
    const message = { personId: OTHER, channel: "email", body: "see this", files: [attached] };
    expect((await as(OTHER, "POST", `/leads/${ownId}/messages`, message)).status).toBe(422);
    // A file of one's own is another matter.
    const kept = await fetch(`${server().origin}/api/v1/files?name=own.txt`, {
      method: "POST",
      headers: { cookie: `kb_me=${OTHER}`, "content-type": "text/plain" },
      body: "my own",
    });
    const { fileId } = (await kept.json()) as { fileId: string };
    expect((await as(OTHER, "GET", `/files/${fileId}`)).text).toBe("my own");
    expect((await as("p_sol", "GET", `/files/${fileId}`)).status).toBe(404);
  });
});

describe("links of another time", () => {
  const links = async (kind: "t" | "m") => {
    const { items } = (await api.get("/rehearsal/outside?channel=chat&limit=500")).body;
    return (items as { url?: string; to: string }[]).flatMap((m) =>
      m.url?.includes(`/${kind}/`) ? [m] : [],
    );
  };
  it("to take a lead show nothing of it once it has moved on", async () => {
    await api.post("/intake/plan-your-sauna", {
      name: `Old ${SECRET}`,
      phone: "303 555 0145",
      product: "barrel",
    });
    await api.post("/rehearsal/clock", { advance: "PT1S" });
    const url = (await links("t")).at(-1)!.url!;
    expect(await (await fetch(url)).text()).toContain(SECRET);
    const { items } = (await api.get(`/leads?q=0145`)).body;
    await api.post(`/leads/${items[0].id}/give`, { to: "p_hanne", reason: "by hand" });
    const over = await (await fetch(url)).text();
    expect(over).toContain("Hanne Delacroix has it now");
    expect(over).not.toContain(SECRET);
    expect(over).not.toContain(PHONE.slice(-4));
  });
  it("to see to a ringing lead end after three days, and with the right to move leads", async () => {
    await api.post("/intake/plan-your-sauna", {
      name: `Rings ${SECRET}`,
      phone: "303 555 0146",
      product: "barrel",
    });
    await api.post("/rehearsal/clock", { advance: "PT20M" });
    const url = (await links("m")).at(-1)!.url!;
    expect(await (await fetch(url)).text()).toContain(SECRET);
    const greta = JSON.parse((await as("p_oskar", "GET", "/setup/people")).text).people.find(
      (p: { id: string }) => p.id === "p_greta",
    );
    await as("p_oskar", "POST", "/setup/people", { ...greta, role: "salesperson" });
    const without = await fetch(url);
    expect([without.status, (await without.text()).includes(SECRET)]).toEqual([404, false]);
    await as("p_oskar", "POST", "/setup/people", greta);
    expect((await fetch(url)).status).toBe(200);
    await api.post("/rehearsal/clock", { advance: "P4D" });
    const late = await fetch(url);
    expect([late.status, (await late.text()).includes(SECRET)]).toEqual([404, false]);
  });
});

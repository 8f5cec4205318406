import { createServer, type Socket } from "node:net";
import { afterAll, describe, expect, it, vi } from "vitest";
import { rehearsal } from "../support/rehearsal.ts";
import { client, dataFolder, startServer } from "../support/server.ts";

/** What strangers would have us send, and ways out that do not answer. */

const { api } = rehearsal({ fresh: true });

interface Out {
  readonly to: string;
  readonly body: string;
  readonly html?: string;
}
const outside = async (channel: string) =>
  (await api.get(`/rehearsal/outside?channel=${channel}&limit=5000`)).body.items as Out[];
const settle = () => api.post("/rehearsal/clock", { advance: "PT0S" });
const person = (n: number) => ({
  name: `Target ${n}`,
  email: `target${n}@example.com`,
  phone: `(${300 + Math.floor(n / 100)}) 555-01${String(n % 100).padStart(2, "0")}`,
  product: "barrel",
});
const toTargets = async (channel: string) =>
  (await outside(channel)).filter((m) => /^target\d+@|^\+13\d\d55501/.test(m.to));
const held = async () =>
  ((await api.get("/troubles")).body.items as { key: string; sourceId: string | null; said: string }[]).find(
    (t) => t.key.startsWith("held:"),
  );

describe("a form used to write to the world", () => {
  it("has sixty strangers answered and the others wait for a person, offered all the same; one step lets them go", async () => {
    const ids: string[] = [];
    for (let n = 0; n < 200; n++)
      ids.push((await api.post("/intake/plan-your-sauna", person(n))).body.leadId);
    await settle();
    expect(await toTargets("text")).toHaveLength(60);
    expect(await toTargets("email")).toHaveLength(60);
    const last = (await api.get(`/leads/${ids.at(-1)}`)).body;
    expect(last.handOff.state).toBe("offered");
    expect(last.bell.state).toBe("waiting");
    const trouble = await held();
    expect(trouble?.said).toContain("140 of them wait");
    expect((await api.post("/held-replies", { sourceId: trouble!.sourceId, send: true })).body).toEqual({
      leads: 140,
    });
    // On a machine that stands still a delivery may fail, and is tried again a little later: each arrives once.
    await vi.waitFor(
      async () => {
        await api.post("/rehearsal/clock", { advance: "PT30S" });
        expect(await toTargets("email")).toHaveLength(200);
      },
      { timeout: 120_000 },
    );
    expect(await held()).toBeUndefined();
  });
  it("or dropped; and a document with many people is taken one after the other, off the request, each once", async () => {
    const prospect = (n: number) =>
      `<prospect><id>adf-${n}</id><customer><contact><name part="full">Target ${n}</name><email>target${n}@example.com</email><phone>${person(n).phone}</phone></contact></customer></prospect>`;
    const adf = `<?xml version="1.0"?><adf>${Array.from({ length: 300 }, (_, n) => prospect(n)).join("")}</adf>`;
    const send = () => api.post("/intake/partners", adf, { "content-type": "application/xml" });
    const first = await send();
    expect(first).toMatchObject({ status: 202, body: { matched: "new" } });
    await vi.waitFor(
      async () => expect((await api.get("/leads?limit=200&q=target299@")).body.items).toHaveLength(1),
      { timeout: 120_000, interval: 100 },
    );
    expect((await send()).body).toEqual(first.body);
    await settle();
    expect(await toTargets("email")).toHaveLength(60);
    // The document is kept once, and is the original of each.
    const { items } = (await api.get("/leads?q=target250@")).body;
    const [inquiry] = (await api.get(`/leads/${items[0].id}/events`)).body.items;
    expect((await api.get(`/inquiries/${inquiry.data.inquiryId}/original`)).body).toBe(adf);
    const trouble = await held();
    expect((await api.post("/held-replies", { sourceId: trouble!.sourceId, send: false })).body.leads).toBe(
      240,
    );
    await settle();
    expect(await toTargets("email")).toHaveLength(60);
    expect((await api.get("/leads?limit=200&q=target299@")).body.items[0].inquiries).toBe(1);
  });
});

describe("links of strangers", () => {
  it("are carried to nobody: in what we send they are neither links of ours nor links at all", async () => {
    const message = "Log in at https://evil.example/login or www.evil.example or evil.example/x now";
    await api.post("/intake/plan-your-sauna", { ...person(1), name: "Visit evil.example/now", message });
    const { items } = (await api.get("/leads?q=target1@")).body;
    const template = "You wrote: {{ lead.message }} {{ lead.name }}";
    const tried = await api.post("/setup/templates/try", {
      template: { id: "t_x", name: "X", channel: "email", texts: { en: { subject: "Hi", body: template } } },
      language: "en",
      leadId: items[0].id,
    });
    expect(tried.body.body).toContain("You wrote: Log in at [link] or [link] or [link] now Visit [link]");
    expect(tried.body.html).not.toMatch(/href="[^"]*evil/);
    await settle();
    for (const channel of ["email", "text", "chat"])
      for (const { body, html } of await outside(channel))
        expect([channel, /evil\.example|\/l\/.*evil/.test(`${body} ${html ?? ""}`)]).toEqual([
          channel,
          false,
        ]);
  });
  it("forty thousand in one message of ours hold nothing up", async () => {
    const { leadId } = (await api.post("/intake/plan-your-sauna", person(2))).body;
    const body = Array.from({ length: 1_600 }, (_, n) => `https://a.example/${n}`).join(" ");
    const sent = await api.post(`/leads/${leadId}/messages`, { personId: "p_mara", channel: "email", body });
    expect(sent.status).toBe(201);
    await api.post("/rehearsal/clock", { advance: "PT20S" });
    const mail = (await outside("email")).findLast((m) => m.body.includes("a.example/1599"))!;
    expect(mail.body.match(/\/l\//g)).toHaveLength(50);
    const long = Array.from({ length: 40_000 }, (_, n) => `https://a.example/${n}`).join(" ");
    expect(
      (await api.post(`/leads/${leadId}/messages`, { personId: "p_mara", channel: "email", body: long }))
        .status,
    ).toBe(422);
  });
});

describe("a mail server that takes a line and says nothing", () => {
  const open: Socket[] = [];
  const silent = createServer((socket) => open.push(socket));
  afterAll(() => {
    for (const socket of open) socket.destroy();
    silent.close();
  });
  it("is told of within a quarter of a minute and holds up no text", async () => {
    await new Promise<void>((resolve) => silent.listen(0, "127.0.0.1", resolve));
    const { port } = silent.address() as { port: number };
    const folder = await dataFolder();
    const desk = await startServer(folder.path, { env: { KITEBELL_SMTP_URL: `smtp://127.0.0.1:${port}` } });
    const own = client(desk.origin);
    try {
      for (let n = 0; n < 4; n++) await own.post("/intake/plan-your-sauna", person(n));
      await vi.waitFor(
        async () => {
          const { items } = (await own.get("/troubles")).body;
          expect(items.map((t: { channel: string }) => t.channel)).toContain("email");
        },
        { timeout: 120_000, interval: 250 },
      );
      const { items } = (await own.get("/rehearsal/outside?channel=text")).body;
      expect(items.length).toBeGreaterThanOrEqual(4);
    } finally {
      await desk.stop();
      await folder.remove();
    }
  });
});

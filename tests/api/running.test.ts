import { afterEach, describe, expect, it } from "vitest";
import { client, dataFolder, type Running, startServer } from "../support/server.ts";

/** What whoever runs the machine sees of a desk: metrics, logs, health. */

const cleanUp: (() => unknown)[] = [];
afterEach(async () => {
  for (const done of cleanUp.splice(0).reverse()) await done();
});

async function open(env: Record<string, string> = {}): Promise<{ server: Running; said: () => string }> {
  const folder = await dataFolder();
  const server = await startServer(folder.path, { env });
  let said = "";
  server.process.stderr!.on("data", (part: Buffer) => {
    said += part;
  });
  cleanUp.push(folder.remove, () => server.stop());
  await client(server.origin).post("/rehearsal/clock", { to: "2026-03-04T16:00:00Z" });
  return { server, said: () => said };
}
const marked = {
  name: "Quillon Zephyrmark",
  email: "quillon@marked.example",
  phone: "303 555 0187",
  message: "xylotarium",
};
/** A sample, as Prometheus' text format 0.0.4 has it: a name, labels, a number. */
const SAMPLE =
  /^([a-zA-Z_:][\w:]*)(\{(?:[a-zA-Z_]\w*="(?:[^"\\\n]|\\.)*",?)*\})? (NaN|[+-]?(?:Inf|[\d.e+-]+))$/;
function samples(text: string): Map<string, number> {
  const all = new Map<string, number>();
  for (const line of text.split("\n")) {
    if (line === "" || line.startsWith("# HELP ") || line.startsWith("# TYPE ")) continue;
    const [, name = "", labels = "", value] = SAMPLE.exec(line) ?? [];
    expect(name, line).not.toBe("");
    all.set(name + labels, Number(value));
  }
  return all;
}

describe("/metrics", () => {
  it("counts what came, how soon it was answered and by whom, and tells what stands; nobody is named", async () => {
    const { server } = await open();
    const api = client(server.origin);
    const read = async () => {
      const text = await (await fetch(`${server.origin}/metrics`)).text();
      expect(text).not.toMatch(/zephyr|marked|0187|xylotarium|lead_/i);
      return samples(text);
    };
    const before = await read();
    expect(before.get('kitebell_inquiries_total{source="plan-your-sauna"}')).toBeUndefined();
    const { body } = await api.post("/intake/plan-your-sauna", marked);
    await api.post("/rehearsal/clock", { advance: "PT3M" });
    await api.post(`/leads/${body.leadId}/take`, { personId: "p_mara" });
    await api.post(`/leads/${body.leadId}/tries`, {
      personId: "p_mara",
      channel: "call",
      outcome: "reached",
    });
    const after = await read();
    expect(after.get('kitebell_inquiries_total{source="plan-your-sauna"}')).toBe(1);
    expect(after.get('kitebell_first_reply_seconds_count{by="desk"}')).toBe(1);
    expect(after.get('kitebell_first_reply_seconds_bucket{le="10",by="desk"}')).toBe(1);
    // Three minutes were moved; the world's own seconds between are few.
    const person = after.get('kitebell_first_reply_seconds_sum{by="person"}');
    expect(person).toBeGreaterThanOrEqual(180);
    expect(person).toBeLessThan(300);
    expect(after.get('kitebell_outbox_queued{of="email"}')).toBe(0);
    expect(after.get('kitebell_timers_late_seconds{of="next"}')).toBe(0);
    expect(after.get('kitebell_database_bytes{of="database"}')).toBeGreaterThan(100_000);
    expect(after.get('kitebell_well{of="disk"}')).toBe(1);
    expect(after.get("nodejs_eventloop_lag_p99_seconds")).toBeGreaterThan(0);
    const calls = [...after.keys()].filter((k) => k.startsWith("kitebell_request_seconds_count"));
    expect(calls).toContainEqual(expect.stringContaining('call="POST /api/v1/leads/:/tries"'));
  });

  it("is read by this machine alone, or with the token that is set; what a proxy passes on has none", async () => {
    const { server } = await open();
    const status = async (headers: Record<string, string> = {}) =>
      (await fetch(`${server.origin}/metrics`, { headers })).status;
    expect(await status()).toBe(200);
    expect(await status({ "x-forwarded-for": "203.0.113.9" })).toBe(401);
    await cleanUp.pop()?.();
    const { server: closed } = await open({ KITEBELL_METRICS_TOKEN: "a-long-token" });
    const there = async (headers: Record<string, string> = {}) =>
      (await fetch(`${closed.origin}/metrics`, { headers })).status;
    expect(await there()).toBe(401);
    expect(await there({ authorization: "Bearer a-long-tokem" })).toBe(401);
    expect(await there({ authorization: "Bearer a-long-token" })).toBe(200);
  });
});

describe("the log", () => {
  it("is one JSON object a line, names each request as its answer does, and holds nothing of anybody at `info`", async () => {
    const { server, said } = await open({ KITEBELL_LOG: "info" });
    const api = client(server.origin);
    const { body } = await api.post("/intake/plan-your-sauna", marked);
    await api.get(`/leads/${body.leadId}`);
    await api.get("/search?q=Zephyrmark");
    await api.get("/leads?q=quillon@marked.example");
    await api.post(`/leads/${body.leadId}/notes`, { text: "xylotarium" });
    await api.post("/leads/Zephyrmark/notes", { text: "xylotarium" });
    const answer = await fetch(`${server.origin}/api/v1/nothing/Quillon%20Zephyrmark`, {
      headers: { "x-request-id": "proxy-12345" },
    });
    expect(answer.headers.get("x-request-id")).toBe("proxy-12345");
    const own = (
      await fetch(`${server.origin}/api/v1/health`, { headers: { "x-request-id": "bad id\u00e9" } })
    ).headers;
    expect(own.get("x-request-id")).toMatch(/^[0-9a-f-]{36}$/);
    await server.stop();
    const lines = said()
      .trim()
      .split("\n")
      .map((line) => JSON.parse(line) as { requestId?: string; call?: string; level: number });
    expect(said()).not.toMatch(/zephyr|quillon|marked\.example|0187|xylotarium/i);
    expect(lines.length).toBeGreaterThan(6);
    expect(lines.every((l) => l.requestId !== undefined || l.level > 30)).toBe(true);
    expect(lines.filter((l) => l.requestId === "proxy-12345")).toMatchObject([
      { status: 404, call: "GET /api/v1/nothing/:" },
    ]);
    expect(new Set(lines.map((l) => l.call))).toContain("POST /api/v1/leads/:/notes");
  });
});

describe("health", () => {
  it("says part by part what is well, and in no words what is not anybody's business", async () => {
    const { server } = await open();
    const api = client(server.origin);
    const { body, status } = await api.get("/health");
    expect(status).toBe(200);
    expect(body).toEqual({
      ok: true,
      checks: { disk: true, clock: true, timers: true, outbox: true, backup: true, webhooks: true },
      backupAge: null,
    });
    await api.post("/rehearsal/down", { channel: "email", down: true });
    await api.post("/intake/plan-your-sauna", marked);
    await expect
      .poll(async () => (await api.get("/health")).body, { timeout: 60_000 })
      .toMatchObject({ ok: true, checks: { outbox: false, disk: true } });
  });
});

import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type Right, ROLES, rightsOfKey } from "../../core/access/access.ts";
import { Sql } from "../../server/db/sql.ts";
import { verify } from "../../server/verify-desk.ts";
import type { Needs } from "../../web/calls/define.ts";
import { CALLS } from "../../web/calls/table.ts";
import { Fuzz, type Schema } from "../support/fuzz.ts";
import { client, dataFolder, PEOPLE, type Running, startServer } from "../support/server.ts";

/** Every call of the API with bodies made from its own description and spoiled, as everybody: no fault of the server's. */

const SEED = 20_260_304;
/** Bodies of each call that takes one, and queries of each that is asked. */
const BODIES = 40;
const QUERIES = 6;
/** Beginning again would end the test, and a stream does not end. */
const LEFT_OUT: readonly string[] = ["POST /rehearsal/begin", "GET /live", "POST /rehearsal/clock"];
let server: Running;
let folder: Awaited<ReturnType<typeof dataFolder>>;
let fuzz: Fuzz;
let paths: Record<string, Record<string, { requestBody?: { content: Record<string, { schema: Schema }> } }>>;
let known: string[];
const keys: { key: string; scopes: ("read" | "leads" | "setup")[] }[] = [];

beforeAll(async () => {
  folder = await dataFolder();
  server = await startServer(folder.path, { env: { KITEBELL_CALLS_PER_MINUTE: "1000000" } });
  const api = client(server.origin);
  await api.post("/rehearsal/clock", { to: "2026-03-04T16:00:00Z" });
  const leads: string[] = [];
  for (let n = 0; n < 8; n++)
    leads.push(
      (
        await api.post("/intake/plan-your-sauna", {
          name: `Fuzzed ${n}`,
          phone: `303 555 010${n}`,
          product: "barrel",
        })
      ).body.leadId,
    );
  await api.post("/intake/plan-your-sauna", "{{{", { "content-type": "application/json" });
  const events = (await api.get(`/leads/${leads[0]}/events`)).body.items as { id: string; actId: string }[];
  const quarantined = (await api.get("/quarantine")).body.items as { id: string }[];
  const document = (await api.get("/openapi.json")).body;
  paths = document.paths;
  known = [
    ...leads,
    ...leads.slice(0, 3),
    ...events.slice(0, 4).flatMap((e) => [e.id, e.actId]),
    ...quarantined.map((q) => q.id),
    ...Object.values(PEOPLE),
    "g_homes",
    "plan-your-sauna",
    "ad-barrel",
    "garden-show",
    "barrel",
    "voicemail",
    "reached",
    "draft",
    "t_first",
  ];
  fuzz = new Fuzz(SEED, document.components.schemas, known);
  for (const scopes of [
    ["read"],
    ["leads"],
    ["read", "leads"],
    ["setup"],
  ] as (typeof keys)[number]["scopes"][]) {
    const made = await asked("POST", "/keys", { cookie: "kb_me=p_oskar" }, { name: "fuzz", scopes });
    keys.push({ key: JSON.parse(made.text).key, scopes });
  }
});
afterAll(async () => {
  await server.stop();
  await folder.remove();
});

async function asked(method: string, path: string, headers: Record<string, string>, body?: unknown) {
  const response = await fetch(`${server.origin}/api/v1${path}`, {
    method,
    redirect: "manual",
    headers: { "content-type": "application/json", ...headers },
    ...(body !== undefined && { body: JSON.stringify(body) }),
  });
  return { status: response.status, text: await response.text() };
}

/** Everybody who may try: the four roles by their browser, and keys by their scopes. */
function identities(): {
  who: string;
  headers: Record<string, string>;
  may: (needs: Needs, writes: boolean) => boolean;
}[] {
  const allowed = (needs: Needs, has: (right: Right) => boolean, inPerson: boolean) =>
    needs === "anybody" ||
    needs === "rehearsal" ||
    needs === "signed-in" ||
    (needs === "in-person" ? inPerson : has(needs as Right));
  return [
    ...(Object.keys(PEOPLE) as (keyof typeof PEOPLE)[]).map((role) => ({
      who: role,
      headers: { cookie: `kb_me=${PEOPLE[role]}` },
      may: (needs: Needs) => allowed(needs, (right) => ROLES[role].includes(right), true),
    })),
    ...keys.map(({ key, scopes }) => ({
      who: `a key for ${scopes.join(" and ")}`,
      headers: { authorization: `Bearer ${key}` },
      may: (needs: Needs, writes: boolean) => {
        if (needs === "anybody" || needs === "rehearsal") return true;
        if (writes && !scopes.some((s) => s !== "read")) return false;
        return allowed(needs, (right) => rightsOfKey(scopes, "administrator", writes).has(right), false);
      },
    })),
  ];
}

const ODD_QUERIES = [
  "days=1e308",
  "days=-5",
  "cursor=1.5",
  "cursor=~~~",
  "cursor=9e99&limit=1e9",
  "limit=-1",
  "limit=NaN&q=%00",
  "from=275760-09-13T00:00:00Z&to=x",
  "from=9999-99-99&to=0000-00-00",
  "year=275760&country=XX",
  "country=US&region=nowhere&year=-1",
  "lead=lead_none&channel=pigeon",
  "template=none&channel=email&lead=none",
  "since=never&later&week=9999-99-99",
  "date=9999-99-99",
  "insisted=maybe",
  "q=%F0%9F&filter=closed&sort=created",
];

describe("every call, as everybody", () => {
  it("with bodies and queries made from its description and spoiled: never a fault, never more than they may", async () => {
    const faults: string[] = [];
    const wrong: string[] = [];
    let sent = 0;
    let done = 0;
    for (const [call, { needs }] of Object.entries(CALLS)) {
      if (LEFT_OUT.includes(call)) continue;
      const [method, pattern] = call.split(" ") as [string, string];
      const described = paths[pattern.replace(/\[(\w+)\]/g, "{$1}")]?.[method.toLowerCase()];
      const schema = described?.requestBody?.content["application/json"]?.schema ?? null;
      const times = method === "GET" ? QUERIES : schema ? BODIES : 3;
      for (let i = 0; i < times; i++) {
        const everybody = identities();
        const identity = everybody[(sent + i) % everybody.length]!;
        const path = pattern.replace(/\[\w+\]/g, () =>
          encodeURIComponent(
            fuzz.may(0.8) ? fuzz.pick(known) : Buffer.from(fuzz.text()).toString() || "none",
          ),
        );
        const query = method === "GET" || fuzz.may(0.2) ? `?${fuzz.pick(ODD_QUERIES)}` : "";
        const body = method === "GET" ? undefined : schema ? fuzz.body(schema) : {};
        const { status, text } = await asked(method, path + query, identity.headers, body);
        sent++;
        const line = `${identity.who}: ${method} ${path}${query} ${JSON.stringify(body)?.slice(0, 300)} → ${status} ${text.slice(0, 200)}`;
        if (status >= 500) faults.push(line);
        const refused = status === 401 || status === 403;
        const isMay = identity.may(needs, method !== "GET");
        // What weighs too much is told before anybody is asked who they are.
        if (!isMay && !refused && status !== 404 && status !== 413) wrong.push(line);
        if (status < 300) done++;
      }
    }
    console.log(`${sent} calls, ${done} of them done, seed ${SEED}.`);
    expect(done).toBeGreaterThan(300);
    expect(sent).toBeGreaterThan(3_000);
    expect(faults).toEqual([]);
    expect(wrong).toEqual([]);
  }, 600_000);

  it("with every odd query, as an administrator: never a fault", async () => {
    const faults: string[] = [];
    for (const call of Object.keys(CALLS).filter((c) => c.startsWith("GET ") && !LEFT_OUT.includes(c)))
      for (const query of ODD_QUERIES) {
        const path = call.slice(4).replace(/\[\w+\]/g, () => fuzz.pick(known));
        const { status } = await asked("GET", `${path}?${query}`, { cookie: "kb_me=p_oskar" });
        if (status >= 500) faults.push(`${path}?${query}: ${status}`);
      }
    expect(faults).toEqual([]);
  });

  it("nobody who is not signed in gets past a call that is not anybody's", async () => {
    const wrong: string[] = [];
    for (const [call, { needs }] of Object.entries(CALLS)) {
      if (needs === "anybody" || needs === "rehearsal") continue;
      const [method, path] = call.split(" ") as [string, string];
      const { status } = await asked(
        method,
        path.replace(/\[\w+\]/g, "none"),
        { authorization: "Bearer kb_none" },
        method === "GET" ? undefined : {},
      );
      if (status !== 401) wrong.push(`${call}: ${status}`);
    }
    expect(wrong).toEqual([]);
  });

  it("and the desk is whole after it: each row is the fold of its events, and it starts again", async () => {
    await server.stop();
    const sql = await Sql.open(join(folder.path, "kite-bell.db"));
    expect(verify(sql).faults).toEqual([]);
    sql.close();
    server = await startServer(folder.path);
    expect((await client(server.origin).get("/health")).body).toMatchObject({ ok: true });
    expect((await client(server.origin).get("/queue")).status).toBe(200);
  });
});

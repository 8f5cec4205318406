import { readdir, readFile } from "node:fs/promises";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type Right, ROLES } from "../../core/access/access.ts";
import type { Needs } from "../../web/calls/define.ts";
import { DOORS } from "../../web/calls/doors.ts";
import { CALLS } from "../../web/calls/table.ts";
import { rehearsal } from "../support/rehearsal.ts";
import { client, dataFolder, PEOPLE, type Running, startServer } from "../support/server.ts";

/** Who may do what, call by call; API keys; and a real desk from its first visitor on. */

const { server, api } = rehearsal();

/** A call as somebody's browser makes it. */
async function as(person: string | null, call: string, body: unknown = {}) {
  const [method, path] = call.split(" ") as [string, string];
  const stop = new AbortController();
  const response = await fetch(`${server().origin}/api/v1${path.replace(/\[\w+\]/g, "none")}`, {
    method,
    signal: stop.signal,
    headers: { "content-type": "application/json", ...(person && { cookie: `kb_me=${person}` }) },
    ...(method !== "GET" && { body: JSON.stringify(body) }),
  });
  if (path === "/live") {
    stop.abort();
    return { status: response.status, body: null };
  }
  const text = await response.text();
  return {
    status: response.status,
    body: /json/.test(response.headers.get("content-type") ?? "") ? JSON.parse(text) : text,
  };
}

const files = async () => {
  const root = join(import.meta.dirname, "../../web/pages/api/v1");
  const names = (await readdir(root, { recursive: true })).filter((name) => name.endsWith(".ts"));
  const calls = await Promise.all(
    names.map(async (name) => {
      const methods = [
        ...(await readFile(join(root, name), "utf8")).matchAll(/export const (GET|POST|PUT|DELETE|ALL)\b/g),
      ];
      const path = `/${name.replace(/(^|\/)index\.ts$/, "").replace(/\.ts$/, "")}`;
      return methods.map(([, method]) => `${method} ${path}`);
    }),
  );
  return calls.flat();
};

describe("the table of who may call what", () => {
  it("has a row for every call there is, and none for a call there is not", async () => {
    expect(Object.keys(CALLS).sort()).toEqual([...(await files()), ...Object.keys(DOORS)].sort());
  });

  const may = (needs: Needs, role: keyof typeof ROLES) =>
    ["anybody", "signed-in", "in-person", "rehearsal"].includes(needs) ||
    ROLES[role].includes(needs as Right);
  it.each(Object.keys(PEOPLE) as (keyof typeof PEOPLE)[])("holds for a %s, call by call", async (role) => {
    const wrong: string[] = [];
    for (const [call, { needs }] of Object.entries(CALLS)) {
      // Beginning again would end the test.
      if (call === "POST /rehearsal/begin") continue;
      const { status } = await as(PEOPLE[role], call);
      const refused = status === 403 || status === 401;
      // The carrier signs its calls: without a signature nobody gets in.
      if (call.startsWith("POST /carrier/") ? status !== 401 : refused === may(needs, role))
        wrong.push(`${call}: ${status}`);
    }
    expect(wrong).toEqual([]);
  });
});

describe("a salesperson", () => {
  const ask = { name: "Kit Sorrel", product: "barrel" };
  it("sees and works what is theirs or offered to them, and of the rest nothing", async () => {
    const ids: string[] = [];
    for (let i = 0; i < 4; i++)
      ids.push(
        (await api.post("/intake/plan-your-sauna", { ...ask, phone: `303 555 ${2000 + i}` })).body.leadId,
      );
    const holders = await Promise.all(
      ids.map(async (id) => (await api.get(`/leads/${id}`)).body.handOff.to[0] as string),
    );
    const [mine, theirs] = [ids[0]!, ids[1]!];
    const me = holders[0]!;
    expect(holders[1]).not.toBe(me);
    const seen = (await as(me, "GET /leads")).body.items.map((l: { id: string }) => l.id);
    expect(seen).toContain(mine);
    expect(seen).not.toContain(theirs);
    const { bands } = (await as(me, "GET /queue")).body;
    const queued = bands.flatMap((b: { items: { id: string }[] }) => b.items.map((l) => l.id));
    expect(queued).toContain(mine);
    expect(queued).not.toContain(theirs);
    for (const call of [`GET /leads/${theirs}`, `GET /leads/${theirs}/sheet`, `POST /leads/${theirs}/take`])
      expect((await as(me, call, { personId: me })).status).toBe(404);
    // Nor for somebody else.
    expect((await as(me, `POST /leads/${mine}/take`, { personId: holders[1] })).status).toBe(403);
    expect((await as(me, `POST /leads/${mine}/take`, { personId: me })).status).toBe(200);
    expect((await as(me, "POST /me/duty", { off: true })).status).toBe(200);
    expect((await api.get("/people")).body.items.find((p: { id: string }) => p.id === me).onDuty).toBe(false);
    await as(me, "POST /me/duty", { off: false });
  });
  it("changes how they hear of things, and nobody else's way", async () => {
    const matrix = { reply: ["email"] };
    expect((await as("p_mara", "POST /setup/alerts", { personId: "p_mara", matrix })).status).toBe(200);
    expect((await as("p_mara", "POST /setup/alerts", { personId: "p_idris", matrix })).status).toBe(403);
    expect((await as("p_mara", "POST /setup/alerts", { personId: null, matrix })).status).toBe(403);
  });
});

describe("roles and changes", () => {
  it("only an administrator gives roles; every change is in the audit list, secrets left out", async () => {
    const { people } = (await as("p_oskar", "GET /setup/people")).body;
    const sol = people.find((p: { id: string }) => p.id === "p_sol");
    const promoted = { ...sol, role: "manager" };
    expect((await as("p_greta", "POST /setup/people", promoted)).status).toBe(403);
    expect((await as("p_greta", "POST /setup/people", { ...sol, ceiling: 7 })).status).toBe(200);
    expect((await as("p_oskar", "POST /setup/people", promoted)).status).toBe(200);
    await as("p_oskar", "POST /setup/people", sol);
    const { items } = (await as("p_greta", "GET /audit")).body;
    expect(
      items.slice(0, 3).map((e: { by: string; what: string; after: object }) => [e.by, e.what, e.after]),
    ).toEqual([
      ["Oskar Vance", "person Sol Petrakis", { role: "salesperson" }],
      ["Oskar Vance", "person Sol Petrakis", { ceiling: 6, role: "manager" }],
      ["Greta Mbeki", "person Sol Petrakis", { ceiling: 7 }],
    ]);
  });
});

describe("API keys", () => {
  const withKey = (key: string) => client(server().origin, key);
  it("do what they are made for, act for whoever made them, and nothing once revoked", async () => {
    const make = async (scopes: string[]) =>
      (await as("p_oskar", "POST /keys", { name: scopes.join(), scopes })).body;
    const reading = await make(["read"]);
    const working = await make(["leads"]);
    expect(reading.key).toMatch(/^kb_[\w-]{32}$/);
    const read = withKey(reading.key);
    const work = withKey(working.key);
    expect((await read.get("/leads")).status).toBe(200);
    expect((await read.get("/setup/routing")).status).toBe(200);
    expect((await read.post("/leads", { name: "X", phone: "303 555 0199" })).status).toBe(403);
    expect(
      (await work.post("/leads", { name: "Key Made", phone: "303 555 0198", route: false })).status,
    ).toBe(201);
    expect((await work.get("/setup/routing")).status).toBe(403);
    const listed = (await as("p_oskar", "GET /keys")).body.items;
    expect(JSON.stringify(listed)).not.toContain(reading.key);
    expect(listed.find((k: { id: string }) => k.id === reading.id)).toMatchObject({
      by: "Oskar Vance",
      revokedAt: null,
    });
    expect(listed.find((k: { id: string }) => k.id === reading.id).lastUsedAt).not.toBeNull();
    expect((await as("p_oskar", `POST /keys/${reading.id}/revoke`)).status).toBe(200);
    expect((await read.get("/leads")).status).toBe(401);
    expect((await as("p_oskar", `POST /keys/${reading.id}/revoke`)).status).toBe(404);
    expect((await withKey("kb_made-up").get("/leads")).status).toBe(401);
  });
});

describe("a real desk", () => {
  let real: Running;
  let place: Awaited<ReturnType<typeof dataFolder>>;
  beforeAll(async () => {
    place = await dataFolder();
    real = await startServer(place.path, { real: true });
  });
  afterAll(async () => {
    await real.stop();
    await place.remove();
  });
  let cookie = "";
  const go = async (path: string, fields?: Record<string, string>, headers: Record<string, string> = {}) =>
    fetch(real.origin + path, {
      redirect: "manual",
      headers: { ...headers, ...(cookie && { cookie }), ...(fields && { origin: real.origin }) },
      ...(fields && { method: "POST", body: new URLSearchParams(fields) }),
    });
  const json = async (path: string, body?: unknown) => {
    const response = await fetch(`${real.origin}/api/v1${path}`, {
      headers: { "content-type": "application/json", ...(cookie && { cookie }) },
      ...(body !== undefined && { method: "POST", body: JSON.stringify(body) }),
    });
    return { status: response.status, body: await response.json() };
  };
  const cookieOf = (response: Response) =>
    response.headers
      .getSetCookie()
      .map((c) => c.split(";")[0]!)
      .join("; ");
  const ada = { email: "ada@example.com", password: "seven small kites" };

  it("has no rehearsal, shows nobody anything, and is set up by its first visitor alone", async () => {
    expect((await json("/queue")).status).toBe(401);
    expect(
      (await fetch(`${real.origin}/api/v1/leads`, { headers: { authorization: "Bearer rehearsal" } })).status,
    ).toBe(401);
    expect((await json("/rehearsal/clock")).status).toBe(404);
    expect((await json("/health")).status).toBe(200);
    const first = await go("/");
    expect([first.status, first.headers.get("location")]).toEqual([302, "/sign-in?to=%2F"]);
    const short = await go("/sign-in", { ...ada, company: "Acme", name: "Ada First", password: "short" });
    expect(await short.text()).toContain("A password has 10 characters at least");
    const made = await go("/sign-in?to=/setup", {
      ...ada,
      company: "Acme",
      name: "Ada First",
      zone: "Europe/London",
    });
    expect([made.status, made.headers.get("location")]).toEqual([302, "/setup"]);
    cookie = cookieOf(made);
    expect((await json("/me")).body).toMatchObject({
      name: "Ada First",
      role: "administrator",
      rehearsal: false,
    });
    // A second visitor finds a door and not an empty house.
    const before = cookie;
    cookie = "";
    const second = await go("/sign-in", {
      email: "eve@example.com",
      password: "seven small kites",
      company: "Evil",
      name: "Eve",
    });
    expect(await second.text()).toContain("do not go together");
    cookie = before;
  });
  it("people are invited, choose a password, and see what their role allows", async () => {
    const { people } = (await json("/setup/people")).body;
    const sam = { ...people[0], id: "", name: "Sam Seller", role: "salesperson", email: "sam@example.com" };
    const saved = await json("/setup/people", sam);
    const id = saved.body.people.find((p: { name: string }) => p.name === "Sam Seller").id;
    const { url } = (await json(`/access/people/${id}/invite`, {})).body;
    const path = new URL(url).pathname;
    const admin = cookie;
    cookie = "";
    expect(await (await go(path)).text()).toContain("Welcome, Sam Seller");
    expect((await go(`${path.slice(0, -2)}xx`)).status).toBe(410);
    const joined = await go(path, { password: "kites in the wind" });
    expect(joined.headers.get("location")).toBe("/");
    cookie = cookieOf(joined);
    expect((await json("/me")).body.role).toBe("salesperson");
    expect((await json("/setup/people")).status).toBe(403);
    expect((await go("/setup")).headers.get("location")).toBe("/");
    expect((await go(path)).status).toBe(410);
    // Signed out by the administrator, at once.
    const sams = cookie;
    cookie = admin;
    expect((await json(`/access/people/${id}/sign-out`, {})).body.ended).toBe(1);
    cookie = sams;
    expect((await json("/me")).status).toBe(401);
    cookie = admin;
  });
  it("a forgotten password is reset by the link in a mail, once, and ends other sessions", async () => {
    // No mail server is set up: the mail waits, and says so. It is read where it waits.
    await go("/sign-in", { forgotten: "1", email: ada.email });
    await go("/sign-in", { forgotten: "1", email: "nobody@example.com" });
    const troubles = (await json("/troubles")).body.items;
    expect(troubles[0]).toMatchObject({
      channel: "email",
      error: expect.stringContaining("KITEBELL_SMTP_URL"),
    });
    const { Sql } = await import("../../server/db/sql.ts");
    const sql = await Sql.open(join(place.path, "kite-bell.db"));
    const mails = sql.all(sql.q.selectFrom("outbox").select("body").where("purpose", "=", "account"));
    sql.close();
    const link = mails.map((m) => /\/reset\?token=\S+/.exec(m.body)?.[0]).filter((m) => m);
    expect(link).toHaveLength(1);
    expect(await (await go(link[0]!, { password: "short" })).text()).toContain("ten characters at least");
    expect((await go(link[0]!, { password: "another long word" })).headers.get("location")).toBe("/sign-in");
    expect((await json("/me")).status).toBe(401);
    expect(await (await go(link[0]!, { password: "yet another word" })).text()).toContain("no longer good");
    cookie = "";
    expect((await go("/sign-in", ada)).status).toBe(200);
    const back = await go("/sign-in?to=//evil.example", { ...ada, password: "another long word" });
    // Never to another site; and to the page one begins with.
    expect(back.headers.get("location")).toBe("/?begin");
    cookie = cookieOf(back);
    expect((await json("/me/sessions")).body.items).toMatchObject([{ current: true }]);
  });
  it("guessing is slowed down", async () => {
    const admin = cookie;
    cookie = "";
    let said = "";
    for (let i = 0; i < 10 && !said.includes("Too many tries"); i++)
      said = await (await go("/sign-in", { email: ada.email, password: `guess number ${i}` })).text();
    expect(said).toContain("Too many tries");
    cookie = admin;
    expect((await json("/me")).status).toBe(200);
  });
});

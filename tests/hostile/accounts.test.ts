import { spawnSync } from "node:child_process";
import { join } from "node:path";
import Database from "better-sqlite3";
import { describe, expect, it } from "vitest";
import { ADA, realDesk } from "../support/real.ts";

/** Who gets in, who becomes more than they are, and whose desk it stays: on a real desk, as somebody hostile would try. */

const desk = realDesk();
const { ada } = desk;

/** The mails that wait to be sent: no mail server is set up here. */
function waiting(to: string): string[] {
  const db = new Database(join(desk.folder(), "kite-bell.db"), { readonly: true });
  const rows = db
    .prepare("select body from outbox where toAddress = ? and purpose = 'account' order by n")
    .all(to);
  db.close();
  return (rows as { body: string }[]).map((row) => row.body);
}

describe("keys", () => {
  const make = async (scopes: string[]) => {
    const { key } = (await ada.call("/keys", { name: `for ${scopes.join(" and ")}`, scopes })).body;
    const authorization = `Bearer ${key}`;
    return {
      get: (path: string) => desk.visitor({ authorization }).call(path),
      post: (path: string, body: unknown) => desk.visitor({ authorization }).call(path, body),
    };
  };

  it("with several scopes may change what those allow, and nothing by a scope that is for reading", async () => {
    const key = await make(["read", "leads"]);
    expect((await key.get("/setup/routing")).status).toBe(200);
    expect((await key.post("/leads", { name: "By Key", phone: "303 555 0110", route: false })).status).toBe(
      201,
    );
    for (const [path, body] of [
      ["/setup/restraint", {}],
      ["/setup/routing/publish", {}],
      ["/setup/people", {}],
    ] as const)
      expect([path, (await key.post(path, body)).status]).toEqual([path, 403]);
  });
  it("never make keys, invite, change accounts or sign anybody out, whatever they are made for", async () => {
    const key = await make(["read", "leads", "setup"]);
    const sam = await desk.hire("salesperson");
    expect((await key.post("/keys", { name: "more", scopes: ["setup"] })).status).toBe(403);
    expect((await key.get("/keys")).status).toBe(403);
    expect((await key.post(`/access/people/${sam.id}/invite`, {})).status).toBe(403);
    expect((await key.post(`/access/people/${sam.id}/sign-out`, {})).status).toBe(403);
    expect((await key.post("/me/sessions", {})).status).toBe(403);
    const renamed = { ...sam.person, email: "thief@example.com" };
    expect((await key.post("/setup/people", renamed)).status).toBe(403);
    expect((await key.post("/setup/people", { ...sam.person, role: "administrator" })).status).toBe(403);
    expect((await ada.call("/me")).status).toBe(200);
  });
  it("are named in the audit list", async () => {
    const key = await make(["setup"]);
    const sam = await desk.hire("salesperson", "Sam Audited");
    expect((await key.post("/setup/people", { ...sam.person, ceiling: 3 })).status).toBe(200);
    const [entry] = (await ada.call("/audit?limit=1")).body.items;
    expect(entry).toMatchObject({ by: "Ada First", via: "for setup", what: "person Sam Audited" });
  });
});

describe("a manager", () => {
  it("changes no address, role or account of somebody with more rights", async () => {
    const { browser } = await desk.hire("manager", "Mo Manager");
    const { people } = (await browser.call("/setup/people")).body;
    const admin = people.find((p: { name: string }) => p.name === "Ada First");
    const taken = await browser.call("/setup/people", { ...admin, email: "mo.manager+ada@example.com" });
    expect(taken).toMatchObject({ status: 403, body: { errors: [{ path: "email" }] } });
    expect((await browser.call("/setup/people", { ...admin, role: "salesperson" })).status).toBe(403);
    expect((await browser.call(`/access/people/${admin.id}/sign-out`, {})).status).toBe(403);
    // A colleague's address is not theirs to change either; their own is.
    const sam = await desk.hire("salesperson", "Sam Colleague");
    expect((await browser.call("/setup/people", { ...sam.person, email: "x@example.com" })).status).toBe(403);
    expect((await browser.call("/setup/people", { ...sam.person, ceiling: 9 })).status).toBe(200);
  });
});

describe("a changed address", () => {
  it("counts once it is confirmed there, is told to the old one, and ends sessions", async () => {
    const sam = await desk.hire("salesperson", "Sam Moves");
    const fresh = "sam.new@example.com";
    expect((await ada.call("/setup/people", { ...sam.person, email: fresh })).status).toBe(200);
    expect((await sam.browser.call("/me")).status).toBe(401);
    expect(waiting(sam.email).at(-1)).toContain("was entered as your address");
    const signIn = async (email: string) =>
      (await desk.visitor().go("/sign-in", { email, password: "kites in the wind" })).status;
    expect([await signIn(sam.email), await signIn(fresh)]).toEqual([302, 200]);
    const link = /\/confirm\/\S+/.exec(waiting(fresh).at(-1)!)![0];
    // Programs that look through mail open links: that alone confirms nothing.
    expect((await desk.visitor().go(link)).text).toContain(`Is ${fresh} yours?`);
    expect(await signIn(fresh)).toBe(200);
    expect((await desk.visitor().go(link, {})).text).toContain(`you sign in with ${fresh}`);
    expect([await signIn(sam.email), await signIn(fresh)]).toEqual([200, 302]);
    expect((await desk.visitor().go(`${link.slice(0, -3)}xyz`)).status).toBe(410);
  });
});

describe("a desk in use", () => {
  it("keeps its last administrator who can sign in", async () => {
    const { people } = (await ada.call("/setup/people")).body;
    const me = people.find((p: { name: string }) => p.name === "Ada First");
    // Somebody else is administrator too, but has never chosen a password.
    await ada.call("/setup/people", { ...me, id: "", name: "Not Yet", email: "not.yet@example.com" });
    expect((await ada.call(`/setup/people/${me.id}/remove`, {})).status).toBe(409);
    expect((await ada.call("/setup/people", { ...me, role: "coordinator" })).status).toBe(409);
    expect((await ada.call("/me")).body.role).toBe("administrator");
  });
  it("is nobody's to set up again when no account is left, and is mended on the machine", async () => {
    const db = new Database(join(desk.folder(), "kite-bell.db"));
    for (const table of ["session", "account", "user"]) db.exec(`delete from "${table}"`);
    db.close();
    const stranger = desk.visitor();
    const page = await stranger.go("/sign-in");
    expect(page.text).not.toContain("A new desk");
    const tried = await stranger.go("/sign-in", {
      email: "eve@example.com",
      password: "seven small kites",
      company: "Evil",
      name: "Eve",
      zone: "Europe/London",
    });
    expect(tried.text).toContain("do not go together");
    const mend = () =>
      spawnSync(process.execPath, ["dist/admin.mjs", "--email", ADA.email, "--data", desk.folder()], {
        cwd: join(import.meta.dirname, "../.."),
        encoding: "utf8",
      });
    let password = "";
    // Not while the desk runs.
    expect(mend()).toMatchObject({
      status: 1,
      stderr: expect.stringContaining("Another Kite Bell works in"),
    });
    await desk.restart(() => {
      const { stdout, status } = mend();
      expect(status).toBe(0);
      password = /the password (\S+)/.exec(stdout)![1]!;
    });
    expect((await desk.visitor().go("/sign-in", { ...ADA, password })).status).toBe(302);
  });
});

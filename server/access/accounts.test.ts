import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Person } from "../../core/policy/people.ts";
import { idle, NINE, testDesk } from "../../tests/support/desk.ts";
import type { Parcel } from "../channels/channel.ts";
import { MovableClock } from "../clock.ts";
import type { Desk } from "../desk.ts";
import { AccountProblem, Accounts, isAccountProblem } from "./accounts.ts";

/** Accounts of people who work here, on a desk's own database. */

const URL_OF_DESK = "http://desk.example.com";
/** How often an address tries is counted for the whole process: each test comes from one of its own. */
let here = 0;
const HERE = () => `203.0.113.${here}`;
const WEEK = 7 * 86_400_000;
const GOOD = "a barrel of warm water";
let folder: string;
let desk: Desk;
let accounts: Accounts;
let mails: Parcel[];

beforeEach(async () => {
  here++;
  folder = mkdtempSync(join(tmpdir(), "kite-bell-accounts-"));
  mails = [];
  const email = { ...idle, deliver: async (parcel: Parcel) => void mails.push(parcel) };
  desk = await testDesk({
    data: folder,
    clock: new MovableClock(NINE, { frozen: true }),
    channels: { email, text: idle, chat: idle },
  });
  desk.outbox.start();
  accounts = await Accounts.open(desk, URL_OF_DESK);
});
afterEach(async () => {
  vi.useRealTimers();
  accounts.close();
  await desk.close();
  rmSync(folder, { recursive: true, force: true });
});

const person = (id: string): Person => desk.setup.people.find((p) => p.id === id)!;
const greta = () => person("p_greta");
const signIn = (email: string, password: string, address = HERE()) =>
  accounts.signIn(email, password, new Request(URL_OF_DESK), address);
/** The headers a browser sends after it has signed in. */
async function session(who: Person, password = GOOD): Promise<Headers> {
  const answer = await signIn(who.email, password);
  expect(answer.status).toBe(200);
  const cookie = answer.headers.getSetCookie().map((c) => c.split(";")[0]);
  return new Headers({ cookie: cookie.join("; ") });
}
async function sent(): Promise<Parcel[]> {
  await desk.outbox.drained();
  return mails;
}

describe("the first account", () => {
  it("is made once, also when two visitors press at the same moment", async () => {
    expect(accounts.isNew()).toBe(true);
    const made = await Promise.all([
      accounts.first(greta(), GOOD),
      accounts.first(person("p_mara"), "another good password"),
    ]);
    expect(made).toEqual([true, false]);
    expect([...accounts.withAccount()]).toEqual(["p_greta"]);
    expect([accounts.isNew(), accounts.isBegun()]).toEqual([false, true]);
  });
  it("may be tried again when its password was too short", async () => {
    await expect(accounts.first(greta(), "short")).rejects.toThrow(AccountProblem);
    expect(await accounts.first(greta(), GOOD)).toBe(true);
  });
});

describe("signing in", () => {
  beforeEach(() => accounts.make(greta(), GOOD));

  it("works with the password alone, and says whom the session belongs to", async () => {
    expect((await signIn(greta().email, "not the password")).status).toBe(401);
    expect(await accounts.whoIs(await session(greta()))).toMatchObject({ id: "p_greta" });
    expect(await accounts.whoIs(new Headers())).toBeNull();
    expect(await accounts.whoIs(new Headers({ cookie: "kite-bell.session_token=made-up" }))).toBeNull();
  });
  it("is made once for an address", async () => {
    const again = accounts.make({ ...person("p_mara"), email: greta().email }, GOOD);
    await expect(again).rejects.toSatisfy(isAccountProblem);
  });
  it("lists where one is signed in, says which is this one, and ends one or all others", async () => {
    const [one, two, three] = [await session(greta()), await session(greta()), await session(greta())];
    const rows = await accounts.sessionsOf("p_greta", two!);
    expect(rows).toHaveLength(3);
    expect(rows.filter((r) => r.current)).toHaveLength(1);
    const mine = rows.find((r) => r.current)!;
    expect(accounts.endSessions("p_greta", { butToken: mine.token })).toBe(2);
    expect(await Promise.all([one!, two!, three!].map(async (h) => (await accounts.whoIs(h))?.id))).toEqual([
      undefined,
      "p_greta",
      undefined,
    ]);
    expect(accounts.endSessions("p_mara", { token: mine.token })).toBe(0);
    expect(accounts.endSessions("p_greta", { token: mine.token })).toBe(1);
  });
  it("nobody who has left is anybody", async () => {
    const headers = await session(greta());
    desk.changeSetup({
      ...desk.setup,
      people: desk.setup.people.map((p) => (p.id === "p_greta" ? { ...p, left: true } : p)),
    });
    expect(await accounts.whoIs(headers)).toBeNull();
    await accounts.follow(person("p_greta"));
    expect(accounts.withAccount().size).toBe(0);
  });
});

describe("a forgotten password", () => {
  it("is chosen again by the link in a mail, once, and only then is the old one worth nothing", async () => {
    await accounts.make(greta(), GOOD);
    const headers = await session(greta());
    await accounts.forgotten(greta().email.toUpperCase(), HERE());
    const [mail] = await sent();
    expect(mail!.toAddress).toBe(greta().email);
    const token = /\/reset\?token=([\w-]+)/.exec(mail!.body)![1]!;
    expect(await accounts.reset(token, "short", HERE())).toBe(false);
    expect((await signIn(greta().email, GOOD)).status).toBe(200);
    expect(await accounts.reset(token, "a new barrel of water", HERE())).toBe(true);
    expect(await accounts.reset(token, "once more the same link", HERE())).toBe(false);
    expect((await signIn(greta().email, GOOD)).status).toBe(401);
    expect(await accounts.whoIs(headers)).toBeNull();
  });
  it("sends nothing to somebody without an account, and answers the same", async () => {
    expect(await accounts.forgotten("nobody@example.com", HERE())).toBeUndefined();
    expect(await sent()).toEqual([]);
  });
});

describe("an invitation", () => {
  const tokenIn = (address: string) => address.split("/").at(-1)!;

  it("invites whom it names, for a week, until they have an account", async () => {
    const token = tokenIn(accounts.invitation("p_mara"));
    expect(accounts.invited(token)?.id).toBe("p_mara");
    expect(accounts.confirming(token)).toBeNull();
    expect(accounts.invited(tokenIn(accounts.invitation("p_nobody")))).toBeNull();
    vi.useFakeTimers({ toFake: ["Date"] });
    vi.setSystemTime(Date.now() + WEEK);
    expect(accounts.invited(token)).toBeNull();
    vi.useRealTimers();
    await accounts.make(person("p_mara"), GOOD);
    expect(accounts.invited(token)).toBeNull();
  });
  it("goes out by mail, and names who invites", async () => {
    accounts.invite(person("p_mara"), greta());
    const [mail] = await sent();
    expect(mail!.toAddress).toBe(person("p_mara").email);
    expect(mail!.body).toContain(greta().name);
    expect(accounts.invited(/\/join\/([\w.-]+)/.exec(mail!.body)![1]!)?.id).toBe("p_mara");
  });
});

describe("a new address", () => {
  const moved = () => ({ ...greta(), email: "greta@new.example.com" });
  const change = () =>
    desk.changeSetup({
      ...desk.setup,
      people: desk.setup.people.map((p) => (p.id === "p_greta" ? moved() : p)),
    });

  it("counts once it is confirmed there; until then the old one signs in, and hears of it", async () => {
    await accounts.make(greta(), GOOD);
    const old = greta().email;
    const headers = await session(greta());
    change();
    await accounts.follow(person("p_greta"));
    expect(await accounts.whoIs(headers)).toBeNull();
    const to = (await sent()).map((m) => m.toAddress).sort();
    expect(to).toEqual([moved().email, old].sort());
    expect((await signIn(old, GOOD)).status).toBe(200);
    expect((await signIn(moved().email, GOOD)).status).toBe(401);
    const link = mails.find((m) => m.toAddress === moved().email)!.body;
    const token = /\/confirm\/([\w.-]+)/.exec(link)![1]!;
    expect(await accounts.confirm(token)).toBe(true);
    expect((await signIn(moved().email, GOOD)).status).toBe(200);
    expect((await signIn(old, GOOD)).status).toBe(401);
  });
  it("that was changed again is confirmed by the newest link alone", async () => {
    await accounts.make(greta(), GOOD);
    change();
    await accounts.follow(person("p_greta"));
    await sent();
    const token = /\/confirm\/([\w.-]+)/.exec(mails.find((m) => m.toAddress === moved().email)!.body)![1]!;
    desk.changeSetup({
      ...desk.setup,
      people: desk.setup.people.map((p) => (p.id === "p_greta" ? { ...p, email: "third@example.com" } : p)),
    });
    expect(await accounts.confirm(token)).toBe(false);
  });
});

describe("the last administrator who can sign in", () => {
  it("is whoever has an account, not whoever has the role", async () => {
    const admins = desk.setup.people.filter((p) => p.role === "administrator" && !p.left);
    const [one] = admins as [Person];
    await accounts.make(one, GOOD);
    expect(accounts.leavesNobody({ ...one, left: true })).toBe(true);
    expect(accounts.leavesNobody({ ...one, role: "manager" })).toBe(true);
    expect(accounts.leavesNobody({ ...one, name: "Another Name" })).toBe(false);
    expect(accounts.leavesNobody({ ...person("p_mara"), left: true })).toBe(false);
  });
});

describe("guessing", () => {
  it("shuts an account for strangers after ten wrong passwords, and not for where its owner has signed in", async () => {
    await accounts.make(greta(), GOOD);
    await session(greta());
    const away = (n: number) => `198.51.100.${n}`;
    for (let i = 0; i < 10; i++) await signIn(greta().email, "wrong password", away(i));
    const shut = await signIn(greta().email, GOOD, away(99));
    expect(shut.status).toBe(429);
    expect(Number(shut.headers.get("retry-after"))).toBeGreaterThan(0);
    expect((await signIn(greta().email, GOOD)).status).toBe(200);
  });
});

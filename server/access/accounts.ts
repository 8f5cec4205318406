import { getMigrations } from "better-auth/db/migration";
import Database from "better-sqlite3";
import type { Person } from "../../core/policy/people.ts";
import { personOf } from "../../core/policy/setup.ts";
import type { Desk } from "../desk.ts";
import { networkOf } from "../http/address.ts";
import { ACCESS_CHANGED } from "../live/feed.ts";
import { CLIENT_ADDRESS, emailIn, makeAuth, SHORTEST } from "./auth.ts";
import { mailInvitation, mailOfChange } from "./mails.ts";
import { SignInLimits } from "./sign-in-limits.ts";
import { Signed } from "./signed.ts";

/** How long an invitation can be accepted, and a new address confirmed (ms). */
const GOOD_FOR = 7 * 86_400_000;
/** Under which name it is kept that somebody could sign in once: such a desk is never new again. */
const BEGUN = "desk-begun";
const TOO_SHORT = `A password has ${SHORTEST} characters at least. A few words make a good one.`;

/** Why the last administrator who can sign in stays as they are. */
export const NOBODY_LEFT =
  "Nobody could sign in as an administrator any more. Invite another administrator first.";

/** What went wrong with an account, in words for the person. */
export class AccountProblem extends Error {
  override readonly name = "AccountProblem";
}

/** By its name: the pages and the server are built apart, each with a class of its own. */
export const isAccountProblem = (error: unknown): error is AccountProblem =>
  error instanceof Error && error.name === "AccountProblem";

export interface SessionRow {
  readonly token: string;
  readonly createdAt: string;
  readonly userAgent: string | null;
  readonly ipAddress: string | null;
  readonly current: boolean;
}

/**
 * Accounts of the people who work here: better-auth on the desk's database, over a connection of its own. The desk's
 * connection never waits in the middle of a transaction, and this one may.
 */
export class Accounts {
  readonly #desk: Desk;
  readonly #database: Database.Database;
  readonly #auth: ReturnType<typeof makeAuth>;
  readonly #url: string;
  readonly #signed: Signed;
  readonly #limits = new SignInLimits();
  #first: Promise<unknown> = Promise.resolve();

  private constructor(desk: Desk, url: string, secret: string) {
    this.#desk = desk;
    this.#url = url;
    this.#signed = new Signed(secret);
    this.#database = new Database(desk.sql.path);
    this.#database.pragma("busy_timeout = 5000");
    this.#auth = makeAuth(desk, this.#database, url, secret);
  }

  static async open(desk: Desk, url: string): Promise<Accounts> {
    const accounts = new Accounts(desk, url, desk.kept.ownSecret("accounts"));
    const { runMigrations } = await getMigrations(accounts.#auth.options);
    await runMigrations();
    accounts.#noteBegun();
    return accounts;
  }

  /** A desk that has been somebody's stays so, also when nobody is left who can sign in. Never throws. */
  #noteBegun(): void {
    const { kept, office, log } = this.#desk;
    try {
      if (!this.isBegun() && (this.withAccount().size > 0 || office.audits(1, null).length > 0))
        kept.setCounter(BEGUN, 1);
    } catch (error) {
      log.warn({ err: error }, "that the desk has begun could not be noted");
    }
  }

  /** Whether the desk has ever been set up by somebody. */
  isBegun(): boolean {
    return this.#desk.kept.counter(BEGUN) !== null;
  }

  close(): void {
    this.#database.close();
  }

  /**
   * Whatever is asked of better-auth itself: signing in and out, resetting a password, one's own sessions. `address` is
   * where the request comes from.
   */
  async handle(request: Request, address: string): Promise<Response> {
    const network = networkOf(address);
    const headers = new Headers(request.headers);
    headers.set(CLIENT_ADDRESS, network);
    const text = request.method === "POST" ? await request.text() : null;
    const email = emailIn(text);
    const path = new URL(request.url).pathname.slice("/api/auth".length);
    const signsIn = path === "/sign-in/email" && email !== null;
    if (signsIn) {
      const seconds = await this.#limits.wait(email, network);
      if (seconds > 0)
        return new Response("Too many tries.", { status: 429, headers: { "retry-after": String(seconds) } });
    }
    // What is answered never tells whether a mail was sent.
    if (path === "/request-password-reset" && email && !(await this.#limits.mayReset(email)))
      return Response.json({ status: true });
    const init = { method: request.method, headers, ...(text !== null && { body: text }) };
    const answer = await this.#auth.handler(new Request(request.url, init));
    if (signsIn && answer.status !== 429) await this.#limits.tried(email, network, answer.ok);
    if (/^\/(sign-out|revoke-)/.test(path)) this.#desk.feed.publish(ACCESS_CHANGED);
    return answer;
  }

  /** Who is signed in by these headers; null when nobody is, or when they no longer work here. */
  async whoIs(headers: Headers): Promise<Person | null> {
    if (!headers.get("cookie")?.includes("kite-bell.")) return null;
    const session = await this.#session(headers);
    const person = personOf(this.#desk.setup, session?.user.personId);
    return person && !person.left ? person : null;
  }

  /** The session of these headers. On a disk that is full it is not made to last longer, and counts all the same. */
  async #session(headers: Headers) {
    try {
      return await this.#auth.api.getSession({ headers });
    } catch (error) {
      if (!this.#desk.sql.trouble) throw error;
      return this.#auth.api.getSession({ headers, query: { disableRefresh: true } });
    }
  }

  /** Whether the desk is nobody's yet: whoever comes first sets it up. */
  isNew(): boolean {
    return !this.isBegun() && this.withAccount().size === 0;
  }

  /**
   * Make the first account; false when somebody else has made it meanwhile. One at a time: hashing a password takes a
   * while, and two first visitors would both find the house empty.
   */
  first(person: Person, password: string): Promise<boolean> {
    const turn = this.#first.then(async () => {
      if (!this.isNew()) return false;
      await this.make(person, password);
      this.#desk.kept.setCounter(BEGUN, 1);
      return true;
    });
    this.#first = turn.catch(() => {});
    return turn;
  }

  /** Who has an account, by person. */
  withAccount(): ReadonlySet<string> {
    const rows = this.#database.prepare("select personId from user").all() as { personId: string }[];
    return new Set(rows.map((r) => r.personId));
  }

  /** Whether nobody could sign in as an administrator any more once this person is as given, or gone. */
  leavesNobody(person: Person): boolean {
    const known = this.withAccount();
    if (!known.has(person.id) || (person.role === "administrator" && !person.left)) return false;
    const before = personOf(this.#desk.setup, person.id);
    if (before?.role !== "administrator") return false;
    return !this.#desk.setup.people.some(
      (p) => p.id !== person.id && p.role === "administrator" && !p.left && known.has(p.id),
    );
  }

  /** Make an account for somebody who works here. */
  async make(person: Person, password: string): Promise<void> {
    if (password.length < SHORTEST) throw new AccountProblem(TOO_SHORT);
    const context = await this.#auth.$context;
    if (await context.internalAdapter.findUserByEmail(person.email))
      throw new AccountProblem(`${person.email} has an account already. Sign in, or ask for a new password.`);
    const user = await context.internalAdapter.createUser(
      { email: person.email, name: person.name, emailVerified: true, personId: person.id },
      { method: "email-password" },
    );
    await context.internalAdapter.linkAccount({
      userId: user.id,
      providerId: "credential",
      accountId: user.id,
      password: await context.password.hash(password),
    });
  }

  /** Sign in; gives the response that carries the session's cookie. */
  signIn(email: string, password: string, request: Request, address: string): Promise<Response> {
    const agent = request.headers.get("user-agent");
    return this.#ask("/sign-in/email", { email, password }, address, agent);
  }

  /** Send a link by which a new password is chosen, if the address has an account. What is answered never tells. */
  async forgotten(email: string, address: string): Promise<void> {
    await this.#ask("/request-password-reset", { email: email.toLowerCase() }, address);
  }

  /** Choose a new password by the token of that link; false when it is too old, was used, or the password too short. */
  async reset(token: string, newPassword: string, address: string): Promise<boolean> {
    return (await this.#ask("/reset-password", { token, newPassword }, address)).ok;
  }

  #ask(path: string, body: object, address: string, agent: string | null = null): Promise<Response> {
    const headers = new Headers({ "content-type": "application/json", origin: this.#url });
    if (agent) headers.set("user-agent", agent);
    const request = new Request(`${this.#url}/api/auth${path}`, {
      method: "POST",
      headers,
      body: JSON.stringify(body),
    });
    return this.handle(request, address);
  }

  /**
   * Somebody was changed in Set-up, or left. Who left is signed out. A changed address counts once it is confirmed there:
   * until then they sign in with the old one, which hears of it, and every session of theirs ends.
   */
  async follow(person: Person): Promise<void> {
    const row = this.#database.prepare("select id, email from user where personId = ?").get(person.id) as
      | { id: string; email: string }
      | undefined;
    if (!row) return;
    const context = await this.#auth.$context;
    if (person.left) await context.internalAdapter.deleteUser(row.id);
    else if (row.email !== person.email) {
      const token = this.#signed.token("confirm", [person.id, person.email, Date.now() + GOOD_FOR]);
      mailOfChange(this.#desk, person, row.email, `${this.#url}/confirm/${token}`);
      this.endSessions(person.id, { butToken: null });
    }
    this.#desk.feed.publish(ACCESS_CHANGED);
  }

  /** Whose new address a link confirms; null when it is not ours, too old, or no longer the address that was entered. */
  confirming(token: string): Person | null {
    const [personId, email, until] = this.#signed.read("confirm", token) ?? [];
    const person = personOf(this.#desk.setup, personId as string | undefined);
    return person && !person.left && person.email === email && Number(until) > Date.now() ? person : null;
  }

  /** They read mail at the new address: from now on they sign in with it. False when the link is no longer good. */
  async confirm(token: string): Promise<boolean> {
    const person = this.confirming(token);
    if (!person) return false;
    await this.signInWith(person);
    return true;
  }

  /** From now on they sign in with the address in Set-up, without being asked for it: for the machine's own command. */
  async signInWith(person: Person): Promise<void> {
    const row = this.#database.prepare("select id from user where personId = ?").get(person.id) as
      | { id: string }
      | undefined;
    const context = await this.#auth.$context;
    if (row)
      await context.internalAdapter.updateUser(row.id, {
        email: person.email,
        name: person.name,
        emailVerified: true,
      });
  }

  /** Choose a password for somebody with an account, and end their sessions: for the machine's own command. */
  async choosePassword(person: Person, password: string): Promise<void> {
    if (password.length < SHORTEST) throw new AccountProblem(TOO_SHORT);
    const row = this.#database.prepare("select id from user where personId = ?").get(person.id) as
      | { id: string }
      | undefined;
    if (!row) return this.make(person, password);
    const context = await this.#auth.$context;
    await context.internalAdapter.updatePassword(row.id, await context.password.hash(password));
    await this.signInWith(person);
    this.endSessions(person.id, { butToken: null });
  }

  /** Where somebody is signed in. */
  async sessionsOf(personId: string, headers: Headers | null): Promise<SessionRow[]> {
    const rows = this.#database
      .prepare(
        "select s.token, s.createdAt, s.userAgent, s.ipAddress from session s join user u on u.id = s.userId where u.personId = ? order by s.createdAt desc",
      )
      .all(personId) as {
      token: string;
      createdAt: string;
      userAgent: string | null;
      ipAddress: string | null;
    }[];
    const current = headers ? (await this.#auth.api.getSession({ headers }))?.session.token : undefined;
    return rows.map((row) => ({
      ...row,
      createdAt: new Date(row.createdAt).toISOString(),
      current: row.token === current,
    }));
  }

  /** End sessions of somebody: one, or all but one. */
  endSessions(personId: string, which: { token: string } | { butToken: string | null }): number {
    const one = "token" in which;
    const ended = this.#database
      .prepare(
        `delete from session where userId in (select id from user where personId = ?) and token ${one ? "=" : "<>"} ?`,
      )
      .run(personId, one ? which.token : (which.butToken ?? "")).changes;
    this.#desk.feed.publish(ACCESS_CHANGED);
    return ended;
  }

  /** The address at which somebody chooses a password; good for a week, and while they have no account. */
  invitation(personId: string): string {
    return `${this.#url}/join/${this.#signed.token("join", [personId, Date.now() + GOOD_FOR])}`;
  }

  /** Send the invitation by mail. */
  invite(person: Person, by: Person): void {
    mailInvitation(this.#desk, person, by, this.invitation(person.id));
  }

  /** Whom an invitation invites; null when it is not ours, too old, or was accepted. */
  invited(token: string): Person | null {
    const [personId, until] = this.#signed.read("join", token) ?? [];
    const person = personOf(this.#desk.setup, personId as string | undefined);
    return person && !person.left && Number(until) > Date.now() && !this.withAccount().has(person.id)
      ? person
      : null;
  }
}

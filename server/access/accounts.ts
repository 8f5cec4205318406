import { createHmac, timingSafeEqual } from "node:crypto";
import { betterAuth } from "better-auth";
import { getMigrations } from "better-auth/db/migration";
import Database from "better-sqlite3";
import type { Person } from "../../core/policy/people.ts";
import { personOf } from "../../core/policy/policy.ts";
import type { Desk } from "../desk.ts";

/** Where the client's address is handed to better-auth, for its rate limit: set by us alone. */
export const CLIENT_ADDRESS = "x-kite-bell-client";

const DAY = 86_400;
/** How long an invitation can be accepted (ms). */
const INVITED_FOR = 7 * 86_400_000;
/** The shortest password that is taken. */
export const SHORTEST = 10;

/** What went wrong with an account, in words for the person. */
export class AccountProblem extends Error {
  override readonly name = "AccountProblem";
}

/** By its name: the pages and the server are built apart, each with a class of its own. */
export const isAccountProblem = (error: unknown): error is AccountProblem =>
  error instanceof Error && error.name === "AccountProblem";

function makeAuth(desk: Desk, database: Database.Database, url: string, secret: string) {
  return betterAuth({
    database,
    secret,
    baseURL: url,
    basePath: "/api/auth",
    trustedOrigins: [url],
    telemetry: { enabled: false },
    logger: { disabled: true },
    // Who works here is decided in Set-up; an account only opens the door to somebody who does.
    emailAndPassword: {
      enabled: true,
      disableSignUp: true,
      minPasswordLength: SHORTEST,
      maxPasswordLength: 200,
      revokeSessionsOnPasswordReset: true,
      resetPasswordTokenExpiresIn: 3_600,
      sendResetPassword: async ({ user, token }) => {
        desk.sql.transaction(() =>
          desk.queueNotice({
            channel: "email",
            to: user.email,
            personId: null,
            key: `reset:${token}`,
            subject: "A new password for Kite Bell",
            body: `Somebody, you we hope, wants a new password for ${user.email}.\n\nSet it within the hour: ${url}/reset?token=${token}\n\nIf it was not you, do nothing: your password stays as it is.`,
            purpose: "account",
          }),
        );
        desk.outbox.kick();
      },
    },
    user: { additionalFields: { personId: { type: "string", required: true, input: false } } },
    session: { expiresIn: 30 * DAY, updateAge: DAY },
    rateLimit: {
      enabled: true,
      window: 60,
      max: 120,
      storage: "memory",
      customRules: {
        "/sign-in/email": { window: 60, max: 8 },
        "/request-password-reset": { window: 600, max: 5 },
      },
    },
    advanced: {
      cookiePrefix: "kite-bell",
      useSecureCookies: url.startsWith("https:"),
      ipAddress: { ipAddressHeaders: [CLIENT_ADDRESS] },
    },
  });
}

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
  readonly #secret: string;
  #first: Promise<unknown> = Promise.resolve();

  private constructor(desk: Desk, url: string, secret: string) {
    this.#desk = desk;
    this.#url = url;
    this.#secret = secret;
    this.#database = new Database(desk.sql.path);
    this.#database.pragma("busy_timeout = 5000");
    this.#auth = makeAuth(desk, this.#database, url, secret);
  }

  static async open(desk: Desk, url: string): Promise<Accounts> {
    const accounts = new Accounts(desk, url, desk.kept.ownSecret("accounts"));
    const { runMigrations } = await getMigrations(accounts.#auth.options);
    await runMigrations();
    return accounts;
  }

  close(): void {
    this.#database.close();
  }

  /** Whatever is asked of better-auth itself: signing in and out, resetting a password, one's own sessions. */
  handle(request: Request, address: string): Promise<Response> {
    const headers = new Headers(request.headers);
    headers.set(CLIENT_ADDRESS, address);
    return this.#auth.handler(new Request(request, { headers }));
  }

  /** Who is signed in by these headers; null when nobody is, or when they no longer work here. */
  async whoIs(headers: Headers): Promise<Person | null> {
    if (!headers.get("cookie")?.includes("kite-bell.")) return null;
    const session = await this.#auth.api.getSession({ headers });
    const person = personOf(this.#desk.setup, session?.user.personId);
    return person && !person.left ? person : null;
  }

  /** Whether nobody has an account yet: then the first visitor makes the administrator's. */
  async isNew(): Promise<boolean> {
    const { count } = this.#database.prepare("select count(*) as count from user").get() as { count: number };
    return count === 0;
  }

  /**
   * Make the first account; false when somebody else has made it meanwhile. One at a time: hashing a password takes a
   * while, and two first visitors would both find the house empty.
   */
  first(person: Person, password: string): Promise<boolean> {
    const turn = this.#first.then(async () => {
      if (!(await this.isNew())) return false;
      await this.make(person, password);
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

  /** Make an account for somebody who works here. */
  async make(person: Person, password: string): Promise<void> {
    if (password.length < SHORTEST)
      throw new AccountProblem(
        `A password has ${SHORTEST} characters at least. A few words make a good one.`,
      );
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

  /** The person's address changed, or they left: what they sign in with follows, and who left is signed out. */
  async follow(person: Person): Promise<void> {
    const row = this.#database.prepare("select id, email from user where personId = ?").get(person.id) as
      | { id: string; email: string }
      | undefined;
    if (!row) return;
    const context = await this.#auth.$context;
    if (person.left) await context.internalAdapter.deleteUser(row.id);
    else if (row.email !== person.email)
      await context.internalAdapter.updateUser(row.id, { email: person.email, name: person.name });
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
    return this.#database
      .prepare(
        `delete from session where userId in (select id from user where personId = ?) and token ${one ? "=" : "<>"} ?`,
      )
      .run(personId, one ? which.token : (which.butToken ?? "")).changes;
  }

  /** The address at which somebody chooses a password; good for a week, and while they have no account. */
  invitation(personId: string): string {
    const payload = Buffer.from(JSON.stringify([personId, Date.now() + INVITED_FOR])).toString("base64url");
    return `${this.#url}/join/${payload}.${this.#sign(payload)}`;
  }

  /** Send the invitation by mail. */
  invite(person: Person, by: Person): void {
    const desk = this.#desk;
    const address = this.invitation(person.id);
    desk.sql.transaction(() => {
      desk.queueNotice({
        channel: "email",
        to: person.email,
        personId: person.id,
        key: `invite:${address.slice(-32)}`,
        subject: `${by.name} invites you to Kite Bell`,
        body: `${by.name} has put you on the desk of ${desk.setup.policies.company.name}.\n\nChoose a password within a week: ${address}`,
        purpose: "account",
      });
      desk.office.audit(by.id, `invitation of ${person.name}`, { after: person.email });
    });
    desk.outbox.kick();
  }

  /** Whom an invitation invites; null when it is not ours, too old, or was accepted. */
  invited(token: string): Person | null {
    const [payload = "", signature = ""] = token.split(".");
    const expected = Buffer.from(this.#sign(payload));
    const given = Buffer.from(signature);
    if (expected.length !== given.length || !timingSafeEqual(expected, given)) return null;
    const [personId, until] = JSON.parse(Buffer.from(payload, "base64url").toString()) as [string, number];
    const person = personOf(this.#desk.setup, personId);
    return person && !person.left && until > Date.now() && !this.withAccount().has(personId) ? person : null;
  }

  #sign(payload: string): string {
    return createHmac("sha256", this.#secret).update(`join.${payload}`).digest("base64url");
  }
}

import { betterAuth } from "better-auth";
import type Database from "better-sqlite3";
import type { Desk } from "../desk.ts";

/** Where the client's address is handed to better-auth, for its rate limit: set by us alone. */
export const CLIENT_ADDRESS = "x-kite-bell-client";

/** A day, as sessions count (s). */
const DAY = 86_400;

/** The shortest password that is taken. */
export const SHORTEST = 10;

/** Accounts by better-auth on the desk’s database: who works here is decided in Set-up, an account only opens the door. */
export function makeAuth(desk: Desk, database: Database.Database, url: string, secret: string) {
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

/** The address somebody signs in with by this body; null when it names none. */
export function emailIn(body: string | null): string | null {
  try {
    const { email } = JSON.parse(body ?? "") as { email?: unknown };
    return typeof email === "string" ? email.trim().toLowerCase().slice(0, 254) : null;
  } catch {
    return null;
  }
}

import { z } from "zod";
import { time } from "./bounds.ts";

/** Accounts, roles and keys, as they cross the wire. */

const scope = z.enum(["read", "leads", "setup"]);

export const Access = z.object({
  people: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      email: z.string(),
      role: z.string(),
      hasAccount: z.boolean(),
    }),
  ),
  roles: z.array(z.object({ role: z.string(), rights: z.array(z.string()) })),
  rights: z.array(z.object({ key: z.string(), said: z.string() })),
  scopes: z.array(z.object({ key: scope, said: z.string() })),
});
export const Invited = z.object({
  url: z.string(),
  mailed: z.boolean().describe("Whether mail leaves; else the address must be handed over"),
});
export const Ended = z.object({ ended: z.number() });
export const MakeKey = z.object({
  name: z.string().trim().min(1, "Say which program it is for."),
  scopes: z.array(scope).min(1, "Choose what it may do."),
});
export const MadeKey = z.object({ key: z.string(), id: z.string() });
export const Key = z.object({
  id: z.string(),
  name: z.string(),
  start: z.string(),
  scopes: z.array(scope),
  at: time,
  by: z.string(),
  lastUsedAt: time.nullable(),
  revokedAt: time.nullable(),
});
export const Revoked = z.object({ revoked: z.boolean() });
export const EndSessions = z.object({ token: z.string().optional() });
export const Session = z.object({
  token: z.string(),
  createdAt: time,
  userAgent: z.string().nullable(),
  ipAddress: z.string().nullable(),
  current: z.boolean(),
});

export type Access = z.infer<typeof Access>;
export type Key = z.infer<typeof Key>;
export type MadeKey = z.infer<typeof MadeKey>;
export type Session = z.infer<typeof Session>;

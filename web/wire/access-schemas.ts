import { z } from "zod";
import { line, time, wall } from "./bounds.ts";

/** Accounts, roles and keys, as they cross the wire. */

const scope = z.enum(["read", "leads", "setup"]);

const most = (n: number) => z.number().int().min(0, "0 or more.").max(n, `${n} at most.`);
const backupPolicy = {
  on: z.boolean(),
  time: wall,
  keep: z
    .object({ daily: most(60), weekly: most(104), monthly: most(240) })
    .describe("The newest of so many last days, weeks and months"),
};
const away = z.object({
  url: z.string().max(2000, "2,000 characters at most.").describe("https://s3.example.com/bucket/folder"),
  region: z.string().max(100, "100 characters at most.").default(""),
  keyId: z.string().min(1, "Enter the name of the key.").max(500, "500 characters at most."),
});
export const SaveBackups = z.object({
  ...backupPolicy,
  away: away
    .extend({
      secret: z
        .string()
        .max(500, "500 characters at most.")
        .optional()
        .describe("Of the key; as it is when left out; never read back"),
    })
    .nullable()
    .optional()
    .describe(
      "Where sealed ones are copied besides, by S3's protocol, tried before it is kept; null: nowhere; as it is when left out",
    ),
  passphrase: z
    .string()
    .min(12, "12 characters at least: a backup has everything in it.")
    .max(500, "500 characters are the most here.")
    .nullable()
    .optional()
    .describe("Seals those made from now on; null: they are not sealed; as it is when left out"),
});
export const Backups = z.object({
  ...backupPolicy,
  sealed: z.boolean(),
  away: away.extend({ hasSecret: z.boolean() }).nullable(),
  place: z.string().describe("The folder they are in, on the machine the desk runs on"),
  nextAt: time.nullable(),
  last: z
    .object({
      at: time,
      state: z.enum(["running", "done", "failed"]),
      error: z.string().nullable(),
      awayError: z.string().nullable().describe("What is wrong with its copy; the backup itself is whole"),
    })
    .nullable()
    .describe("How the last one of this process went"),
  items: z.array(
    z.object({
      name: z.string(),
      at: time,
      sealed: z.boolean(),
      leads: z.number(),
      events: z.number(),
      files: z.number(),
      bytes: z.number().describe("Of the desk’s file; the files of messages are shared by all backups"),
    }),
  ),
});

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

const way = z.enum(["email", "text", "chat"]);
export const Ways = z.object({
  rehearsal: z.boolean().describe("Stand-ins take everything; nothing can be set"),
  reports: z
    .object({ calls: z.string(), messages: z.string(), secret: z.string() })
    .describe("Where the gateway for texts and calls reports to, and what it signs with"),
  items: z.array(
    z.object({
      way,
      from: z.enum(["environment", "set-up"]).nullable(),
      shown: z.string().nullable().describe("Where it leads, without a password"),
      server: z
        .object({
          host: z.string(),
          port: z.number(),
          security: z.enum(["tls", "starttls", "none"]),
          user: z.string(),
        })
        .nullable()
        .describe("The mail server, without its password"),
      setting: z.string().describe("The variable that goes before what is set here"),
      down: z.object({ since: time, error: z.string() }).nullable(),
      waiting: z.number(),
    }),
  ),
});
export const PutWay = z.discriminatedUnion("way", [
  z.object({
    way: z.literal("email"),
    server: z
      .object({
        host: line.trim().min(1, "Say which server takes mail."),
        port: z.number().int().min(1).max(65_535),
        security: z.enum(["tls", "starttls", "none"]),
        user: line,
        password: line.nullable().describe("Null keeps the one that is kept"),
      })
      .nullable(),
  }),
  z.object({ way: z.enum(["text", "chat"]), url: line.nullable() }),
]);
export const TestWay = z.object({ way });
export const WayTested = z.object({ ok: z.boolean(), said: z.string() });

export type Ways = z.infer<typeof Ways>;
export type Way = Ways["items"][number];
export type PutWay = z.input<typeof PutWay>;
export type Access = z.infer<typeof Access>;
export type Key = z.infer<typeof Key>;
export type MadeKey = z.infer<typeof MadeKey>;
export type Session = z.infer<typeof Session>;
export type Backups = z.infer<typeof Backups>;
export type SaveBackups = z.input<typeof SaveBackups>;

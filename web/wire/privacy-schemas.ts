import { z } from "zod";
import { SHORTEST_QUIET } from "../../core/setup/change-privacy.ts";
import { When } from "./answering-schemas.ts";
import { BellsSetup } from "./bells-schemas.ts";
import { time } from "./bounds.ts";

/** What is kept of people, handed to them, and erased, on the wire. */

const quietDays = z
  .number("Give the days.")
  .int("Give whole days.")
  .min(SHORTEST_QUIET, `${SHORTEST_QUIET} days are the least.`)
  .max(36_500, "A hundred years are the most.");
export const RetentionRule = z.object({
  id: z.string().min(1).max(100),
  name: z
    .string()
    .trim()
    .min(1, "Give the rule a name to find it by.")
    .max(200, "200 characters are the most here."),
  when: When.nullable().describe("Which leads; null for all"),
  quietDays: quietDays.describe("Days without anything having happened"),
  off: z.boolean().optional(),
});
export type RetentionRule = z.infer<typeof RetentionRule>;

export const SavePrivacy = z.object({
  rules: z.array(RetentionRule).max(50),
  noticeDays: z
    .number("Give the days.")
    .int()
    .min(1, "One day at least: time to hold somebody back.")
    .max(90, "90 days are the most.")
    .describe("So long a rule’s leads are listed before they are erased"),
});

const Erasure = z.object({
  id: z.string(),
  leadId: z.string(),
  who: z.string().describe("How the lead is called now"),
  askedAt: time,
  by: z.string().nullable().describe("Who asked, by name; null when a rule did"),
  because: z.string(),
  dueAt: time,
  doneAt: time.nullable(),
  said: z.string().describe("What was erased, or why they were kept"),
  backups: z.array(z.string()).describe("Backups that still hold them"),
});
export const Privacy = SavePrivacy.extend({
  catalogue: BellsSetup.shape.catalogue,
  sentences: z.record(z.string(), z.string()).describe("Each rule’s condition in words, by its id"),
  waiting: z.array(Erasure).describe("The next first"),
  waitingCount: z.number(),
  done: z.array(Erasure).describe("The newest first"),
  doneCount: z.number(),
  kept: z.array(Erasure),
  zone: z.string(),
});
export type Privacy = z.infer<typeof Privacy>;

export const TryRetention = z.object({ id: z.string().max(100), when: When.nullable(), quietDays });
export const TriedRetention = z.object({
  count: z.number().describe("So many would be listed the next night, 2,000 at most"),
  items: z.array(z.object({ id: z.string(), who: z.string(), last: time })).describe("The quietest first"),
});

export const Erase = z.object({
  because: z.string().max(1_000, "1,000 characters are the most here.").default(""),
});
export const Kept = z.object({ kept: z.literal(true) });

export const PersonSummary = z.object({
  leads: z.array(z.object({ id: z.string(), who: z.string(), came: time })),
  contact: z.string().nullable(),
  consents: z.array(z.object({ at: time, source: z.string(), wording: z.string(), said: z.string() })),
  events: z.number(),
  messages: z.number(),
  inquiries: z.number(),
  files: z.number(),
  erasure: z.object({ id: z.string(), dueAt: time }).nullable().describe("When they will be erased"),
});
export type PersonSummary = z.infer<typeof PersonSummary>;

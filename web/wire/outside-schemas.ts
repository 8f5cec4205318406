import { z } from "zod";
import { id, time } from "./bounds.ts";
import { Event, Receipt } from "./schemas.ts";

/** What other programs read and hand in on their own, on the wire. */

export const EventFeed = z.object({
  items: z.array(Event),
  next: z.string().describe("Where to go on from, also when nothing more has happened yet"),
  more: z.boolean().describe("Whether there is more already"),
});

export const ManyInquiries = z.object({
  source: id.describe("The key of the source they come by"),
  inquiries: z
    .array(z.record(z.string().max(200), z.union([z.string(), z.number(), z.boolean(), z.null()])))
    .min(1, "One inquiry at least.")
    .max(500, "500 are the most at once."),
});
export const ManyReceipts = z.object({
  items: z
    .array(Receipt)
    .describe("One for each inquiry, in their order; one that came before has its first receipt"),
});

export const OpenLink = z.object({
  id: z.string(),
  kind: z.enum(["calendar", "list"]),
  list: z.object({ id: z.string(), name: z.string() }).nullable(),
  format: z.enum(["csv", "json"]).nullable(),
  at: time,
  lastUsedAt: time.nullable(),
});
export const MakeListLink = z.object({ format: z.enum(["csv", "json"]).default("csv") });
export const MadeLink = z.object({ id: z.string(), url: z.string().describe("Shown this once") });
export const RevokedLink = z.object({ revoked: z.literal(true) });

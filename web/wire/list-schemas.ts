import { z } from "zod";
import { When } from "./answering-schemas.ts";
import { line, time, wall } from "./bounds.ts";
import { CatalogueField } from "./routing-schemas.ts";
import { Lead } from "./schemas.ts";

/** Leads in a table: saved lists, their columns, their pages. */

const SHARED = ["me", "desk", "salesperson", "coordinator", "manager", "administrator"] as const;
const columns = z.array(z.string().max(120)).min(1, "Choose one column at least.").max(20);

export const LeadsPage = z.object({
  items: z.array(
    Lead.extend({
      cells: z
        .record(z.string(), z.string())
        .optional()
        .describe("What stands in the columns that were asked for"),
    }),
  ),
  next: z.string().nullable(),
  count: z
    .number()
    .nullable()
    .optional()
    .describe(
      "How many there are in all, on the first page of a list; null where it can’t be counted at once",
    ),
});

const Tell = z.object({
  enters: z.boolean().describe("Be told of each lead that comes into it"),
  over: z
    .number("Give a number of leads.")
    .int()
    .min(0)
    .max(1_000_000_000)
    .nullable()
    .describe("Be told when it has more leads than that"),
});

export const SavedList = z.object({
  id: z.string(),
  name: z.string(),
  where: When.nullable(),
  said: z.string().describe("The condition in words"),
  columns: z.array(z.string()),
  sort: z.string(),
  shared: z.enum(SHARED),
  by: z.string(),
  mine: z.boolean().describe("Whether whoever asks may change it"),
  pinned: z.boolean(),
  first: z.boolean().describe("Whether it is the page one begins with"),
  tell: Tell,
  seenAt: time.nullable(),
  count: z.number().nullable(),
  fresh: z.number().nullable().describe("How many of them came since it was looked at last"),
});
export const ListName = z.object({ id: z.string(), name: z.string() });
export const Lists = z.object({
  items: z.array(SavedList),
  next: z.string().nullable(),
  columns: z.array(z.object({ key: z.string(), name: z.string(), sort: z.string().nullable() })),
  usual: z.array(z.string()).describe("The columns of a list nobody has chosen any for"),
  catalogue: z.array(CatalogueField),
});
export const SaveList = z.object({
  id: z.string().optional(),
  name: line,
  where: When.nullable().default(null),
  columns: columns.default(["name"]),
  sort: z.string().default("recent"),
  shared: z.enum(SHARED).default("me"),
  pinned: z.boolean().optional(),
});
export const LookAtList = z.object({
  pinned: z.boolean().optional(),
  first: z.boolean().optional(),
  tell: Tell.optional(),
});

const To = z.object({ kind: z.enum(["person", "hook"]), id: z.string() });
const FORMAT = z.enum(["csv", "json", "vcf"]);
const weekday = z.number().int().min(1).max(7).nullable().describe("1 (Monday) to 7; null for every day");
export const SendList = z.object({
  to: To,
  format: FORMAT.default("csv").describe("Other systems get JSON"),
  weekday: weekday.default(null),
  time: wall.default("08:00"),
});
export const ListSend = z.object({
  id: z.string(),
  to: To.extend({ name: z.string() }),
  format: FORMAT,
  weekday,
  time: wall,
  by: z.string(),
  nextAt: time,
  lastAt: time.nullable(),
  said: z.string().nullable().describe("What became of the last one"),
});
const Choice = z.object({ id: z.string(), name: z.string() });
export const ListSends = z.object({
  items: z.array(ListSend),
  next: z.string().nullable(),
  people: z.array(Choice).describe("To whom it may be sent"),
  hooks: z.array(Choice),
});
export const SentNow = z.object({ said: z.string() });

export const SearchPage = z.object({
  items: z.array(
    z.object({
      kind: z.literal("lead"),
      id: z.string(),
      title: z.string(),
      where: z
        .enum(["name", "company", "number", "address", "field", "note", "said"])
        .describe("What it was found by"),
      at: time.nullable().describe("When that was written; null for what simply is so"),
      snippet: z.string(),
      marks: z.array(z.tuple([z.number(), z.number()])).describe("What of the snippet was looked for"),
      lead: Lead,
    }),
  ),
  records: z
    .array(
      z.object({
        kind: z.enum(["company", "contact", "deal"]),
        id: z.string(),
        name: z.string(),
        said: z.string(),
      }),
    )
    .describe("Companies, contacts and deals with these words in their name"),
  next: z.string().nullable(),
  behind: z.number().describe("How many things that happened are not looked through yet"),
});

const count = z.number().int();
export const Today = z.object({
  date: z.string(),
  live: z.boolean().describe("Whether it is the day that is going on"),
  cameIn: count,
  byHour: z.array(count).describe("Inquiries by hour of the desk’s clock"),
  usual: z.array(z.number()).describe("The same on the last four of these weekdays, in the mean"),
  targets: count.describe("Response targets of the day that are due or answered"),
  inTarget: count,
  waiting: count.nullable().describe("Now; null of a past day"),
  rung: count.nullable(),
  rang: count.describe("Leads that rang on the day"),
  tries: count,
  reached: count,
  lapsed: count,
  repliesWaiting: count.nullable(),
  dueLeft: count.nullable().describe("What is still to be done today"),
  people: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      onDuty: z.boolean(),
      has: count.nullable(),
      oldestUntried: time.nullable(),
      tries: count,
      reached: count,
      taken: count,
      behind: count.nullable(),
    }),
  ),
});
export const MyDay = z.object({
  items: z.array(
    z.object({
      leadId: z.string(),
      name: z.string(),
      at: time,
      said: z.string(),
      actId: z.string().nullable().describe("The act it can be taken back by"),
    }),
  ),
  next: z.string().nullable(),
});

export type Today = z.infer<typeof Today>;
export type SearchPage = z.infer<typeof SearchPage>;
export type LeadsPage = z.infer<typeof LeadsPage>;
export type SavedList = z.infer<typeof SavedList>;
export type ListSends = z.infer<typeof ListSends>;
export type Lists = z.infer<typeof Lists>;

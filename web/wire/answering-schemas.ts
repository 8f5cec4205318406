import { z } from "zod";
import type { Condition, FieldKey } from "../../core/condition/tree.ts";
import { ALERTS } from "../../core/policy/alerts.ts";
import type { AlertAbout } from "../../core/vocabulary.ts";
import { ALERT_WAYS } from "../../core/vocabulary.ts";
import { line, lines, time } from "./bounds.ts";

/** Replies, templates, restraint and what stands around a conversation, as they cross the wire. */

const channel = z.enum(["email", "text"]);

const Test = z.object({
  field: z.custom<FieldKey>((v) => typeof v === "string"),
  is: z.enum([
    "equal",
    "not-equal",
    "one-of",
    "contains",
    "starts-with",
    "known",
    "unknown",
    "at-least",
    "at-most",
    "from",
    "before",
    "between",
  ]),
  value: z.union([line, z.number(), z.array(line).max(500)]).optional(),
});
/** A condition tree, as rules and replies use it. */
export const When: z.ZodType<Condition> = z.lazy(() =>
  z.union([
    Test as unknown as z.ZodType<Condition>,
    z.object({ all: z.array(When) }),
    z.object({ any: z.array(When) }),
    z.object({ none: z.array(When) }),
  ]),
);

export const ReplyWay = z.object({
  on: z.boolean(),
  choices: z.array(z.object({ when: When.nullable(), templateId: z.string().min(1) })),
  delayMinutes: z
    .number("Give the delay in minutes.")
    .int()
    .min(0, "A delay cannot be negative.")
    .max(43_200, "Thirty days at most."),
  hours: z.enum(["any", "allowed"]),
  from: z.string().nullable(),
});
export const ReplyPolicy = z.object({ email: ReplyWay, text: ReplyWay });
export const Again = z.object({
  hours: z.number().min(0).max(720, "Thirty days at most."),
  email: z.string().nullable(),
  text: z.string().nullable(),
});
const Named = z.object({ key: z.string(), name: z.string() });
export const RepliesSetup = z.object({
  usual: ReplyPolicy,
  again: Again,
  sources: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      channel: z.string(),
      line: z.string().nullable(),
      own: ReplyPolicy.nullable(),
    }),
  ),
  templates: z.array(z.object({ id: z.string(), name: z.string(), channel })),
  products: z.array(Named),
  languages: z.array(z.string()),
  allowed: z.object({ from: z.string(), to: z.string() }),
});
export const ChangeReplies = z.object({
  usual: ReplyPolicy,
  again: Again,
  sources: z.record(z.string(), ReplyPolicy.nullable()),
});
/** What one person would get, were these the policies. */
export const TryReplies = ChangeReplies.extend({
  sourceId: z.string(),
  leadId: z.string().nullable(),
  at: z.enum(["now", "night"]),
});
export const TriedReply = z.object({
  channel,
  does: z.enum(["send", "hold", "nothing"]),
  at: time.nullable(),
  to: z.string().nullable(),
  from: z.string().nullable(),
  template: z.string().nullable(),
  subject: z.string().nullable(),
  body: z.string().nullable(),
  reason: z.string(),
  missing: z.boolean(),
});
export const TriedReplies = z.object({
  lead: z.string(),
  at: time,
  zone: z.string(),
  replies: z.array(TriedReply),
});

export const File = z.object({
  fileId: z.string(),
  name: z.string(),
  type: z.string(),
  size: z.number().int(),
});
export const TemplateText = z.object({ subject: line.optional(), body: lines });
export const Template = z.object({
  id: z.string(),
  name: line,
  channel,
  texts: z.record(z.string().max(35), TemplateText),
  attachments: z.array(File).optional(),
});
export const TemplateRow = Template.extend({
  uses: z.array(z.string()),
  sent: z.number().int(),
  replied: z.number().int(),
  low: z.number(),
  high: z.number(),
});
/** A field that templates and alerts may use. */
export const MergeField = z.object({
  path: z.string(),
  name: z.string(),
  type: z.string(),
  maybeEmpty: z.boolean(),
});
export const TemplatesSetup = z.object({
  items: z.array(TemplateRow),
  fields: z.array(MergeField),
  languages: z.array(z.string()),
});
export const TemplateVersion = z.object({ at: time, by: z.string().nullable(), template: Template });
export const TryTemplate = z.object({
  template: Template,
  language: z.string(),
  leadId: z.string().nullable(),
});
export const TriedTemplate = z.object({
  lead: z.string(),
  faults: z.array(z.object({ path: z.string(), message: z.string(), line: z.number(), column: z.number() })),
  subject: z.string().nullable(),
  body: z.string().nullable(),
  html: z.string().nullable(),
});

export const RestraintSetup = z.object({
  allowed: z.object({
    from: z.string().regex(/^\d\d:\d\d$/, "Give a time such as 08:00."),
    to: z.string().regex(/^\d\d:\d\d$/, "Give a time such as 21:00."),
  }),
  perDay: z.number().int().min(1, "At least one.").max(10, "Ten at most."),
  gapMinutes: z.number().int().min(0).max(10_080, "A week at most.").optional(),
  perLineMinute: z
    .object({
      email: z.number().int().min(1).nullable().optional(),
      text: z.number().int().min(1).nullable().optional(),
    })
    .optional()
    .describe("Messages of cadences by one line within a minute"),
  perSourceHour: z
    .number()
    .int()
    .min(1, "At least one.")
    .max(100_000, "A hundred thousand at most.")
    .nullish()
    .describe("First replies to new people, an hour and source; learned from its rhythm when null"),
  words: z.object({
    stop: z.array(line).max(100),
    start: z.array(line).max(100),
    help: z.array(line).max(100),
  }),
  answers: z.object({
    stop: z.record(z.string().max(35), lines),
    start: z.record(z.string().max(35), lines),
    help: z.record(z.string().max(35), lines),
  }),
});
export const Suppressed = z.object({
  value: z.string(),
  at: time,
  by: z.string().nullable(),
  reason: z.string(),
});
export const Suppress = z.object({
  values: z.string().min(1, "Write or paste numbers and addresses."),
  reason: z.string().trim().default(""),
});
export const SuppressDone = z.object({ added: z.number(), known: z.number(), wrong: z.array(z.string()) });

export const MessageDraft = z.object({
  channel,
  subject: z.string().max(500),
  body: z.string().max(50_000),
  templateId: z.string().nullable(),
});
export const Pin = z.object({ text: z.string().max(200, "A line is enough: 200 characters at most.") });
export const MarkStop = z.object({
  channel: z.enum(["email", "text", "call"]),
  stop: z.boolean(),
  said: z.string().default(""),
});
export const Unschedule = z.object({ id: z.string() });
export const Merged = z.object({ subject: z.string().nullable(), body: z.string() });

const AlertMatrix = z.record(z.string(), z.array(z.enum(ALERT_WAYS)));
const About = z.enum(Object.keys(ALERTS) as [AlertAbout, ...AlertAbout[]]);
export const AlertsSetup = z.object({
  events: z.array(z.object({ about: About, name: z.string(), urgent: z.boolean() })),
  usual: AlertMatrix,
  words: z.record(z.string(), z.string()).describe("What alerts say in the company’s own words"),
  usualWords: z.record(z.string(), z.string()).describe("What they usually say, of somebody made up"),
  fields: z.array(MergeField),
  people: z.array(z.object({ id: z.string(), name: z.string(), role: z.string(), own: AlertMatrix })),
});
export const ChangeAlerts = z.object({
  personId: z.string().nullable().describe("Null changes the company’s own way"),
  matrix: AlertMatrix,
});
export const ChangeAlertWords = z.object({ words: z.partialRecord(About, line) });
export const TestAlert = z.object({ about: About });

const Delay = z.object({
  days: z.number().int().min(0).max(365, "A year at most.").optional(),
  hours: z.number().min(0).max(720).optional(),
  skipWeekend: z.boolean().optional(),
  at: z
    .string()
    .regex(/^\d\d:\d\d$/, "Give a time such as 09:30.")
    .optional(),
});
export const OutcomeSetup = z.object({
  key: z.string(),
  name: z.string(),
  reached: z.boolean(),
  next: Delay.extend({
    kind: z.enum(["call", "text", "email", "task"]),
    note: z.string(),
  }).nullable(),
});
export const BookingSetup = z.object({
  minutes: z.number().int().min(10, "Ten minutes at least.").max(240),
  bufferMinutes: z.number().int().min(0).max(240),
  noticeMinutes: z.number().int().min(0).max(20_160, "Two weeks at most."),
  daysAhead: z.number().int().min(1).max(60, "Sixty days at most."),
  people: z.array(z.string()),
});
export const CallsSetup = z.object({ outcomes: z.array(OutcomeSetup), booking: BookingSetup });

export const PlaceCall = z.object({ leadId: z.string().min(1) });
export const OpenCall = z.object({
  id: z.string(),
  leadId: z.string(),
  name: z.string().nullable(),
  phone: z.string(),
  pinned: z.string().nullable(),
  there: z.string().nullable().describe("Their zone"),
  state: z.enum(["ringing-us", "ringing-them", "talking", "ended"]),
  talkedFrom: time.nullable(),
  seconds: z.number(),
  result: z.string().nullable(),
  likely: z.string().nullable().describe("The outcome it most likely came to"),
  notes: z.string(),
});
export const CallNotes = z.object({ notes: z.string().max(5_000) });
export const PlayPhone = z.object({
  callId: z.string(),
  does: z.enum(["answer", "voicemail", "no-answer", "busy", "hang-up"]),
});
export const OnTheLine = z.object({
  id: z.string(),
  us: z.string(),
  them: z.string(),
  state: z.enum(["ringing-them", "talking"]),
});

export const Trouble = z.object({
  key: z.string(),
  channel: z.enum(["email", "text", "chat"]).nullable().describe("A way out that does not work"),
  said: z.string().nullable().describe("In words, where it is no way out that is down"),
  since: time,
  waiting: z.number().int(),
  error: z.string(),
  sourceId: z.string().nullable().describe("Of replies that are held: the source they can be let go for"),
});
export const ReleaseReplies = z.object({
  sourceId: z.string(),
  send: z.boolean().describe("False drops them"),
});
export const ReleasedReplies = z.object({ leads: z.number().int() });

export type RepliesSetup = z.infer<typeof RepliesSetup>;
export type ReplyPolicy = z.infer<typeof ReplyPolicy>;
export type ReplyWay = z.infer<typeof ReplyWay>;
export type ChangeReplies = z.infer<typeof ChangeReplies>;
export type TriedReplies = z.infer<typeof TriedReplies>;
export type Template = z.infer<typeof Template>;
export type TemplateRow = z.infer<typeof TemplateRow>;
export type TemplatesSetup = z.infer<typeof TemplatesSetup>;
export type TemplateVersion = z.infer<typeof TemplateVersion>;
export type TriedTemplate = z.infer<typeof TriedTemplate>;
export type RestraintSetup = z.infer<typeof RestraintSetup>;
export type Suppressed = z.infer<typeof Suppressed>;
export type MessageDraft = z.infer<typeof MessageDraft>;
export type Trouble = z.infer<typeof Trouble>;
export type OpenCall = z.infer<typeof OpenCall>;
export type OnTheLine = z.infer<typeof OnTheLine>;
export type AlertsSetup = z.infer<typeof AlertsSetup>;
export type CallsSetup = z.infer<typeof CallsSetup>;
export type OutcomeSetup = z.infer<typeof OutcomeSetup>;
export type File = z.infer<typeof File>;

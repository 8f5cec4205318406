import { z } from "zod";
import { CHANNELS } from "../../core/vocabulary.ts";
import { id, line, lines, time } from "./bounds.ts";
import { NewLead } from "./schemas.ts";

/** What crosses the wire when sources, mappings, fields and imports are set up. */

const text = z.record(z.string(), z.string());
export const Channel = z.enum(CHANNELS);
const factKey = z.union([
  z.enum([
    "name",
    "first_name",
    "last_name",
    "email",
    "phone",
    "company",
    "product",
    "message",
    "address",
    "postal_code",
    "language",
    "preferred",
    "call_when",
    "tag",
    "detail",
  ]),
  z.templateLiteral(["own.", z.string()]),
]);
const phoneKind = z.enum(["mobile", "home", "work", "other"]);

export const FieldMapping = z.object({
  to: z.union([factKey, z.literal("answer")]),
  kind: phoneKind.optional(),
  translate: text.optional(),
  order: z.literal("family-first").optional(),
});
export const Mapping = z.object({
  version: z.number().int().default(1),
  fields: z.record(z.string(), FieldMapping),
  joins: z.array(z.object({ from: z.array(z.string()).min(2), between: z.string(), to: factKey })),
  constants: z.partialRecord(factKey, z.string()),
  tags: z.array(z.string()),
});

export const FormField = z.object({
  name: z.string().regex(/^[a-z][a-z0-9_]*$/, "Use small letters, digits and _ for a field's name."),
  label: z.string().trim().min(1, "Every question needs words."),
  type: z.enum(["text", "email", "tel", "area", "choice", "consent"]),
  required: z.boolean(),
  choices: z.array(
    z.object({
      value: z.string().min(1),
      label: z.string().min(1),
      sets: z.object({ tag: z.string().optional(), product: z.string().optional() }).optional(),
    }),
  ),
  help: z.string().optional(),
});
export const WebForm = z.object({
  title: z.string(),
  intro: z.string(),
  button: z.string().min(1),
  thanks: z.string().min(1),
  fields: z.array(FormField).max(100, "A hundred questions are the most."),
  frames: z
    .array(
      z
        .string()
        .max(200)
        .regex(/^https?:\/\/[a-z0-9.-]+(:\d{1,5})?$/, "Write a site as https://www.example.com."),
    )
    .max(20)
    .optional()
    .describe("Sites that may show the form’s own page in a frame"),
});

export const NewSource = z.object({
  name: z.string().trim().min(1, "Give the source a name."),
  channel: Channel,
  line: z.string().trim().optional(),
});
export const SourceChange = z.object({
  name: z.string().trim().min(1).optional(),
  state: z.enum(["draft", "live", "paused"]).optional(),
  line: z.string().trim().optional(),
  lineOwnerId: z.string().nullable().optional(),
  lineGroupId: z.string().nullable().optional(),
  mapping: Mapping.optional(),
  form: WebForm.optional(),
});
export const TryMapping = z.object({ fields: text, mapping: Mapping });
export const TestRun = z.object({
  fields: text,
  mapping: Mapping.optional(),
  /** Offered to whom the rules say; left out, to whoever tests alone. */
  byRules: z.boolean().optional(),
});

const Lack = z.object({ stops: z.boolean(), said: z.string() });
export const Health = z.object({
  sourceId: z.string(),
  lastAt: time.nullable(),
  total: z.number(),
  week: z.number(),
  weekBefore: z.number(),
  usualNow: z.number(),
  expectedSince: z.number(),
  silenceChance: z.number(),
  quiet: z.boolean(),
  knowsRhythm: z.boolean(),
  unsigned: z.number(),
  quarantined: z.number(),
  failure: z.string().nullable(),
  changed: z.object({ added: z.array(z.string()), gone: z.array(z.string()) }),
  days: z.array(z.number()),
});
const AdForm = z.object({
  accountId: z.string(),
  accountName: z.string(),
  pageName: z.string(),
  formId: z.string(),
  formName: z.string(),
  questions: z.array(z.object({ field: z.string(), label: z.string() })),
});
export const SourceRow = z.object({
  id: z.string(),
  key: z.string(),
  name: z.string(),
  channel: Channel,
  state: z.enum(["draft", "live", "paused"]),
  line: z.string().nullable(),
  formerLines: z.array(z.string()).describe("Still listened on"),
  lineOwnerId: z.string().nullable(),
  lineGroupId: z.string().nullable(),
  replies: z.array(z.string()).describe("Ways the first reply goes out by"),
  health: Health,
  lacks: z.array(Lack),
  unmapped: z.array(z.object({ field: z.string(), times: z.number() })),
});
export const SourceDetail = SourceRow.extend({
  mapping: Mapping,
  guessed: z.record(z.string(), FieldMapping).describe("What fields without a mapping are taken for"),
  form: WebForm.nullable(),
  adForm: AdForm.nullable(),
  samples: z.array(
    z.object({
      id: z.string(),
      at: time,
      state: z.string(),
      fields: text,
      unreadable: z.string().nullable(),
    }),
  ),
  versions: z.array(z.object({ version: z.number(), at: time, by: z.string().nullable(), mapping: Mapping })),
});
export const Tried = z.object({
  ok: z.boolean(),
  reason: z.string().nullable(),
  facts: z.array(z.object({ name: z.string(), value: z.string() })),
  answers: text,
});

export const OwnField = z.object({
  key: z.string().regex(/^[a-z][a-z0-9_]*$/),
  name: z.string().trim().min(1, "Every field needs a name."),
  type: z.enum(["text", "number", "money", "date", "birthday", "yes-no", "choice", "choices", "link"]),
  choices: z.array(z.string()),
  required: z.boolean(),
});
export const FieldsSetup = z.object({
  fields: z.array(OwnField),
  tags: z.array(z.object({ name: z.string().trim().min(1), meaning: z.string() })),
  completeness: z.array(
    z.object({ fact: z.union([factKey, z.literal("territory")]), weight: z.number().min(0).max(100) }),
  ),
});

export const ImportOptions = z.object({
  fields: z.record(z.string(), FieldMapping),
  tags: z.array(z.string()),
  route: z.boolean(),
  takeErased: z
    .boolean()
    .optional()
    .describe("Take in those too whose data was erased: they have asked to be known again"),
});
export const CheckImport = ImportOptions.extend({ fileId: z.string(), sourceId: z.string() });
export const StartImport = CheckImport.extend({ name: z.string(), total: z.number().int() });
export const ImportPreview = z.object({
  fileId: z.string(),
  name: z.string(),
  encoding: z.string(),
  delimiter: z.string(),
  headers: z.array(z.string()),
  rows: z.array(z.array(z.string())),
  fields: z.record(z.string(), FieldMapping),
  remembered: z.boolean(),
});
export const ImportCheck = z.object({
  total: z.number(),
  fresh: z.number(),
  known: z.number(),
  knownRows: z.array(
    z.object({ row: z.number(), who: z.string(), lead: z.string(), leadId: z.string(), on: z.string() }),
  ),
  twice: z.number(),
  rejected: z.number(),
  erased: z.number().describe("Of the rejected those whose data was erased on request"),
  rejectedRows: z.array(z.object({ row: z.number(), reason: z.string(), cells: z.array(z.string()) })),
  unread: z.number().describe("Rows that are loaded although a number or an address can't be read"),
  unreadRows: z.array(z.object({ row: z.number(), who: z.string(), said: z.array(z.string()) })),
});
export const Import = z.object({
  id: z.string(),
  at: time,
  by: z.string(),
  source: z.string(),
  name: z.string(),
  state: z.enum(["running", "done", "failed", "undone"]),
  total: z.number(),
  done: z.number(),
  made: z.number(),
  joined: z.number(),
  rejected: z.number(),
  finishedAt: time.nullable(),
  error: z.string().nullable(),
});

export const Replay = z.object({ insisted: z.boolean().default(false) });
export const WhoMayBe = z.object({ fields: text });
export const Join = z.object({ with: z.string().min(1) });
export const Part = z.object({ from: z.string().min(1) });
export const NotSame = z.object({ leadId: z.string().min(1) });
export const Shared = z.object({ value: z.string().min(1), shared: z.boolean() });
const way = z.enum(["call", "text", "email"]);
const Related = z.object({
  name: line.trim().min(1, "Give their name."),
  relation: line,
  leadId: id.nullable(),
});
export const Learn = z.object({
  name: line.optional(),
  company: line.optional(),
  emails: z.array(line).max(20, "Twenty are the most.").optional(),
  phones: z
    .array(z.object({ number: line, kind: phoneKind.optional() }))
    .max(20, "Twenty are the most.")
    .optional(),
  product: line.optional(),
  message: lines.optional(),
  postalCode: line.optional(),
  address: line.optional(),
  language: line.optional(),
  preferred: way.nullable().optional(),
  forbidden: z.array(way).optional(),
  detail: line.optional(),
  tags: z.array(z.string().max(60, "A tag has 60 characters at most.")).max(100).optional(),
  own: z.record(id, lines).optional(),
  related: z.array(Related).max(50, "Fifty are the most.").optional(),
  unread: z.array(line).max(20, "Twenty are the most.").optional(),
});
export const Entry = NewLead.extend({ more: Learn.optional() });

export const ConnectAds = z.object({ formId: z.string(), accountId: z.string() });
export const EmailIn = z.object({
  from: z.string().min(1),
  to: z.string().min(1),
  subject: z.string().default(""),
  body: z.string(),
  headers: text.optional(),
  attachments: z.array(z.object({ name: z.string(), type: z.string(), content: z.string() })).optional(),
});
export const CallIn = z.object({
  from: z.string().min(1),
  to: z.string().min(1),
  result: z.enum(["answered", "missed", "voicemail"]),
  seconds: z.number().min(0).default(0),
});

export const PutAds = z.object({ url: line.nullable() });
export const Ads = z.object({
  address: z.object({ url: z.string(), from: z.enum(["environment", "set-up"]) }).nullable(),
  since: z.object({ at: time, by: z.string() }).nullable().describe("Who connected it, and when"),
  connected: z.boolean(),
  problem: z.string().nullable(),
  accounts: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      pages: z.array(
        z.object({
          id: z.string(),
          name: z.string(),
          forms: z.array(z.object({ id: z.string(), name: z.string(), source: z.string().nullable() })),
        }),
      ),
    }),
  ),
});

/** What is asked of fields and tags, and the products there are to choose from. */
export const KnownFields = FieldsSetup.extend({
  products: z.array(z.object({ key: z.string(), name: z.string() })),
});

export type SourceRow = z.infer<typeof SourceRow>;
export type SourceDetail = z.infer<typeof SourceDetail>;
export type Mapping = z.infer<typeof Mapping>;
export type FieldMapping = z.infer<typeof FieldMapping>;
export type WebForm = z.infer<typeof WebForm>;
export type FormField = z.infer<typeof FormField>;
export type Tried = z.infer<typeof Tried>;
export type FieldsSetup = z.infer<typeof FieldsSetup>;
export type OwnField = z.infer<typeof OwnField>;
export type ImportPreview = z.infer<typeof ImportPreview>;
export type ImportCheck = z.infer<typeof ImportCheck>;
export type Import = z.infer<typeof Import>;
export type Ads = z.infer<typeof Ads>;

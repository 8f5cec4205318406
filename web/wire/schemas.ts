import { z } from "zod";
import { CORRECTED } from "../../core/intake/understand.ts";
import { CHANNELS } from "../../core/vocabulary.ts";
import { id, line, lines, time } from "./bounds.ts";

/** Everything that crosses the wire, described once: endpoints, client types and the OpenAPI document use these. */

const channel = z.enum(CHANNELS);

export const Problem = z.object({
  type: z.string(),
  code: z
    .string()
    .regex(/^[a-z][a-z0-9-]*$/)
    .describe("What programs decide by; the words are free to change"),
  title: z.string(),
  status: z.number().int(),
  detail: z.string(),
  errors: z.array(z.object({ path: z.string(), message: z.string() })).optional(),
});

export const TraceStep = z.object({
  kind: z.string(),
  name: z.string(),
  result: z.enum(["yes", "no"]),
  reason: z.string(),
});
export const Trace = z.object({
  outcome: z.string(),
  steps: z.array(TraceStep),
  rules: z.number().optional().describe("The version of the rules it went by"),
});

export const HandOff = z.object({
  state: z.enum(["offered", "taken", "open"]),
  to: z.array(z.string()),
  until: time.nullable(),
});
export const Bell = z.object({
  state: z.enum(["waiting", "answered", "rung", "none"]),
  startedAt: time.nullable(),
  dueAt: time.nullable(),
  answeredAt: time.nullable(),
  rangAt: time.nullable(),
});
export const NextStep = z.object({
  kind: z.string(),
  dueAt: time,
  note: z.string(),
  personId: z.string().nullable(),
  cadence: z.string().nullable().optional().describe("The cadence it is a touch of"),
});

export const Lead = z.object({
  id: z.string(),
  name: z.string().nullable(),
  emails: z.array(z.string()),
  phones: z.array(z.string()).describe("E.164"),
  company: z.string().nullable(),
  stage: z.string(),
  sourceId: z.string(),
  tags: z.array(z.string()),
  ownerId: z.string().nullable(),
  creditId: z.string().nullable(),
  handOff: HandOff.nullable(),
  bell: Bell,
  tries: z.number().int().describe("Human attempts only"),
  nextStep: NextStep.nullable(),
  inquiries: z.number().int(),
  createdAt: time,
  lastActivityAt: time,
  closed: z.object({ reason: z.string(), at: time }).nullable(),
  erasing: z.object({ dueAt: time }).nullable().describe("When everything that names them will be erased"),
  erased: z.object({ at: time }).nullable().describe("When it was: what is left names nobody"),
  listed: z.object({ reason: z.string(), at: time }).nullable(),
  engaged: z
    .object({ personId: z.string(), how: z.enum(["call", "writing"]), until: time })
    .nullable()
    .describe("Who talks or writes to them just now: nothing rings or moves on meanwhile"),
  replyWaiting: time.nullable(),
  facts: z.object({
    product: z.string().nullable(),
    value: z.number().nullable(),
    message: z.string().nullable(),
    postalCode: z.string().nullable(),
    territory: z.string().nullable(),
    zone: z.string().nullable(),
    language: z.string(),
    answers: z.record(z.string(), z.string()),
    own: z.record(z.string(), z.union([z.string(), z.number(), z.boolean(), z.array(z.string())])),
    address: z.string().nullable(),
    preferred: z.enum(["call", "text", "email"]).nullable(),
    forbidden: z.array(z.enum(["call", "text", "email"])),
    kinds: z.record(z.string(), z.string()),
    detail: z.string().nullable(),
    unread: z
      .array(z.string())
      .describe("Numbers and addresses that could not be read, as they were written"),
  }),
  test: z.boolean().describe("Made by a test through the real path"),
  callBack: time.nullable().describe("Since when they wait to be called back"),
  shared: z.array(z.string()).describe("Numbers and addresses several people share"),
  related: z.array(z.object({ name: z.string(), relation: z.string(), leadId: z.string().nullable() })),
  joinedTo: z.string().nullable(),
  turn: z
    .object({ personId: z.string(), groupId: z.string() })
    .nullable()
    .describe("The turn it cost, if a rotation chose"),
  coversFor: z.string().nullable().describe("Whose it is while its owner only covers"),
  parked: z
    .object({ reason: z.string(), at: time, lookAt: time.nullable(), nextAt: time.nullable() })
    .nullable()
    .describe("Set aside without a person"),
  cadences: z
    .array(
      z.object({
        runId: z.string(),
        cadenceId: z.string(),
        name: z.string(),
        version: z.number(),
        state: z.enum(["running", "paused", "stopped", "done"]),
        next: z
          .object({ n: z.number(), kind: z.string(), at: time.nullable() })
          .nullable()
          .describe("Counting from 1; without a time while it waits for somebody’s work"),
        reason: z.string().nullable().describe("Why it pauses or has stopped"),
      }),
    )
    .describe("Cadences it is in, and the latest it was in"),
  tasks: z.array(z.object({ id: z.string(), note: z.string(), dueAt: time, to: z.array(z.string()) })),
  handedOver: z
    .object({
      companyId: z.string().nullable(),
      contactId: z.string().nullable(),
      dealId: z.string().nullable(),
      at: time,
    })
    .nullable()
    .describe("What it has become"),
  asked: z
    .array(
      z.object({ noteId: z.string(), by: z.string(), to: z.array(z.string()), text: z.string(), at: time }),
    )
    .describe("What colleagues were asked about it, and have not answered"),
  customer: z.object({ since: time }).nullable().describe("Since when they are a customer: no open lead"),
  promise: z.object({ text: z.string(), at: time, personId: z.string() }).nullable(),
  others: z
    .array(z.object({ kind: z.string(), state: z.string(), dueAt: time }))
    .describe("Bells that run for other reasons than the inquiry"),
  pinned: z.string().nullable().describe("What one should know when dialling"),
  stops: z.array(
    z.object({
      channel: z.enum(["call", "text", "email"]),
      at: time,
      how: z.enum(["word", "unsubscribe", "person"]),
      said: z.string(),
    }),
  ),
});

/** The lead as it is now, and what by which this is taken back. */
export const Acted = Lead.extend({ actId: z.string() });

/** Somebody who was entered is known, and is nobody's business of whoever entered them. */
export const KnownAlready = z.object({ known: z.literal(true), has: z.string() });

export const Maybe = z.object({
  leadId: z.string(),
  name: z.string().nullable(),
  about: z.string(),
  points: z.number(),
  evidence: z.array(z.object({ points: z.number(), said: z.string() })),
});

export const WhoTheyMayBe = z.object({
  sure: z.object({ id: z.string(), name: z.string().nullable() }).nullable(),
  likely: z.array(Maybe),
  unread: z.array(z.string()),
});

export const Event = z.object({
  id: z.string(),
  leadId: z.string(),
  at: time,
  kind: z.string(),
  actor: z.string().describe("A person's name, “the lead” or “the desk”"),
  summary: z.string(),
  talk: z.boolean().describe("Said or done between them and us, not how the desk ran it"),
  data: z.record(z.string(), z.unknown()),
  actId: z.string(),
  why: Trace.optional(),
});

export const Person = z.object({
  id: z.string(),
  name: z.string(),
  role: z.enum(["coordinator", "salesperson", "manager", "administrator"]),
  email: z.string(),
  phone: z.string(),
  onDuty: z.boolean(),
  openLeads: z.number().int(),
  offDutyBecause: z.string().nullable(),
  backAt: time
    .nullable()
    .describe("While somebody is away or off duty: when they, and what is theirs, come back"),
});
export const Group = z.object({
  id: z.string(),
  name: z.string(),
  memberIds: z.array(z.string()),
  way: z.string(),
});
export const Source = z.object({
  id: z.string(),
  key: z.string(),
  name: z.string(),
  channel,
  state: z.enum(["draft", "live", "paused"]),
  line: z.string().optional(),
  signingSecret: z.string().optional().describe("In rehearsal only"),
});

export const Receipt = z.object({
  inquiryId: z.string(),
  leadId: z.string().nullable(),
  matched: z.enum(["new", "sure", "none"]),
  quarantined: z.boolean(),
});

export const NewLead = z.object({
  name: line.trim().optional(),
  phone: line.trim().optional(),
  email: line.trim().optional(),
  company: line.trim().optional(),
  note: lines.trim().optional(),
  sourceId: id.optional(),
  facts: z.record(z.string(), z.string()).optional(),
  route: z.boolean().default(true),
  ownerId: z.string().optional(),
});
export const Take = z.object({ personId: z.string().min(1) });
export const Pass = z.object({ personId: id.min(1), reason: line });
export const Give = z.object({
  to: id.min(1),
  reason: line.default(""),
  steps: z.enum(["move", "stay"]).default("move").describe("Whether the next step moves along"),
});
export const Step = z.object({
  kind: z.enum(["call", "text", "email", "task"]),
  dueAt: time,
  note: lines,
});
export const Here = z.object({ here: z.boolean() });
export const AlsoHere = z.object({ others: z.array(z.object({ id: z.string(), name: z.string() })) });
export const Try = z.object({
  personId: z.string().min(1),
  channel: z.enum(["call", "text", "email", "visit"]),
  outcome: line.min(1),
  note: lines.optional(),
  nextStep: Step.nullish(),
  callId: z.string().optional().describe("The call made from the desk that it was"),
  knows: z
    .number()
    .int()
    .min(0)
    .optional()
    .describe("How many tries whoever logs it knew of: refused when somebody else has logged one since"),
  text: z
    .object({ templateId: id, callBackSeconds: z.number().int().min(0).max(60).optional() })
    .optional()
    .describe("A text that goes along with it"),
});
export const Message = z.object({
  personId: z.string().min(1),
  channel: z.enum(["text", "email"]),
  subject: line.optional(),
  body: lines.trim().min(1, "Write something before sending."),
  sendAt: time.nullish().describe("Goes then, and is their try then"),
  callBackSeconds: z.number().int().min(0).max(60).optional().describe("So long it can be undone"),
  anyway: z.boolean().optional().describe("False asks for a refusal when something stands against it"),
  files: z
    .array(z.object({ fileId: z.string(), name: z.string(), type: z.string(), size: z.number().int() }))
    .optional(),
  templateId: z.string().nullish(),
});
export const Fault = z.object({
  part: line,
  message: line,
  stack: z.string().max(4_000),
  page: line,
});
export const Noted = z.object({ noted: z.boolean() });
export const Undo = z.object({ actId: z.string().min(1) });
export const Note = z.object({
  text: lines,
  asks: z.boolean().default(false).describe("Whoever is named is asked, until one of them answers"),
});
export const Close = z.object({ reason: line });

export const Quarantined = z.object({
  id: z.string(),
  sourceId: z.string(),
  receivedAt: time,
  reason: z.string().nullable(),
  contentType: z.string(),
  raw: z.string(),
  insistable: z
    .boolean()
    .describe("It could be read and was held back: a lead can be made of it all the same"),
  seems: z
    .partialRecord(z.enum(CORRECTED), z.string())
    .describe("Who it seems to be from and what they want, as it was written"),
});
export const Corrected = z.object({ fields: z.partialRecord(z.enum(CORRECTED), z.string().max(20_000)) });
export const QuarantineMany = z.object({
  ids: z.array(id).min(1).max(200, "200 at a time at most."),
  act: z.enum(["replay", "take", "dismiss", "put-back"]),
});
export const Replayed = z.object({
  quarantined: z.boolean(),
  reason: z.string().nullable(),
  leadId: z.string().nullable(),
});

export const Clock = z.object({ now: time });
export const MoveClock = z.union([
  z.object({
    advance: z
      .string()
      .regex(
        /^P(?!$)(\d+D)?(T(?!$)(\d+H)?(\d+M)?(\d+(\.\d+)?S)?)?$/,
        "Give an ISO 8601 duration such as PT6M.",
      ),
  }),
  z.object({ to: time }),
]);
export const SetTutorial = z.object({ on: z.boolean() });
export const Tutorial = z.object({
  role: z.string(),
  steps: z
    .array(
      z.object({ key: z.string(), title: z.string(), how: z.string(), href: z.string(), done: z.boolean() }),
    )
    .nullable()
    .describe("Null while one does not learn"),
});
export const HookReceiver = z.object({
  url: z.string().describe("Enter it under Set-up, Other systems"),
  items: z
    .array(z.object({ id: z.string(), at: time, body: z.string() }))
    .describe("What it was told, the newest first"),
});
export const StandinBucket = z.object({
  url: z.string().describe("Enter it under Set-up, Backups, with the key and its secret"),
  keyId: z.string(),
  secret: z.string(),
  items: z.array(z.object({ name: z.string(), bytes: z.number() })),
});
export const SetTraffic = z.object({ perMinute: z.number().min(0).max(120, "120 a minute are the most.") });
export const Traffic = z.object({
  perMinute: z.number(),
  arrived: z.number(),
  took: z.number(),
  passed: z.number(),
  forgot: z.number(),
  called: z.number(),
  wroteBack: z.number(),
});
export const SetDown = z.object({ channel: z.enum(["email", "text", "chat"]), down: z.boolean() });
export const Downs = z.object({ down: z.array(z.string()) });
export const Begin = z.object({ with: z.enum(["morning", "empty"]) });
export const Begun = z.object({ begun: z.enum(["morning", "empty"]) });
export const Moved = z.object({ now: time, timersRun: z.number().int() });
export const TextIn = z.object({
  from: z.string().min(1),
  to: z.string().default(""),
  body: z.string().min(1),
});
export const AdFormIn = z.object({
  source: z.string(),
  answers: z.record(z.string(), z.string()),
  hold: z.boolean().default(false).describe("Keep it at the platform, as in an outage"),
});
export const AdQuestionIn = z.object({
  source: z.string(),
  field: z.string().min(1),
  label: z.string().min(1),
});
export const Outside = z.object({
  id: z.string(),
  at: time,
  channel: z.enum(["text", "email", "chat", "call", "hook"]),
  to: z.string(),
  from: z.string(),
  subject: z.string().optional(),
  body: z.string(),
  url: z.string().optional(),
  headers: z.record(z.string(), z.string()).optional(),
  html: z.string().optional(),
  calendar: z.string().optional(),
  files: z.array(z.object({ name: z.string(), size: z.number() })).optional(),
});

/** One row of the queue: a lead and the words the row shows. */
export const QueueRow = Lead.extend({
  wants: z.string(),
  product: z.string().nullable(),
  source: z.string(),
  holder: z.string().describe("Who has it and how that stands"),
  place: z.string(),
  said: z
    .object({
      at: time,
      how: z.enum(["form", "email", "text", "chat", "voicemail", "call"]),
      text: z.string().nullable(),
    })
    .nullable()
    .describe("The newest thing they have said"),
  lastTryAt: time.nullable(),
  rungSince: time.nullable().describe("Since when it has been in the band *rung*"),
});
export const Queue = z.object({
  now: time,
  zone: z.string(),
  desk: z.object({ open: z.boolean(), until: time.nullable().describe("When it closes, or opens next") }),
  onDuty: z.array(z.object({ id: z.string(), name: z.string() })),
  quarantined: z.number().int().describe("What waits in quarantine, for those who may mend it"),
  sources: z.array(z.object({ id: z.string(), name: z.string() })),
  bands: z.array(
    z.object({
      band: z.enum(["answer", "rung", "again", "today", "later"]),
      count: z.number().int(),
      items: z.array(QueueRow),
    }),
  ),
});

export const ThreadItem = Event.extend({
  messages: z.array(
    z.object({
      id: z.string(),
      channel: z.string(),
      state: z.enum(["queued", "sent", "delivered", "dead", "withdrawn"]),
      sentAt: time.nullable(),
      error: z.string().nullable(),
    }),
  ),
  undo: z.string().nullable().describe("What can be taken back of this act"),
});
export const Sheet = z.object({
  now: time,
  lead: QueueRow,
  phonesReadable: z.array(z.string()),
  place: z.string().nullable(),
  stage: z.string().describe("What its stage is called"),
  thenTo: z.string().nullable().describe("Who would be asked next"),
  completeness: z.object({
    percent: z.number(),
    missing: z.array(z.object({ fact: z.string(), name: z.string(), raises: z.number() })),
  }),
  maybe: z.array(Maybe),
  joined: z.array(z.object({ id: z.string(), name: z.string().nullable() })),
  own: z.array(
    z.object({
      key: z.string(),
      name: z.string(),
      type: z.string(),
      choices: z.array(z.string()),
      required: z.boolean(),
      said: z.string().nullable(),
      written: z.string(),
    }),
  ),
  scheduled: z.array(
    z.object({
      id: z.string(),
      at: time,
      channel: z.enum(["email", "text"]),
      what: z.string(),
      body: z.string(),
      by: z.string().nullable(),
    }),
  ),
  warnings: z.object({
    text: z.array(z.object({ forbids: z.boolean(), said: z.string() })),
    email: z.array(z.object({ forbids: z.boolean(), said: z.string() })),
  }),
  lastWay: z.enum(["email", "text"]).nullable(),
  theirZone: z.string(),
  templates: z.array(z.object({ id: z.string(), name: z.string(), channel: z.enum(["email", "text"]) })),
  slowPlans: z
    .array(z.object({ id: z.string(), name: z.string() }))
    .describe("Cadences it can be parked into"),
  begins: z.array(z.object({ id: z.string(), name: z.string() })).describe("Cadences it can begin now"),
  cadences: z.array(
    z.object({
      runId: z.string(),
      cadenceId: z.string(),
      name: z.string(),
      version: z.number(),
      state: z.enum(["running", "paused", "stopped", "done"]),
      next: z.object({ n: z.number(), kind: z.string(), at: time.nullable() }).nullable(),
      reason: z.string().nullable(),
      startedAt: time,
      until: time.nullable(),
      stops: z.array(z.string()),
      held: z.string().nullable().describe("Why the next touch comes later than planned"),
      touches: z.array(
        z.object({
          n: z.number(),
          kind: z.string(),
          at: time,
          said: z.string(),
          state: z.enum(["done", "skipped", "next", "to-come"]),
          why: z.string(),
        }),
      ),
    }),
  ),
  bells: z
    .array(
      z.object({
        name: z.string(),
        target: z.string(),
        ladder: z.string(),
        rung: z.boolean(),
        said: z.string(),
        rungs: z.array(z.object({ at: time, said: z.string(), done: z.boolean() })),
      }),
    )
    .describe("Bells that run, with their rungs"),
  calm: z.array(z.object({ rule: z.string(), until: time })).describe("Wake rules that are calm for it"),
  thread: z.array(ThreadItem),
});
export const Outcome = z.object({
  key: z.string(),
  name: z.string(),
  reached: z.boolean(),
  next: z.object({ note: z.string(), dueAt: time }).nullable(),
  otherwise: z.string().nullable().describe("What happens instead of a next step"),
});
export const Reach = z.object({
  phone: line.describe("As it is dialled; empty for none"),
  chat: line.describe("As @name; empty for none"),
});
export const Me = z.object({
  id: z.string(),
  name: z.string(),
  notify: z.array(z.string()).describe("What the browser tells of"),
  role: z.string(),
  rehearsal: z.boolean(),
  rights: z.array(z.string()).describe("What the caller may do"),
  phone: z.string(),
  chat: z.string(),
  offDuty: z.boolean(),
  offUntil: time.nullable(),
  zone: z.string().describe("Of their own hours"),
  draftWaits: z.boolean().describe("Whether rules wait to be published, for those who may"),
  firstSteps: z.number().describe("How many first steps are left, for those who may set up"),
  linkLength: z.number().describe("How long a link is as texts carry it (characters)"),
  giveReasons: z.array(z.string()),
  closeReasons: z.array(z.string()),
  passReasons: z.array(z.string()),
});

export const listOf = <T extends z.ZodType>(item: T) =>
  z.object({ items: z.array(item), next: z.string().nullable() });

export type Maybe = z.infer<typeof Maybe>;
export type Lead = z.infer<typeof Lead>;
export type Receipt = z.infer<typeof Receipt>;
export type Quarantined = z.infer<typeof Quarantined>;
export type Acted = z.infer<typeof Acted>;
export type Queue = z.infer<typeof Queue>;
export type QueueRow = z.infer<typeof QueueRow>;
export type Sheet = z.infer<typeof Sheet>;
export type ThreadItem = z.infer<typeof ThreadItem>;
export type Trace = z.infer<typeof Trace>;
export type Person = z.infer<typeof Person>;
export type Group = z.infer<typeof Group>;
export type Source = z.infer<typeof Source>;
export type Outcome = z.infer<typeof Outcome>;
export type Me = z.infer<typeof Me>;
export type Outside = z.infer<typeof Outside>;
export type Problem = z.infer<typeof Problem>;
export type Event = z.infer<typeof Event>;
export type AlsoHere = z.infer<typeof AlsoHere>;

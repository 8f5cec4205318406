import { z } from "zod";
import { HOOK_EVENTS, HOOK_TRAITS, type HookEvent, type HookTrait } from "../../core/policy/hooks.ts";
import { When } from "./answering-schemas.ts";
import { BellsSetup } from "./bells-schemas.ts";
import { id, line, lines, time } from "./bounds.ts";

/** What crosses the wire about stages, questions, customers, deals, estimates and other systems. Sums are in the currency's whole unit. */

const sum = z.union([z.number(), z.string().max(30)]);
const money = z.number().describe("In the currency’s whole unit");
const kind = z.enum(["open", "won", "lost", "none"]);
const end = z.enum(["won", "lost", "none"]);
const staged = z.enum(["lead", "deal"]);

export const Stage = z.object({
  key: line.default(""),
  name: line,
  kind: kind.default("open"),
  of: staged.optional(),
  asks: z.array(line).max(50).default([]).describe("What must be known before it is entered"),
  from: z
    .array(line)
    .max(50)
    .optional()
    .describe("From where it may be entered; from everywhere when left out"),
  by: z.enum(["owner", "movers"]).optional(),
  when: z.enum(["sent", "accepted", "declined"]).optional(),
  entry: z
    .object({
      task: line.optional(),
      tag: line.optional(),
      tell: z.array(id).max(50).optional(),
    })
    .optional(),
});
export const Reason = z.object({
  key: line.default(""),
  name: line,
  kind: end,
  of: staged.optional(),
  turnBack: z.boolean().optional(),
  cadenceId: id.optional(),
  againMonths: z.number().int().optional(),
});
export const SaveStages = z.object({
  stages: z.array(Stage).max(60),
  reasons: z.array(Reason).max(100),
  moves: z
    .record(z.string(), line)
    .optional()
    .describe("Where what stands in a stage that is gone goes, by keys"),
});
const Named = z.object({ key: z.string(), name: z.string() });
export const StagesSetup = z.object({
  stages: z.array(
    Stage.extend({ leads: z.number(), deals: z.number(), own: z.boolean(), questions: z.number() }),
  ),
  reasons: z.array(Reason),
  askable: z.array(z.object({ key: z.string(), name: z.string(), deal: z.boolean() })),
  slowPlans: z.array(z.object({ id: z.string(), name: z.string() })),
  people: z.array(z.object({ id: z.string(), name: z.string() })),
  begins: z
    .array(z.object({ stage: z.string(), cadence: z.string() }))
    .describe("Cadences that begin with a stage"),
});

const Points = z.object({
  points: z.number().int(),
  is: z.array(line).max(100).optional(),
  atLeast: z.number().optional(),
  atMost: z.number().optional(),
});
export const Question = z.object({
  key: line.default(""),
  words: line,
  field: line,
  help: lines.default(""),
  when: When.nullish(),
  requiredFor: line.nullish(),
  points: z.array(Points).max(50).default([]),
});
export const SaveQuestions = z.object({
  questionSets: z
    .array(
      z.object({
        id: id.default(""),
        name: line,
        when: When.nullable().default(null),
        questions: z.array(Question).max(60),
      }),
    )
    .max(60),
});
export const QuestionsSetup = SaveQuestions.extend({
  catalogue: BellsSetup.shape.catalogue,
  askable: z.array(
    z.object({ key: z.string(), name: z.string(), type: z.string(), choices: z.array(z.string()) }),
  ),
  stages: z.array(Named),
});

export const Asking = z.object({
  sets: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      questions: z.array(
        z.object({
          key: z.string(),
          words: z.string(),
          help: z.string(),
          field: z.string(),
          name: z.string(),
          type: z.string(),
          choices: z.array(z.object({ value: z.string(), label: z.string() })),
          answer: z.string().nullable(),
          said: z.string().nullable().describe("The answer as people read it"),
          from: z.string().nullable().describe("Where the answer comes from"),
          requiredFor: z.string().nullable(),
        }),
      ),
    }),
  ),
  stages: z.array(
    z.object({
      key: z.string(),
      name: z.string(),
      kind,
      here: z.boolean(),
      known: z.number(),
      asked: z.number(),
      missing: z.array(z.object({ field: z.string(), name: z.string() })),
      whyNot: z.string().nullable(),
      reasons: z.array(z.string()),
    }),
  ),
  score: z
    .object({
      points: z.number(),
      made: z.array(
        z.object({ field: z.string(), name: z.string(), answer: z.string(), points: z.number() }),
      ),
    })
    .nullable(),
});
export const Answers = z.object({ answers: z.record(z.string(), lines) });
export const AskLater = z.object({ question: line });
export const MoveStage = z.object({
  stage: line,
  answers: z.record(z.string(), lines).optional(),
  reason: line.optional(),
});
export const Reopen = z.object({ reason: line });

const Match = z.object({
  id: z.string(),
  name: z.string(),
  about: z.string(),
  points: z.number(),
  reasons: z.array(z.string()),
});
export const HandOverChoice = z.object({
  companies: z.array(Match),
  contacts: z.array(Match),
  said: z.object({
    company: z.string().nullable(),
    domain: z.string().nullable(),
    contact: z.string(),
    deal: z.string(),
    value: money,
    currency: z.string(),
  }),
  stages: z.array(Named),
  comesAlong: z.array(z.string()).describe("What goes on with the deal, in words"),
  cadences: z.array(z.string()),
  missing: z.array(z.object({ field: z.string(), name: z.string() })),
  over: z.boolean(),
});
const Chosen = z.object({
  id: id.optional(),
  name: line.optional(),
  domain: line.nullish(),
  role: line.nullish(),
});
export const HandOver = z.object({
  company: Chosen.nullable().default(null),
  contact: Chosen.nullable().default(null),
  deal: z
    .object({
      name: line.optional(),
      value: sum.optional(),
      expectedOn: line.nullish(),
      stage: line.optional(),
    })
    .nullable()
    .default(null),
  cadences: z.enum(["stop", "tasks"]).default("stop"),
});
export const HandedOver = z.object({
  companyId: z.string().nullable(),
  contactId: z.string().nullable(),
  dealId: z.string().nullable(),
  actId: z.string(),
  leadId: z.string(),
});

const Ref = z.object({ id: z.string(), name: z.string() });
const Told = z.object({ at: time, actor: z.string(), said: z.string(), what: z.string().nullable() });
const LeadRef = z.object({
  id: z.string(),
  name: z.string(),
  stage: z.string(),
  at: time,
  open: z.boolean(),
});
const DealRef = z.object({
  id: z.string(),
  name: z.string(),
  stage: z.string(),
  value: money,
  currency: z.string(),
  closed: z.string().nullable(),
  owner: z.string().nullable(),
  expectedOn: z.string().nullable(),
});
const Joined = z.array(Ref);

export const CompanyRow = z.object({
  id: z.string(),
  name: z.string(),
  domain: z.string().nullable(),
  phone: z.string().nullable(),
  address: z.string().nullable(),
  postalCode: z.string().nullable(),
  contacts: z.number(),
  deals: z.number(),
  won: money,
  currency: z.string(),
  lastActivityAt: time,
});
export const ContactRow = z.object({
  id: z.string(),
  name: z.string(),
  role: z.string().nullable(),
  company: Ref.nullable(),
  emails: z.array(z.string()),
  phones: z.array(z.string()),
  address: z.string().nullable(),
  language: z.string().nullable(),
  customerSince: time.nullable(),
  deals: z.number(),
  lastActivityAt: time,
});
const Whole = {
  leadIds: z.array(z.string()),
  joinedTo: z.string().nullable(),
  joined: Joined,
  likely: z.array(Match),
  leads: z.array(LeadRef),
  dealList: z.array(DealRef),
  people: z.array(z.string()).describe("Those of ours who have to do with them"),
  steps: z.array(z.object({ what: z.string(), at: time, href: z.string() })),
  thread: z.array(Told).describe("Everything that ever happened, the newest first"),
};
export const Company = CompanyRow.extend({
  phoneReadable: z.string().nullable(),
  ...Whole,
  contactList: z.array(Ref.extend({ role: z.string().nullable() })),
});
export const Contact = ContactRow.extend({ ...Whole, phonesReadable: z.array(z.string()) });
export const ChangeCustomer = z.object({
  name: line.optional(),
  domain: line.optional(),
  phone: line.optional(),
  address: line.optional(),
  postalCode: line.optional(),
  role: line.optional(),
  language: line.optional(),
  companyId: id.nullish(),
  emails: z.array(line).max(50).optional(),
  phones: z.array(line).max(50).optional(),
  note: lines.optional(),
});
export const JoinCustomer = z.object({ with: id.min(1) });
export const PartCustomer = z.object({ from: id.min(1) });
export const BookActed = z.object({ id: z.string(), actId: z.string() });
export const UndoBook = z.object({ actId: id.min(1) });

const slip = z.enum(["expected-past", "expected-soon", "step-overdue", "no-step", "long"]);
export const DealCard = z.object({
  id: z.string(),
  name: z.string(),
  who: z.string(),
  what: z.string().nullable(),
  stage: z.string(),
  value: money,
  currency: z.string(),
  since: time,
  stay: z.string().describe("How long it has stood here"),
  drift: z.number().nullable().describe("Where that stands among stays before, 0 to 1"),
  expectedOn: z.string().nullable(),
  nextStep: z.object({ note: z.string(), dueAt: time }).nullable(),
  tasks: z.number(),
  owner: Ref.nullable(),
  source: z.string().nullable(),
  slips: z.array(slip),
  slipSaid: z.array(z.string()),
  urgency: z.number(),
  rank: z.number().nullable(),
  closed: z.object({ kind: end, reason: z.string(), at: time }).nullable(),
});
export const Board = z.object({
  now: time,
  currency: z.string(),
  columns: z.array(
    z.object({
      stage: z.string(),
      name: z.string(),
      count: z.number(),
      sum: money,
      expected: money.nullable(),
      low: money.nullable(),
      high: money.nullable(),
      ended: z.number(),
      won: z.number(),
      slackDays: z.number().nullable(),
      deals: z.array(DealCard),
    }),
  ),
  ends: z.array(
    z.object({
      stage: z.string(),
      name: z.string(),
      kind: end,
      reasons: z.array(z.string()),
      lately: z.number(),
      sum: money,
    }),
  ),
  owners: z.array(Ref),
  sources: z.array(z.string()),
});
export const Deal = DealCard.extend({
  companyId: z.string().nullable(),
  contactId: z.string().nullable(),
  company: Ref.nullable(),
  contact: Ref.nullable(),
  leadIds: z.array(z.string()),
  leads: z.array(LeadRef),
  lines: z.array(z.object({ product: z.string(), name: z.string(), quantity: z.number(), price: money })),
  taskList: z.array(z.object({ id: z.string(), note: z.string(), dueAt: time, to: z.array(z.string()) })),
  theirs: z.record(z.string(), z.string()).describe("What other systems call it"),
  stages: z.array(z.object({ key: z.string(), name: z.string(), kind, reasons: z.array(z.string()) })),
  products: z.array(z.object({ key: z.string(), name: z.string(), value: money })),
  people: z.array(Ref),
  estimates: z.array(
    z.object({ id: z.string(), number: z.string(), total: money, state: z.string(), leadId: z.string() }),
  ),
  thread: z.array(Told),
  undo: z.string().nullable().describe("The newest act, where it can be taken back"),
});
export const ChangeDeal = z.object({
  name: line.optional(),
  value: sum.optional(),
  expectedOn: line.nullish(),
  ownerId: id.nullish(),
  companyId: id.nullish(),
  contactId: id.nullish(),
  lines: z
    .array(z.object({ product: line, quantity: z.number(), price: sum }))
    .max(200)
    .optional(),
  stage: line.optional(),
  reason: line.optional(),
  fromStage: line.optional().describe("The stage it was seen in: refused when somebody has moved it since"),
  nextStep: z.object({ note: line, dueAt: time }).nullish(),
  doneTask: id.optional(),
  note: lines.optional(),
  rank: z.number().optional(),
});
export const DealActed = Deal.extend({ actId: z.string() });
export const NewDeal = z.object({ contactId: id.nullish(), companyId: id.nullish(), name: line });

const Input = z.object({
  key: line,
  name: line,
  type: z.enum(["number", "money", "percent"]),
  from: line.nullish(),
  usual: line.nullish(),
});
const SheetLine = z.object({
  key: line,
  name: line,
  formula: line,
  shown: z.boolean().default(true),
  roundTo: line.nullish(),
});
export const Worksheet = z.object({
  id: id.default(""),
  version: z.number().int().default(0),
  name: line,
  product: line.nullable().default(null),
  inputs: z.array(Input).max(60).default([]),
  lines: z.array(SheetLine).max(100),
  total: line,
  tax: line.default("0"),
  taxName: line.default("Tax"),
  validDays: z.number().int().default(30),
  terms: lines.default(""),
});
export const Layout = z.object({ paper: z.enum(["LETTER", "A4"]), sender: lines, footer: line });
export const SaveWorksheets = z.object({
  worksheets: z.array(Worksheet).max(100),
  layout: Layout.optional(),
});
export const WorksheetsSetup = z.object({
  worksheets: z.array(Worksheet),
  layout: Layout,
  fields: z.array(Named),
  products: z.array(Named),
  currency: z.string(),
  functions: z.array(z.string()),
});
const Line = z.object({
  key: z.string(),
  name: z.string(),
  amount: money,
  said: z.string(),
  shown: z.boolean(),
});
export const TryWorksheet = z.object({
  worksheet: Worksheet,
  inputs: z.record(z.string(), z.union([z.string().max(60), z.number()])),
});
export const WorkedOut = z.object({
  ok: z.boolean(),
  lines: z.array(Line),
  tax: z.string(),
  total: z.string(),
  faults: z.array(z.object({ path: z.string(), message: z.string(), at: z.number().nullable() })),
});
export const EstimateOrder = z.object({
  worksheet: line,
  inputs: z.record(z.string(), z.union([z.string().max(60), z.number()])).default({}),
  replaces: id.optional(),
});
export const Estimate = z.object({
  id: z.string(),
  number: z.string(),
  version: z.number(),
  name: z.string(),
  worksheetId: z.string(),
  lines: z.array(Line),
  inputs: z.array(z.object({ key: z.string(), name: z.string(), value: z.string() })),
  net: money,
  tax: money,
  taxName: z.string(),
  total: money,
  totalSaid: z.string(),
  currency: z.string(),
  state: z.enum(["draft", "sent", "accepted", "declined", "replaced"]),
  madeAt: time,
  validUntil: time,
  sentAt: time.nullable(),
  answered: z.object({ at: time, name: z.string() }).nullable(),
  pdf: z.string().nullable(),
});
export const EstimateMade = Estimate.extend({ actId: z.string() });
export const LeadEstimates = z.object({
  worksheets: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      fits: z.boolean(),
      inputs: z.array(Input.extend({ value: z.string(), known: z.boolean() })),
    }),
  ),
  estimates: z.array(Estimate),
  currency: z.string(),
  mail: z.string().nullable().describe("Where it would go"),
});
export const SendEstimate = z.object({ subject: line.optional(), body: lines.default("") });
export const AnswerEstimate = z.object({
  answer: z.enum(["accepted", "declined"]),
  name: line,
  words: lines.optional(),
});

const hookEvent = z.enum(Object.keys(HOOK_EVENTS) as [HookEvent, ...HookEvent[]]);
const hears = {
  trait: z
    .enum(Object.keys(HOOK_TRAITS) as [HookTrait, ...HookTrait[]])
    .optional()
    .describe("What else it hears of leads: nothing when left out"),
  when: When.nullable().optional().describe("Of which leads alone; all when left out"),
  sends: z
    .discriminatedUnion("kind", [
      z.object({ kind: z.literal("whole") }),
      z.object({ kind: z.literal("fields"), fields: z.array(z.string().max(200)).max(100) }),
      z.object({
        kind: z.literal("template"),
        template: z.string().max(20_000, "20,000 characters are the most."),
      }),
    ])
    .optional()
    .describe("All there is when left out; chosen columns of the lead; or JSON written as a Liquid template"),
  inside: z.boolean().optional().describe("It stands in this house’s own network, and that is meant"),
};
export const SaveHook = z.object({
  id: id.optional(),
  name: line.default("Another system"),
  url: z.string().max(2000),
  events: z.array(hookEvent).max(50),
  ...hears,
  on: z.boolean().default(true),
  secret: z
    .string()
    .max(200)
    .optional()
    .describe("As whsec_…; never read back. One is made when none is given"),
  remove: z.boolean().optional(),
});
export const HooksSetup = z.object({
  hooks: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      url: z.string(),
      events: z.array(hookEvent),
      ...hears,
      on: z.boolean(),
      hasSecret: z.boolean(),
      bothUntil: time.nullable().describe("Until then a secret that was replaced signs as well"),
      waiting: z.number().describe("Deliveries that wait"),
      aside: z.number().describe("Deliveries that were put aside within a week"),
    }),
  ),
  events: z.array(z.object({ key: hookEvent, name: z.string() })),
  traits: z.array(z.object({ key: z.string(), name: z.string() })),
  fields: z.array(z.object({ key: z.string(), name: z.string() })),
  catalogue: BellsSetup.shape.catalogue,
  id: z.string().nullable().describe("The one that was saved just now"),
  secret: z.string().nullable().describe("Shown once, as it was made"),
});
export const ResendSpan = z.object({
  from: time.optional().describe("When they were queued"),
  before: time.optional(),
  state: z.enum(["dead", "delivered"]).optional().describe("Of one state alone; of both when left out"),
});
export const DeliveryRow = z.object({
  id: z.string(),
  hookId: z.string(),
  hook: z.string(),
  event: z.string(),
  at: time,
  state: z.enum(["queued", "delivered", "dead"]),
  attempts: z.number(),
  nextAt: time.nullable(),
  status: z.number().nullable(),
  said: z.string().nullable(),
  answeredAt: time.nullable(),
  body: z.string(),
});

export const EditNote = z.object({ text: lines });
export const AnswerNote = z.object({ text: lines });
export const AskedOf = z.object({
  items: z.array(
    z.object({
      leadId: z.string(),
      lead: z.string(),
      noteId: z.string(),
      by: z.string(),
      text: z.string(),
      at: time,
    }),
  ),
});

export type StagesSetup = z.infer<typeof StagesSetup>;
export type SaveStages = z.infer<typeof SaveStages>;
export type Stage = z.infer<typeof Stage>;
export type Reason = z.infer<typeof Reason>;
export type QuestionsSetup = z.infer<typeof QuestionsSetup>;
export type SaveQuestions = z.infer<typeof SaveQuestions>;
export type Question = z.infer<typeof Question>;
export type Asking = z.infer<typeof Asking>;
export type HandOverChoice = z.infer<typeof HandOverChoice>;
export type HandOver = z.infer<typeof HandOver>;
export type CompanyRow = z.infer<typeof CompanyRow>;
export type ContactRow = z.infer<typeof ContactRow>;
export type Company = z.infer<typeof Company>;
export type Contact = z.infer<typeof Contact>;
export type ChangeCustomer = z.infer<typeof ChangeCustomer>;
export type Board = z.infer<typeof Board>;
export type DealCard = z.infer<typeof DealCard>;
export type Deal = z.infer<typeof Deal>;
export type ChangeDeal = z.infer<typeof ChangeDeal>;
export type Worksheet = z.infer<typeof Worksheet>;
export type WorksheetsSetup = z.infer<typeof WorksheetsSetup>;
export type WorkedOut = z.infer<typeof WorkedOut>;
export type Estimate = z.infer<typeof Estimate>;
export type LeadEstimates = z.infer<typeof LeadEstimates>;
export type HooksSetup = z.infer<typeof HooksSetup>;
export type SaveHook = z.input<typeof SaveHook>;
export type DeliveryRow = z.infer<typeof DeliveryRow>;
export type AskedOf = z.infer<typeof AskedOf>;

import { z } from "zod";
import { When } from "./answering-schemas.ts";
import { id, time } from "./bounds.ts";

/** People, groups, rules of routing and playback, as they cross the wire. */

const span = z.object({ from: time, to: time });
export const WAY = z.enum(["rotation", "weighted", "fewest-open", "best-match", "open-call"]);
export const ROLE = z.enum(["coordinator", "salesperson", "manager", "administrator"]);

export const Hours = z.object({
  zone: z.string().min(1, "Say which time zone these hours are in."),
  week: z.record(z.string().regex(/^[1-7]$/), z.array(z.tuple([z.string(), z.string()]))),
});
export const Absence = z.object({
  from: time,
  to: time,
  reason: z.string().trim().min(1, "Say why, in a word."),
  coverId: z.string().nullable(),
  waiting: z.enum(["goes", "stays"]).default("goes"),
  after: z.enum(["back", "stays"]).default("back"),
});
export const FullPerson = z.object({
  id: z.string(),
  name: z.string(),
  role: ROLE,
  email: z.string(),
  phone: z.string(),
  chat: z.string(),
  hours: Hours,
  absences: z.array(Absence),
  offDuty: z.boolean(),
  cover: z.string().nullable(),
  products: z.array(z.string()).nullable(),
  languages: z.array(z.string()),
  territories: z.array(z.string()).nullable(),
  ceiling: z.number().nullable(),
  perDay: z.number().nullable(),
  groups: z.array(id).max(200).describe("Groups they are a member of"),
});
export const SavePerson = FullPerson.omit({ offDuty: true, groups: true }).extend({
  groups: FullPerson.shape.groups.optional().describe("Left as they are when nothing is said"),
});
export const FullGroup = z.object({
  id: z.string(),
  name: z.string(),
  way: WAY,
  members: z.array(z.object({ personId: z.string(), weight: z.number() })),
});
export const Duty = z.object({
  off: z.boolean(),
  until: time.nullable().optional().describe("When being off duty ends on its own"),
});

export const Week = z.object({
  from: time,
  to: time,
  now: time,
  zone: z.string(),
  days: z.array(z.object({ date: z.string(), from: time, to: time })),
  desk: z.array(span),
  people: z.array(
    z.object({
      id: z.string(),
      spans: z.array(span),
      away: z.array(span.extend({ reason: z.string(), cover: z.string().nullable() })),
    }),
  ),
  holes: z.array(z.object({ groupId: z.string().nullable(), name: z.string(), spans: z.array(span) })),
});
const Named = z.object({ key: z.string(), name: z.string() });
export const PeopleSetup = z.object({
  people: z.array(
    FullPerson.extend({
      onDuty: z.boolean(),
      because: z.string().nullable(),
      openLeads: z.number(),
      untold: z
        .string()
        .nullable()
        .describe("Why they would not hear of an offer: nothing is offered to them"),
    }),
  ),
  groups: z.array(FullGroup),
  products: z.array(Named),
  territories: z.array(Named),
  languages: z.array(Named),
  zone: z.string(),
});

export const Rule = z.object({
  id: z.string().min(1),
  name: z.string(),
  when: When.nullable(),
  to: z.union([
    z.object({ person: z.string() }),
    z.object({ group: z.string(), way: WAY.optional() }),
    z.object({ formerWithin: z.number() }),
    z.object({ credit: z.literal(true) }),
  ]),
  offerMinutes: z.number("Give the minutes each person has to take it."),
  clock: z.enum(["desk", "wall"]).optional(),
  otherwise: z.enum(["standby", "list", "onward"]).optional(),
  off: z.boolean().optional(),
});
export const RuleSet = z.object({
  rules: z.array(Rule).max(500),
  setAside: z.object({ keepOwner: z.boolean(), household: z.boolean() }),
});
export const Turns = z.object({
  turns: z.object({
    pass: z.enum(["back", "kept"]),
    lapse: z.enum(["back", "kept"]),
  }),
  standby: z.array(z.string()),
  passReasons: z.array(z.string()),
});
export const Warning = z.object({
  kind: z.enum(["never", "unproved", "empty", "hole", "in-no-rule", "no-rule"]),
  ruleId: z.string().nullable(),
  said: z.string(),
});
/** A field conditions can ask about. */
export const CatalogueField = z.object({
  key: z.string(),
  name: z.string(),
  type: z.string(),
  operators: z.array(z.string()),
  choices: z.array(z.object({ value: z.string(), label: z.string() })),
});
export const RoutingSetup = Turns.extend({
  version: z.number(),
  publishedAt: time,
  by: z.string().nullable(),
  live: RuleSet,
  draft: RuleSet.extend({ at: time, by: z.string() }).nullable(),
  warnings: z.array(Warning).describe("Of the draft when there is one, else of what is live"),
  sentences: z.record(z.string(), z.string()).describe("Each rule as a sentence, by its id"),
  problem: z.object({ path: z.string(), message: z.string() }).nullable(),
  catalogue: z.array(CatalogueField),
  people: z.array(z.object({ id: z.string(), name: z.string(), role: ROLE })),
  groups: z.array(FullGroup),
  mayPublish: z.boolean(),
  zone: z.string(),
});
export const Publish = z.object({ note: z.string().max(500).default("") });
export const Version = RuleSet.extend({
  version: z.number(),
  at: time,
  by: z.string().nullable(),
  note: z.string(),
  sentences: z.record(z.string(), z.string()),
});
export const TryRouting = z.object({
  leadId: z.string().min(1),
  which: z.enum(["live", "draft"]).default("live"),
});

export const StartPlayback = z.object({
  of: z.union([z.literal("draft"), z.number().int()]).describe("The draft, or a version"),
  from: time.optional(),
  to: time.optional().describe("Now when left out"),
  days: z.number().positive().max(4000).default(60).describe("How far back, when `from` is left out"),
  roster: z.enum(["then", "now"]).default("then"),
});
const Pair = z.object({ was: z.number(), would: z.number() });
export const Difference = z.object({
  leadId: z.string(),
  name: z.string().nullable(),
  source: z.string(),
  at: time,
  was: z.string(),
  would: z.string(),
  cause: z.enum(["rules", "moved"]).describe("By the rules themselves, or because turns and loads had moved"),
});
export const Playback = z.object({
  id: z.string(),
  of: z.string(),
  from: time,
  to: time,
  roster: z.enum(["then", "now"]),
  state: z.enum(["running", "done", "failed", "cancelled"]),
  done: z.number(),
  total: z.number(),
  error: z.string().nullable(),
  result: z
    .object({
      inquiries: z.number(),
      changed: z.number(),
      byRules: z.number(),
      people: z.array(z.object({ id: z.string(), name: z.string(), offered: Pair, got: Pair })),
      groups: z.array(z.object({ id: z.string(), name: z.string(), offered: Pair })),
      rules: z.array(z.object({ id: z.string(), name: z.string(), off: z.boolean(), fired: z.number() })),
      jain: z.object({ was: z.number().nullable(), would: z.number().nullable() }),
      waits: z.object({
        was: z.object({ count: z.number(), ms: z.number() }),
        would: z.object({ count: z.number(), ms: z.number() }),
      }),
      standby: Pair,
      listed: Pair,
      refusals: Pair,
      differences: z.array(Difference),
    })
    .nullable(),
});

export const FairShare = z.object({
  from: time,
  to: time,
  groups: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      way: WAY,
      offered: z.number(),
      jain: z.number().nullable(),
      next: z.object({ name: z.string(), reason: z.string() }).nullable(),
      people: z.array(
        z.object({
          id: z.string(),
          name: z.string(),
          offered: z.number(),
          taken: z.number(),
          passed: z.number(),
          lapsed: z.number(),
          credited: z.number(),
          openNow: z.number(),
          wanted: z.number(),
        }),
      ),
    }),
  ),
});

export const Credit = z.object({ to: z.string().nullable(), reason: z.string().default("") });
export const CreditTurn = z.object({ reason: z.string().trim().min(1, "Say why the turn is given back.") });
export const Audit = z.object({
  n: z.number(),
  at: time,
  by: z.string(),
  via: z.string().nullable().describe("The API key that acted for them"),
  what: z.string(),
  before: z.unknown(),
  after: z.unknown(),
  differs: z
    .array(z.object({ where: z.array(z.string()), was: z.string().nullable(), is: z.string().nullable() }))
    .describe("What differs, in words"),
});

export type Hours = z.infer<typeof Hours>;
export type Absence = z.infer<typeof Absence>;
export type SavePerson = z.infer<typeof SavePerson>;
export type FullPerson = z.infer<typeof FullPerson>;
export type FullGroup = z.infer<typeof FullGroup>;
export type Week = z.infer<typeof Week>;
export type PeopleSetup = z.infer<typeof PeopleSetup>;
export type Rule = z.infer<typeof Rule>;
export type RuleSet = z.infer<typeof RuleSet>;
export type Turns = z.infer<typeof Turns>;
export type RoutingSetup = z.infer<typeof RoutingSetup>;
export type Version = z.infer<typeof Version>;
export type Playback = z.infer<typeof Playback>;
export type FairShare = z.infer<typeof FairShare>;
export type Audit = z.infer<typeof Audit>;

import { z } from "zod";
import { STOPS, TOUCH_KINDS } from "../../core/policy/cadence.ts";
import { When } from "./answering-schemas.ts";
import { id, line, lines, time, wall } from "./bounds.ts";
import { ROLE } from "./routing-schemas.ts";

/** Cadences and rounds, as they cross the wire. */

const KIND = z.enum(TOUCH_KINDS);

export const Touch = z.object({
  kind: KIND,
  after: z.string().max(40).describe("ISO 8601 duration: PT5M, P4D, P1M; around a date also -P7D"),
  from: z.enum(["start", "before", "field"]).default("before"),
  field: z
    .union([z.templateLiteral(["own.", z.string()]), z.literal("customer-since")])
    .optional()
    .describe("Of field: a date of the lead"),
  yearly: z.boolean().optional(),
  at: wall.optional(),
  until: wall.optional().describe("With at: a window"),
  zone: z.enum(["lead", "desk"]).optional(),
  days: z.enum(["any", "weekdays", "desk"]).optional(),
  count: z.enum(["all-days", "allowed-days"]).optional(),
  templateId: id.optional(),
  subject: line.optional(),
  body: lines.optional(),
  note: line.optional(),
  outcome: id.optional(),
  ring: z.boolean().optional(),
  who: z
    .union([
      z.object({ owner: z.literal(true) }),
      z.object({ person: id }),
      z.object({ role: ROLE }),
      z.object({ group: id }),
    ])
    .optional(),
  goesOn: z.boolean().optional().describe("Of a call or task: the cadence does not wait for it"),
  waitHours: z.number().optional(),
  when: When.nullable().optional(),
  otherwise: z.number().int().optional().describe("The touch it goes on at when `when` does not hold"),
  planId: id.optional(),
});
const STOP = z.union([
  z.enum(Object.keys(STOPS) as [keyof typeof STOPS]),
  z.templateLiteral(["stage:", z.string()]),
]);
export const Entry = z.object({
  on: z.enum(["inquiry", "outcome", "tag", "stage", "parked", "won"]),
  value: line.optional(),
  nth: z.number().int().optional(),
  when: When.nullable().optional(),
});
export const CadencePlan = z.object({
  name: line,
  reason: line.default("follow-up"),
  touches: z.array(Touch).max(200),
  stops: z.array(STOP).max(40).default(["reply", "call-back", "reached", "booked", "won", "closed"]),
  enters: z.array(Entry).max(40).default([]),
  once: z.boolean().optional(),
  spreadMinutes: z.number().min(0).max(20_160, "Two weeks at most.").default(0),
  precedence: z.number().int().min(0).max(1000).default(10),
  over: z.enum(["pauses", "ends"]).optional(),
  byHandHours: z.number().min(0).max(720, "Thirty days at most.").default(24),
  away: z.enum(["cover", "waits"]).optional(),
  // biome-ignore lint/suspicious/noThenProperty: the word of the API, and nothing that is waited for
  then: z
    .object({
      again: z.object({ from: z.number().int(), times: z.number().int().nullable() }).optional(),
      cadenceId: id.optional(),
    })
    .nullable()
    .optional(),
});
export const SaveCadence = CadencePlan.extend({
  id: id.optional().describe("Left out for a new one"),
  version: z.number().optional(),
  state: z.string().optional(),
});
const Standing = z.object({ version: z.number(), n: z.number(), running: z.number(), paused: z.number() });
export const Cadence = CadencePlan.extend({
  id: z.string(),
  version: z.number(),
  state: z.enum(["draft", "live", "off"]),
  drafted: z.boolean().describe("What is told here is a draft of the next version"),
  live: CadencePlan.nullable().describe("What is in force"),
  publishedAt: time.nullable(),
  problem: z
    .object({ path: z.string(), message: z.string() })
    .nullable()
    .describe("What keeps a draft from being published"),
  in: z.number().describe("Leads in it now"),
  standing: z.array(Standing).describe("Where they stand, by version and touch"),
  upgradable: z.number().describe("Of those in earlier versions: who has passed no changed touch"),
});
const Named = z.object({ id: z.string(), name: z.string() });
export const Cadences = z.object({
  cadences: z.array(Cadence),
  catalogue: z.array(
    z.object({
      key: z.string(),
      name: z.string(),
      type: z.string(),
      operators: z.array(z.string()),
      choices: z.array(z.object({ value: z.string(), label: z.string() })),
    }),
  ),
  templates: z.array(Named.extend({ channel: z.enum(["email", "text"]) })),
  dates: z.array(z.object({ key: z.string(), name: z.string() })),
  outcomes: z.array(z.object({ key: z.string(), name: z.string() })),
  people: z.array(Named),
  groups: z.array(Named),
  stages: z.array(z.object({ key: z.string(), name: z.string() })),
  closeReasons: z.array(z.string()),
  zone: z.string(),
  perDay: z.number(),
});
export const SwitchCadence = z.object({ off: z.boolean() });
export const Published = Cadence.extend({ left: z.number().describe("Leads that stay in earlier versions") });
export const Upgraded = z.object({ moved: z.number() });

export const PreviewCadence = z.object({
  startAt: time.optional(),
  leadId: id.optional(),
  plan: CadencePlan.optional().describe("What is being edited; the draft or what is live when left out"),
});
export const PreviewOfCadence = z.object({
  startAt: time,
  zone: z.string(),
  touches: z.array(
    z.object({
      n: z.number(),
      round: z.number(),
      kind: KIND,
      at: time,
      said: z.string(),
      subject: z.string().nullable(),
      skipped: z.string().nullable(),
      held: z.string().nullable(),
      when: z.string().describe("As people say it, at the desk and where they are"),
    }),
  ),
  warnings: z.array(z.string()),
  days: z.array(
    z.object({
      date: z.string(),
      begins: time,
      ends: time,
      open: z.boolean(),
      weekend: z.boolean(),
      holiday: z.string().nullable(),
      clock: z.enum(["forward", "back"]).nullable(),
    }),
  ),
  quiet: z
    .object({ from: z.string(), to: z.string() })
    .describe("Between these, automatic texts and calls may go"),
});

const Share = z.object({ n: z.number(), share: z.number(), low: z.number(), high: z.number() });
export const CadenceFigures = z.object({
  name: z.string(),
  versions: z.array(
    z.object({
      version: z.number(),
      began: z.number(),
      in: z.number(),
      done: z.number(),
      touches: z.array(
        z.object({
          n: z.number(),
          kind: z.string().nullable(),
          said: z.string(),
          came: z.number(),
          now: z.number(),
          sent: z.number(),
          skipped: z.number(),
          delivered: z.number(),
          opened: z.number(),
          replied: z.number(),
          reached: z.number(),
          booked: z.number(),
          won: z.number(),
          optedOut: z.number(),
          shares: z.object({ replied: Share, reached: Share, booked: Share, won: Share }),
        }),
      ),
      stopped: z.record(z.string(), z.number()),
      replied: Share,
      replies: z.array(
        z.object({
          time: z.number(),
          share: z.number(),
          low: z.number(),
          high: z.number(),
          atRisk: z.number(),
        }),
      ),
    }),
  ),
  against: z
    .object({
      versions: z.tuple([z.number(), z.number()]),
      difference: z.number(),
      low: z.number(),
      high: z.number(),
    })
    .nullable()
    .describe("Replies of the newest version beside the one before, with the interval of the difference"),
});
export const BehindFigure = z.object({
  items: z.array(z.object({ id: z.string(), name: z.string() })),
  next: z.null(),
});

export const StartCadence = z.object({
  cadenceId: id.min(1),
  startAt: time.optional(),
  spreadMinutes: z.number().min(0).max(20_160).optional(),
});
export const SteerRun = z
  .object({
    do: z.enum(["pause", "resume", "stop", "skip", "move", "now"]),
    until: time.nullable().optional(),
    at: time.optional(),
    reason: line.optional(),
  })
  .refine((w) => w.do !== "move" || w.at !== undefined, {
    path: ["at"],
    message: "Say when it goes instead.",
  });
export const DoTask = z.object({ taskId: id.min(1) });
export const Bought = z.object({ what: line.nullable().default(null) });

export const StartMany = z
  .object({
    ids: z.array(id).max(100_000).optional(),
    where: When.optional(),
    importId: id.optional(),
    spreadMinutes: z.number().min(0).max(20_160).optional(),
    dryRun: z.boolean().default(false),
  })
  .refine((w) => w.ids || w.where || w.importId, { path: ["ids"], message: "Say which leads." });
export const StartedMany = z.object({
  jobId: z.string().nullable(),
  will: z.number(),
  wont: z.array(z.object({ reason: z.string(), n: z.number() })),
});
export const CadenceJob = z.object({
  id: z.string(),
  state: z.enum(["running", "done", "failed"]),
  done: z.number(),
  total: z.number(),
  said: z.string(),
});

export const RoundItem = z.object({
  leadId: z.string(),
  band: z.enum(["answer", "rung", "try", "due"]),
  reason: z.string(),
  dueAt: time,
  name: z.string(),
  with: z.string().nullable().describe("Who else has it on their screen"),
  skipped: z.boolean(),
});
export const Rounds = z.object({
  items: z.array(RoundItem),
  done: z.number(),
  left: z.number(),
  takesMinutes: z.number().describe("About how long the rest takes at their pace"),
  day: z.object({ tries: z.number(), reached: z.number(), leads: z.number(), tomorrow: z.number() }),
});
export const BeginRound = z.object({ personId: id.optional() });
export const SkipRound = z.object({ personId: id.optional(), reason: line });

export const ReadTime = z.object({
  text: z.string().max(200),
  zone: z.string().min(1).max(60),
  now: time.optional(),
  leadId: id.optional().describe("For “day 90”: whose"),
});
export const ReadTimeAnswer = z.object({ at: time, said: z.string() });

export type Touch = z.infer<typeof Touch>;
export type Entry = z.infer<typeof Entry>;
export type CadencePlan = z.infer<typeof CadencePlan>;
export type Cadence = z.infer<typeof Cadence>;
export type Cadences = z.infer<typeof Cadences>;
export type PreviewOfCadence = z.infer<typeof PreviewOfCadence>;
export type CadenceFigures = z.infer<typeof CadenceFigures>;
export type Rounds = z.infer<typeof Rounds>;
export type RoundItem = z.infer<typeof RoundItem>;

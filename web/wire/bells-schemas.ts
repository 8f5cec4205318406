import { z } from "zod";
import { OTHER_BELLS, RUNG_ACTS } from "../../core/policy/bells.ts";
import { SIGNALS } from "../../core/policy/parking.ts";
import { LIST_PARTS } from "../../core/report/managers-list.ts";
import { isZone } from "../../core/time/zone.ts";
import { ALERT_WAYS } from "../../core/vocabulary.ts";
import { When } from "./answering-schemas.ts";
import { id, line, time } from "./bounds.ts";
import { QueueRow } from "./schemas.ts";

/** Bells, ladders, hours, parking, the manager's list and the morning summary, on the wire. */

const KIND = z.enum(["inquiry", ...OTHER_BELLS]);
const clock = z.enum(["desk", "wall"]);

/** Ten years: beyond them no calendar reaches. */
const MOST_MINUTES = 5_256_000;

export const Target = z.object({
  id: z.string().min(1),
  name: z.string(),
  about: z.enum(OTHER_BELLS).optional(),
  when: When.nullable(),
  minutes: z.number("Give the minutes.").max(MOST_MINUTES, "Ten years at most."),
  clock,
  zone: z.literal("lead").optional(),
  ladderId: z.string(),
  off: z.boolean().optional(),
});
export const Rung = z.object({
  fraction: z.number("Say when, as a part of the target.").max(1_000, "A thousand times at most."),
  plusMinutes: z
    .number("Give the minutes after the bell.")
    .min(-MOST_MINUTES, "Ten years at most.")
    .max(MOST_MINUTES, "Ten years at most."),
  act: z.enum(RUNG_ACTS),
  ways: z.array(z.enum(ALERT_WAYS)).optional(),
  groupId: z.string().optional(),
  tag: z.string().optional(),
  planId: z.string().optional(),
});
export const Ladder = z.object({ id: z.string().min(1), name: z.string(), rungs: z.array(Rung).max(40) });
export const SaveBells = z.object({
  targets: z.array(Target).max(200),
  ladders: z.array(Ladder).max(100),
  late: z.object({
    graceMinutes: z.number().min(0, "Give the minutes from which a rung counts as late.").max(1440),
    skip: z.array(z.enum(RUNG_ACTS)),
  }),
  counts: z.array(z.enum(["call", "text", "email", "visit"])),
  running: z
    .enum(["keep", "change"])
    .default("keep")
    .describe("Whether bells that run keep the targets and ladders they began with"),
});
const Named = z.object({ id: z.string(), name: z.string() });
const span = z.object({ from: time, to: time });
export const BellsSetup = SaveBells.omit({ running: true }).extend({
  kinds: z.array(z.object({ key: KIND, name: z.string(), said: z.string() })),
  catalogue: z.array(
    z.object({
      key: z.string(),
      name: z.string(),
      type: z.string(),
      operators: z.array(z.string()),
      choices: z.array(z.object({ value: z.string(), label: z.string() })),
    }),
  ),
  groups: z.array(Named),
  plans: z.array(Named),
  tags: z.array(z.string()),
  sentences: z.record(z.string(), z.string()).describe("Each target's condition in words, by its id"),
  running: z.number().describe("Bells that run now"),
  zone: z.string(),
  places: z.array(z.string()).describe("Zones in which leads are"),
});
export const Saved = z.object({ setup: BellsSetup, moved: z.number() });

export const SimulateBell = z.object({
  leadId: z.string().min(1),
  about: KIND.default("inquiry"),
  targets: z.array(Target),
  ladders: z.array(Ladder),
  late: SaveBells.shape.late,
  at: time.optional().describe("When it begins; when it came in, or now, when left out"),
});
export const Simulated = z.object({
  target: z.string().nullable(),
  startedAt: time,
  dueAt: time.nullable(),
  steps: z.array(z.object({ at: time, said: z.string(), told: z.array(z.string()) })),
});

/** In which zone a lead is that a bell is drawn for; somebody whose place is not known when left out. */
const place = z
  .string()
  .max(60)
  .refine((zone) => isZone(zone), "Give a zone as America/Denver.")
  .optional();
export const DrawLadder = z.object({ target: Target, ladder: Ladder.nullable(), zone: place });
export const DrawnLadder = z.object({ from: time, rungs: z.array(Rung.extend({ at: time })) });
export const DrawWeek = z.object({ target: Target, zone: place });
export const DrawnWeek = z.object({
  from: time,
  step: z.number().describe("Milliseconds from one point to the next"),
  rings: z.array(z.number()).describe("When the bell rings for each point (epoch ms)"),
});

const WALL = /^(([01]\d|2[0-3]):[0-5]\d|24:00)$/;
const DAY_SPAN = z.tuple([
  z.string().regex(WALL, "Give a time as 08:00."),
  z.string().regex(WALL, "Give a time as 17:00."),
]);
const DAY = z.object({ name: line, spans: z.array(DAY_SPAN).max(12) });
export const SaveHours = z.object({
  zone: line.min(1),
  week: z.record(z.string().regex(/^[1-7]$/, "A week has days 1 to 7."), z.array(DAY_SPAN).max(12)),
  exceptions: z.record(z.string().max(10), DAY.extend({ instead: DAY.nullable().optional() })),
  holidays: z.object({ country: z.string(), region: z.string().nullable() }).nullable(),
});
export const HoursSetup = SaveHours.extend({
  now: time,
  today: z.string(),
  zones: z.array(z.string()),
  countries: z.array(z.object({ key: z.string(), name: z.string() })),
  regions: z.array(z.object({ key: z.string(), name: z.string() })),
  open: z.array(span).describe("Open spans of two weeks from this Monday on"),
});
export const HoursSaved = z.object({ setup: HoursSetup, moved: z.number() });
export const CloseEarly = z.object({
  from: z.string().regex(WALL, "Give a time as 13:00."),
  date: z
    .string()
    .regex(/^\d{4}-\d{2}-\d{2}$/, "Give a date as 2026-03-04.")
    .optional(),
  name: z.string().trim().min(1, "Say why: it is the reason on every bell it moves."),
});
export const OpenAgain = z.object({
  date: z.string().regex(/^\d{4}-\d{2}-\d{2}$/, "Give a date as 2026-03-04."),
});
export const HolidayList = z.object({
  items: z.array(z.object({ date: z.string(), name: z.string() })),
  regions: z.array(z.object({ key: z.string(), name: z.string() })),
  next: z.null(),
});

const SIGNAL = z.enum(Object.keys(SIGNALS) as [keyof typeof SIGNALS]);
export const WakeRule = z.object({
  id: z.string().min(1),
  name: z.string(),
  signals: z.array(SIGNAL),
  when: When.nullable(),
  does: z.enum(["route", "former", "tell"]),
  tag: z.string().nullable(),
  calmHours: z.number("Give the hours.").max(87_600, "Ten years at most."),
  off: z.boolean().optional(),
});
export const SaveParking = z.object({ wakes: z.array(WakeRule).max(100) });
const Waking = z.object({
  leadId: z.string(),
  name: z.string(),
  at: time,
  signal: SIGNAL,
  became: z.string(),
});
export const ParkingSetup = SaveParking.extend({
  catalogue: BellsSetup.shape.catalogue,
  signals: z.array(z.object({ key: SIGNAL, said: z.string(), strong: z.boolean() })),
  fired: z
    .record(z.string(), z.object({ times: z.number(), leads: z.number(), latest: z.array(Waking) }))
    .describe("By rule, in the last ninety days"),
  zone: z.string(),
});
export const ParkedRow = z.object({
  lead: QueueRow,
  reason: z.string(),
  since: time,
  plan: z.string().nullable(),
  sent: z.number(),
  nextAt: time.nullable(),
  lookAt: time.nullable(),
  former: z.string().nullable(),
  calm: z.array(z.object({ rule: z.string(), until: time })),
});
export const ParkedList = z.object({
  items: z.array(ParkedRow),
  next: z.string().nullable(),
  found: z.number().describe("As many as were asked for"),
  total: z.number(),
  reasons: z.array(z.string()).describe("Why leads are parked, the most frequent first"),
  zone: z.string(),
});

export const SaveMorning = z.object({ on: z.boolean(), ways: z.array(z.enum(["email", "chat"])) });
export const MorningSummary = SaveMorning.extend({
  parts: z.array(z.object({ heading: z.string(), lines: z.array(z.string()), page: z.string().nullable() })),
  nextAt: time.nullable(),
});
export const Sent = z.object({ sent: z.number() });

const PART = z.enum(Object.keys(LIST_PARTS) as [keyof typeof LIST_PARTS]);
export const ManagersList = z.object({
  now: time,
  zone: z.string(),
  parts: z.array(
    z.object({
      part: PART,
      name: z.string(),
      items: z.array(z.object({ lead: QueueRow, why: z.string(), since: time })),
    }),
  ),
  people: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      onDuty: z.boolean(),
      open: z.number(),
      rung: z.number(),
      stuck: z.number(),
      stalled: z.number(),
    }),
  ),
  ages: z.array(z.object({ name: z.string(), count: z.number() })),
});

/** What can be done to many leads at once. */
export const ActMany = z
  .object({
    ids: z.array(z.string()).min(1, "Choose one lead at least.").max(10_000).optional(),
    where: When.nullable().optional().describe("Instead of ids: all that fit, null for every lead there is"),
    list: z.string().optional().describe("Instead of ids: all of a saved list"),
    do: z.enum([
      "give",
      "route",
      "cover",
      "tag",
      "untag",
      "defer",
      "park",
      "wake",
      "cadence",
      "stop-cadences",
      "stage",
      "close",
      "silence",
      "excuse",
      "join",
      "undo",
    ]),
    to: z.string().optional(),
    reason: line.default(""),
    steps: z.enum(["move", "stay"]).default("move"),
    planId: z.string().nullable().default(null),
    until: time.nullable().default(null).describe("For park: when they come back; for defer: when it is due"),
    spreadMinutes: z.number().int().min(0).max(20_160).default(0).describe("For defer and cadence"),
    tags: z.array(z.string().max(60)).max(20).default([]),
    cadenceId: z.string().optional(),
    stage: z.string().optional(),
    acts: z.record(z.string(), z.string()).default({}).describe("For undo: the act of each lead"),
    dryRun: z.boolean().default(false).describe("Only how many it would change, and how many not and why"),
  })
  .refine((b) => b.ids !== undefined || b.where !== undefined || b.list !== undefined, {
    path: ["ids"],
    message: "Say which leads: `ids`, `where` or `list`.",
  });
const left = z.array(z.object({ id: z.string(), name: z.string(), why: z.string() }));
export const ActedMany = z.object({
  jobId: z.string().nullable().describe("Null of a dry run"),
  will: z.number(),
  wont: z.array(z.object({ reason: z.string(), n: z.number() })),
  done: z
    .array(z.object({ id: z.string(), actId: z.string() }))
    .describe("What is done already: all of it where there were few"),
  left,
});
export const Job = z.object({
  id: z.string(),
  state: z.enum(["running", "done", "failed"]),
  done: z.number(),
  total: z.number(),
  actId: z.string().nullable().describe("What takes it back as one; null where nothing does"),
  said: z.string(),
  left,
});

export const Park = z.object({
  reason: line,
  planId: z.string().nullable().default(null),
  until: time.nullable().optional().describe("When it comes back to whoever had it, whatever the plan says"),
});
export const Excuse = z.object({ reason: line });
export const PromiseTo = z.object({ text: line, at: time });
export const AskedFor = z.object({ at: time });
export const SiteView = z.object({
  visitor: id.min(1),
  page: z.url("Give the address of the page.").max(4_000),
});

export type Target = z.infer<typeof Target>;
export type Rung = z.infer<typeof Rung>;
export type Ladder = z.infer<typeof Ladder>;
export type SaveBells = z.infer<typeof SaveBells>;
export type DrawnLadder = z.infer<typeof DrawnLadder>;
export type DrawnWeek = z.infer<typeof DrawnWeek>;
export type BellsSetup = z.infer<typeof BellsSetup>;
export type Simulated = z.infer<typeof Simulated>;
export type SaveHours = z.infer<typeof SaveHours>;
export type HoursSetup = z.infer<typeof HoursSetup>;
export type WakeRule = z.infer<typeof WakeRule>;
export type SaveParking = z.infer<typeof SaveParking>;
export type ParkingSetup = z.infer<typeof ParkingSetup>;
export type ParkedRow = z.infer<typeof ParkedRow>;
export type ParkedList = z.infer<typeof ParkedList>;
export type MorningSummary = z.infer<typeof MorningSummary>;
export type ManagersList = z.infer<typeof ManagersList>;
export type ActMany = z.input<typeof ActMany>;
export type ActedMany = z.infer<typeof ActedMany>;
export type Job = z.infer<typeof Job>;

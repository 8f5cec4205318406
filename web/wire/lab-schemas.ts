import { z } from "zod";
import { MEASURES, type Measure } from "../../core/lab/compare.ts";
import { id, line, time } from "./bounds.ts";
import { WAY } from "./routing-schemas.ts";

/** The lab: what is run against what, and what it came to. */

const clock = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$|^24:00$/, "Give a time as 09:00.");
const days = z
  .array(z.literal([1, 2, 3, 4, 5, 6, 7]))
  .min(1, "Choose a day at least.")
  .max(7)
  .describe("1 is Monday");
const span = z
  .tuple([clock, clock])
  .nullable()
  .refine((times) => !times || times[0] < times[1], "The end must come after the beginning.")
  .describe("From and to on these days; null is not at all");
const minutes = (least: number, most: number) =>
  z.number("Give minutes.").min(least, `${least} at least.`).max(most, `${most} at most.`);
const share = z.number("Give a share from 0 to 1.").min(0).max(1, "100 % at most.").nullable();

/** A change against the live set-up. */
export const LabChange = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("rules"), of: z.union([z.literal("draft"), z.number().int()]) }),
  z.object({ kind: z.literal("offer"), ruleId: id, minutes: minutes(1, 10_080) }),
  z.object({ kind: z.literal("way"), groupId: id, way: WAY }),
  z.object({ kind: z.literal("weight"), groupId: id, personId: id, weight: z.number().min(0).max(100) }),
  z.object({ kind: z.literal("target"), targetId: id, minutes: minutes(1, 100_000) }),
  z.object({
    kind: z.literal("rung"),
    ladderId: id,
    n: z.number().int().min(1).max(100),
    fraction: z.number().min(0).max(100).nullable(),
  }),
  z.object({ kind: z.literal("hours"), personId: id, days, span }),
  z.object({ kind: z.literal("desk"), days, span }),
  z.object({ kind: z.literal("more"), like: id, days, span }),
  z.object({ kind: z.literal("away"), personId: id }),
  z.object({
    kind: z.literal("ceiling"),
    personId: id,
    open: z.number().int().min(1).max(100_000).nullable(),
  }),
  z.object({ kind: z.literal("cadence"), cadenceId: id, run: z.enum(["off", "draft"]) }),
  z.object({
    kind: z.literal("reply"),
    channel: z.enum(["email", "text"]),
    on: z.boolean(),
    delayMinutes: minutes(0, 1_440),
  }),
  z.object({
    kind: z.literal("habits"),
    personId: id.nullable().describe("Everybody where it is null"),
    takes: share,
    passes: share,
    answerMinutes: minutes(0, 1_440).nullable(),
    handlingMinutes: minutes(0.1, 480).nullable(),
  }),
  z.object({ kind: z.literal("reach"), times: z.number("Give how many times as often.").min(0.05).max(20) }),
]);

export const LabDemand = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("past") }),
  z.object({
    kind: z.literal("made"),
    weeks: z.number("Give weeks.").int().min(1, "A week at least.").max(26, "26 weeks at most."),
    times: z
      .number("Give how many times as many come.")
      .min(0.05, "0.05 at least.")
      .max(200, "200 at most.")
      .default(1),
    growth: z
      .number("Give the growth a week as a share.")
      .min(-0.5, "−50 % a week at least.")
      .max(1, "100 % a week at most.")
      .default(0),
    bursts: z
      .array(
        z.object({
          sourceId: id,
          afterHours: z.number().min(0).max(4_368),
          hours: z.number().min(1, "An hour at least.").max(336),
          more: z.number().min(1, "One more at least.").max(50_000),
        }),
      )
      .max(20)
      .default([]),
  }),
]);

const changes = z.array(LabChange).max(40, "40 changes are the most.").default([]);
export const StartLab = z.object({
  name: line.default("").describe("What it is called; made from the changes where it is empty"),
  from: z.iso
    .date("Give a day as 2026-03-04.")
    .optional()
    .describe("The first day it learns from; eight weeks back"),
  to: z.iso.date("Give a day as 2026-03-04.").optional().describe("The last day; today"),
  demand: LabDemand.default({ kind: "made", weeks: 4, times: 1, growth: 0, bursts: [] }),
  runs: z
    .number("Give a number of runs.")
    .int()
    .min(2, "Two runs at least.")
    .max(100, "100 runs at most.")
    .default(20),
  seed: z.number("Give a whole number.").int().min(1).max(1_000_000_000).default(1),
  a: changes,
  b: changes,
});

const SIDE = z.enum(["a", "b"]);
export const LabSide = z.object({ side: SIDE });
const figure = z.number().nullable();
const said = z
  .object({ a: z.array(z.string()), b: z.array(z.string()) })
  .describe("The changes, as sentences");
const Load = z.object({ leads: z.number(), tries: z.number(), busyMinutes: z.number() }).nullable();
const Hanging = z.object({
  at: time,
  dueAt: time.nullable(),
  rung: z.boolean(),
  ownerId: z.string().nullable(),
  tries: z.number(),
});
const WireDay = z.object({
  from: time,
  to: time,
  leads: z.array(z.object({ id: z.string(), name: z.string(), states: z.array(Hanging) })),
});
const KEYS = Object.keys(MEASURES) as [Measure, ...Measure[]];

export const LabLine = z.object({
  id: z.string(),
  name: z.string(),
  at: time,
  by: z.string(),
  state: z.enum(["running", "done", "failed", "cancelled"]),
  error: z.string().nullable(),
  done: z.number().describe("Runs that are done, of both sides"),
  total: z.number(),
  said,
});
export const LabExperiment = LabLine.extend({
  asked: StartLab.omit({ name: true, from: true, to: true, a: true, b: true }).extend({
    from: time,
    to: time,
  }),
  changes: z.object({ a: z.array(LabChange), b: z.array(LabChange) }),
  draftable: z
    .object({ a: z.boolean(), b: z.boolean() })
    .describe("Whether the rules of a side can become the draft"),
  result: z
    .object({
      from: time,
      to: time,
      runs: z.number(),
      came: z.number().describe("How many came in a run, on average"),
      differences: z
        .array(
          z.object({
            key: z.enum(KEYS),
            name: z.string(),
            a: figure,
            b: figure,
            mean: figure,
            low: figure,
            high: figure,
          }),
        )
        .describe("B less A on average, run by run, with its 95 % interval"),
      people: z.array(z.object({ id: z.string(), name: z.string(), a: Load, b: Load })),
      tried: z.array(z.object({ minutes: z.number(), a: z.number(), b: z.number() })),
      days: z.object({ a: WireDay.nullable(), b: WireDay.nullable() }),
      assumes: z.array(z.string()),
      rulesVersion: z.number(),
      weeks: z.number(),
    })
    .nullable(),
});
const Named = z.object({ id: z.string(), name: z.string() });
export const LabChoices = z.object({
  versions: z.array(z.object({ of: z.union([z.literal("draft"), z.number()]), name: z.string() })),
  rules: z.array(Named.extend({ minutes: z.number() })),
  groups: z.array(
    Named.extend({ way: WAY, members: z.array(z.object({ personId: z.string(), weight: z.number() })) }),
  ),
  people: z.array(Named),
  targets: z.array(Named.extend({ minutes: z.number() })),
  rungs: z.array(z.object({ ladderId: z.string(), n: z.number(), name: z.string(), fraction: z.number() })),
  cadences: z.array(Named.extend({ drafted: z.boolean() })),
  replies: z.object({ email: z.number().nullable(), text: z.number().nullable() }),
  sources: z.array(Named),
  zone: z.string(),
});
export const LabDrafted = z.object({
  byHand: z.array(z.string()).describe("Changes that are no rules: these are made in Set-up by hand"),
});

export type LabChange = z.infer<typeof LabChange>;
export type LabDemand = z.infer<typeof LabDemand>;
export type StartLab = z.infer<typeof StartLab>;
export type LabLine = z.infer<typeof LabLine>;
export type LabExperiment = z.infer<typeof LabExperiment>;
export type LabChoices = z.infer<typeof LabChoices>;
export type LabResult = NonNullable<LabExperiment["result"]>;

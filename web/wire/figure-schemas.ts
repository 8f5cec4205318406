import { z } from "zod";
import { LETTER_PART_KEYS, type LetterPartKey } from "../../core/policy/letter.ts";
import { BEHIND_BY, PARTS } from "../../core/report/figures/behind.ts";
import { MILESTONES } from "../../core/report/figures/response.ts";
import { ATTRIBUTIONS, SOURCE_GROUPINGS } from "../../core/report/figures/sources.ts";
import { CLOCKS, GROUPINGS } from "../../core/report/figures/span.ts";
import { USUAL_GOAL } from "../../core/report/figures/staffing.ts";
import { id, line, time, wall } from "./bounds.ts";

/** What figures are asked by, as it stands in an address. */
const date = z.iso.date("Give a day as 2026-03-04.");
export const FigureSpan = z.object({ from: date.optional(), to: date.optional() });
const number = z.coerce.number("Give a number.");

export const ResponseQuery = FigureSpan.extend({
  clock: z.enum(CLOCKS).default("desk"),
  until: z.enum(MILESTONES).default("try"),
  by: z.enum(GROUPINGS).optional(),
  split: date.optional(),
});
export const SourcesQuery = FigureSpan.extend({
  by: z.enum(SOURCE_GROUPINGS).default("source"),
  attribution: z.enum(ATTRIBUTIONS).default("first"),
});
export const StaffingQuery = FigureSpan.extend({
  goal: number
    .min(1, "From 1 to 99 per cent.")
    .max(99, "From 1 to 99 per cent.")
    .default(USUAL_GOAL.goal * 100),
  minutes: number.min(0.5, "Half a minute at least.").max(1440, "A day at most.").default(USUAL_GOAL.minutes),
  seconds: number.min(10, "10 seconds at least.").max(36_000, "10 hours at most.").optional(),
  day: z.coerce.number().int().min(0).max(6).optional(),
  more: z.coerce.number().int().min(-50).max(50).default(0),
});
export const BehindQuery = FigureSpan.extend({
  part: z.enum(Object.keys(PARTS) as [keyof typeof PARTS, ...(keyof typeof PARTS)[]]).default("all"),
  by: z.enum([...GROUPINGS, ...BEHIND_BY]).optional(),
  key: line.optional(),
});

const LETTER_PART = z.enum(LETTER_PART_KEYS as [LetterPartKey, ...LetterPartKey[]]);
const letterParts = z.array(LETTER_PART).max(LETTER_PART_KEYS.length, "Choose each part once.");
export const SaveLetter = z.object({
  on: z.boolean(),
  weekday: z.number().int().min(1).max(7).describe("1 is Monday"),
  time: wall,
  to: z.array(id).max(200, "200 people are the most.").describe("People here; every manager when empty"),
  parts: letterParts.describe("In the order they stand in it"),
});
const Reader = z.object({ id: z.string(), name: z.string() });
export const Letter = SaveLetter.extend({
  nextAt: time.nullable(),
  readers: z.array(Reader).describe("Who gets it as things stand"),
  mayGet: z.array(Reader).describe("Who may see figures and has a mail address"),
});
export const LetterPartsQuery = z.object({
  parts: z
    .string()
    .transform((s) => s.split(","))
    .pipe(letterParts.min(1, "Choose one part at least."))
    .optional(),
});
export const LetterPreview = z.object({ subject: z.string(), html: z.string(), text: z.string() });
export const SendLetter = z.object({
  parts: letterParts.min(1, "Choose one part at least."),
  to: z.enum(["me", "all"]),
});
export const LetterSent = z.object({ sent: z.number().int().nonnegative() });

const count = z.number().int().nonnegative();
const share = z.number().min(0).max(1);
const minutes = z.number().nonnegative();
const TimeTold = z
  .object({ at: minutes.nullable(), low: minutes.nullable(), high: minutes.nullable() })
  .describe("Minutes, with the 95 % interval; null where the record does not reach");
const ShareTold = z
  .object({ n: count, hits: count, share: share.nullable(), low: share, high: share })
  .describe("A share with Wilson’s 95 % interval; null of none");
const Curve = z.array(z.object({ t: minutes, s: share, low: share, high: share, atRisk: count }));
const waits = { n: count, censored: count, quartiles: z.tuple([TimeTold, TimeTold]), inTarget: ShareTold };
const Waits = z.object({ ...waits, median: TimeTold });
const LogRank = z.object({ chi2: z.number(), dof: count, p: share });
const SpanTold = { from: time, to: time };

export const ResponseFigures = z.object({
  ...SpanTold,
  n: count,
  censored: count.describe("Those it has not come to: they wait, or were closed or set aside untouched"),
  median: minutes.nullable().describe("Minutes of the clock asked for; null where fewer than half have come"),
  low: minutes.nullable(),
  high: minutes.nullable(),
  quartiles: waits.quartiles,
  inTarget: ShareTold,
  curve: Curve.describe("The share that still waits after t minutes, Kaplan–Meier with Greenwood’s band"),
  milestones: z.array(z.object({ until: z.enum(MILESTONES), curve: Curve })),
  groups: z.array(Waits.extend({ key: z.string().nullable(), name: z.string() })),
  logRank: LogRank.nullable(),
  split: z
    .object({
      before: Waits.extend({ curve: Curve }),
      after: Waits.extend({ curve: Curve }),
      logRank: LogRank.nullable(),
      atTarget: z.object({ difference: z.number(), low: z.number(), high: z.number() }).nullable(),
    })
    .nullable(),
  target: minutes.nullable(),
  everOpen: z.boolean().describe("Whether the desk was open at all meanwhile"),
  offers: z.array(
    z.object({
      person: z.string(),
      name: z.string(),
      asked: count,
      took: ShareTold,
      passed: count,
      lapsed: count,
      gone: count,
      median: TimeTold,
    }),
  ),
});

const WayTold = z.object({ key: z.string(), name: z.string(), reached: ShareTold });
const Worth = z.object({
  group: z.string(),
  name: z.string(),
  n: count,
  hits: count,
  raw: share,
  adjusted: share.nullable(),
  low: z.number().nullable(),
  high: z.number().nullable(),
  covered: share,
});
export const EffortFigures = z.object({
  ...SpanTold,
  leads: count,
  tries: count,
  triesPerLead: z.array(count).describe("Leads by tries: none, one … the last and more"),
  nth: z.array(z.object({ n: count, orMore: z.boolean(), reached: ShareTold, soFar: ShareTold })),
  byChannel: z.array(WayTold),
  byHour: z.array(WayTold).describe("Calls by the hour of the lead’s own clock"),
  reachedBy: z.array(Worth).describe("Reached, by how long the first try took: raw and adjusted"),
  wonBy: z.array(Worth),
  judged: count,
  neverTried: count,
  strata: z.string(),
  rulesOfThumb: z.array(z.string()),
});

const amount = z.number();
const Cost = z.object({ each: amount.nullable(), low: amount.nullable(), high: amount.nullable() });
const SourceTold = z.object({
  key: z.string(),
  name: z.string(),
  inquiries: count,
  leads: count,
  reached: ShareTold,
  qualified: ShareTold,
  won: ShareTold,
  value: amount,
  spend: amount.nullable(),
  perInquiry: Cost,
  perReached: Cost,
  perQualified: Cost,
  perWon: Cost,
  return: z.number().nullable(),
});
export const SourceFigures = z.object({
  ...SpanTold,
  currency: z.string(),
  months: z.array(z.string()).describe("Months whose spend is counted, whole"),
  groups: z.array(SourceTold),
  whole: SourceTold,
  elsewhere: z.array(z.object({ currency: z.string(), amount })),
  qualifiedFrom: z.string(),
});

const Against = z.object({
  count,
  of: count,
  expected: z.number(),
  low95: z.number(),
  high95: z.number(),
  low998: z.number(),
  high998: z.number(),
  stands: z.string(),
});
const Member = z.object({
  key: z.string(),
  name: z.string(),
  given: count,
  asked: count,
  took: ShareTold,
  inTarget: Against,
  reached: Against,
  won: Against,
  open: count.nullable(),
  ceiling: count.nullable(),
});
export const PeopleFigures = z.object({
  ...SpanTold,
  people: z.array(Member),
  groups: z.array(Member),
  strata: z.string(),
});

export const StaffingFigures = z.object({
  ...SpanTold,
  weeks: z.number(),
  seconds: z.number(),
  calls: count.describe("Calls of this desk that is known from; 0: it was said, or taken for granted"),
  halfLife: minutes.nullable(),
  goal: z.number().describe("Per cent"),
  minutes: z.number(),
  hours: z.array(
    z.object({
      hour: count,
      came: count.describe("Leads to be answered in that hour; those of closed hours as the desk opens"),
      waiting: count.describe("Of them, those that came while it was closed"),
      weeks: z.number(),
      expected: z.number(),
      low: z.number(),
      high: z.number(),
      open: z.boolean(),
      onDuty: count,
      needed: count.nullable(),
      neededPatient: count.nullable(),
      neededHigh: count.nullable(),
      within: share.nullable(),
      spare: z.number().nullable(),
    }),
  ),
});

export const AskNeeded = FigureSpan.extend({
  goal: StaffingQuery.shape.goal,
  minutes: StaffingQuery.shape.minutes,
  seconds: StaffingQuery.shape.seconds,
});
export const NeededRun = z.object({
  state: z
    .enum(["none", "running", "done", "failed"])
    .describe("none: nobody has asked since the desk began"),
  error: z.string().nullable(),
  from: time.nullable(),
  to: time.nullable(),
  goal: z.number().nullable().describe("Per cent"),
  minutes: z.number().nullable(),
  seconds: z.number().nullable().describe("How long a try takes, where that was said"),
  tried: count.describe("So many people on duty were tried so far"),
  weeks: count.describe("So many weeks were run with each"),
  hours: z.array(
    z.object({
      hour: count,
      needed: count.nullable().describe("Null where none of those that were tried kept the goal"),
      n: count,
      within: share,
      low: share,
      high: share,
    }),
  ),
});

export const BehindFigure = z.object({
  n: count,
  said: z.string(),
  items: z.array(z.object({ leadId: z.string(), name: z.string(), came: time })),
});

const month = z.string().regex(/^\d{4}-(0[1-9]|1[0-2])$/, "Give a month as 2026-03.");
export const SpendRow = z.object({
  sourceId: id,
  campaign: line.optional(),
  month,
  amount: z.number().nonnegative("An amount is 0 or more.").max(1e12, "That is more than can be kept."),
  currency: z.string().regex(/^[A-Z]{3}$/, "Give a currency as USD."),
});
export const SaveSpend = z.object({ rows: z.array(SpendRow).max(5_000, "5,000 rows are the most at once.") });
export const SpendTable = z.object({
  currency: z.string(),
  rows: z.array(SpendRow.extend({ source: z.string(), by: z.string(), at: time })),
});
export const SpendFile = z.object({ kept: count, problems: z.array(z.string()) });

export type ResponseFigures = z.infer<typeof ResponseFigures>;
export type EffortFigures = z.infer<typeof EffortFigures>;
export type SourceFigures = z.infer<typeof SourceFigures>;
export type PeopleFigures = z.infer<typeof PeopleFigures>;
export type StaffingFigures = z.infer<typeof StaffingFigures>;
export type BehindFigure = z.infer<typeof BehindFigure>;
export type SpendTable = z.infer<typeof SpendTable>;
export type Letter = z.infer<typeof Letter>;
export type NeededRun = z.infer<typeof NeededRun>;

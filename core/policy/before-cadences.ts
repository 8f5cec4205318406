import type { Cadence, CadencePlan, Touch } from "./cadence.ts";
import type { StepDelay } from "./calls.ts";
import type { Policies } from "./setup.ts";

/** A slow plan as there were before cadences: a message every so many days, and a look at the end. */
interface SlowPlan {
  readonly id: string;
  readonly name: string;
  readonly everyDays: number;
  readonly times: number;
  readonly templateId: string | null;
  readonly lookAfterDays: number;
}

/** What an outcome said before cadences: a delay for each try in a row that reached nobody, and what came after the last. */
interface Series {
  readonly series?: readonly StepDelay[];
  readonly last?: {
    readonly does: "list" | "close" | "park";
    readonly reason: string;
    readonly planId?: string;
  };
}

const SLOW: Pick<CadencePlan, "stops" | "spreadMinutes" | "precedence" | "byHandHours"> = {
  stops: [],
  spreadMinutes: 0,
  precedence: 10,
  byHandHours: 0,
};

/** A slow plan as a cadence: version 1 holds its messages alone, for those in it already; version 2 looks again as well. */
function fromSlow(plan: SlowPlan, channel: "email" | "text"): Cadence {
  const letters: Touch[] = Array.from({ length: plan.templateId ? plan.times : 0 }, (_, i) => ({
    kind: channel,
    after: `P${(i + 1) * plan.everyDays}D`,
    from: "start",
    at: "10:00",
    ...(plan.templateId && { templateId: plan.templateId }),
  }));
  const look: Touch = {
    kind: "list",
    after: `P${plan.lookAfterDays}D`,
    from: "start",
    at: "09:00",
    days: "weekdays",
    note: "time for the next look",
  };
  const before = letters.filter((_, i) => (i + 1) * plan.everyDays <= plan.lookAfterDays).length;
  const whole: CadencePlan = {
    ...SLOW,
    name: plan.name,
    reason: "parked",
    enters: [],
    touches: letters.toSpliced(before, 0, look),
  };
  const kept = [{ version: 1, plan: { ...whole, touches: letters } }];
  return { id: plan.id, version: 2, live: whole, draft: null, publishedAt: null, kept };
}

/** When a delay of an outcome fell due, as a touch: in the desk's hours. */
function fromDelay({
  days = 0,
  hours = 0,
  skipWeekend,
  at,
}: StepDelay): Pick<Touch, "after" | "at" | "days"> {
  const time = `${days ? `${days}D` : ""}${hours || !days ? `T${hours}H` : ""}`;
  return { after: `P${time}`, days: skipWeekend ? "weekdays" : "desk", ...(at && { at }) };
}

function fromSeries(key: string, name: string, { series = [], last }: Series): Cadence {
  const calls = series.map(
    (delay): Touch => ({ kind: "call", from: "before", note: "Call again", ...fromDelay(delay) }),
  );
  const end: Touch = {
    kind: last?.does ?? "list",
    after: "PT0M",
    from: "before",
    note: last?.reason ?? "every planned try was made",
    ...(last?.planId && { planId: last.planId }),
  };
  const plan: CadencePlan = {
    ...SLOW,
    name,
    reason: "unreached",
    stops: ["reply", "call-back", "reached", "booked", "won", "closed"],
    enters: [{ on: "outcome", value: key }],
    touches: [...calls, end],
  };
  return { id: `cad_series_${key}`, version: 1, live: plan, draft: null, publishedAt: null, kept: [] };
}

/** Policies of before there were cadences, as cadences: slow plans, and the series of outcomes. Others are given back as they are. */
export function asCadences(policies: Policies): Policies {
  if (policies.cadences) return policies;
  const { slowPlans = [], ...rest } = policies as Policies & { slowPlans?: readonly SlowPlan[] };
  const series: Cadence[] = [];
  const outcomes = policies.outcomes.map((outcome) => {
    const next = outcome.next as (typeof outcome.next & Series) | null;
    if (!next?.series && !next?.last) return outcome;
    const { series: calls, last, ...plain } = next;
    series.push(
      fromSeries(outcome.key, outcome.name, { ...(calls && { series: calls }), ...(last && { last }) }),
    );
    return { ...outcome, next: plain };
  });
  const slow = slowPlans.map((plan) =>
    fromSlow(plan, policies.templates.find((t) => t.id === plan.templateId)?.channel ?? "email"),
  );
  return { ...rest, outcomes, cadences: [...slow, ...series] };
}

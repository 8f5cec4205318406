import type { z } from "zod";
import { type Problem, refuse } from "../../core/refusal.ts";
import { endOfDay, startOfDay, startOfLocalDate } from "../../core/time/defer.ts";
import type { Desk } from "../../server/desk.ts";
import { NoFigures } from "../../server/figures/figures.ts";
import type { FigureSpan, NeededRun } from "../wire/figure-schemas.ts";
import { problem, refusal } from "./endpoint.ts";

const DAY = 86_400_000;
/** So far back is told of where nothing is said. */
const USUAL_DAYS = 56;
/** So long a span may be: more than any desk has kept. */
const MOST_DAYS = 15 * 366;

interface Bounds {
  readonly from: number;
  readonly to: number;
}

type Either<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly problem: Problem };

/** What was asked by, checked; or why not. */
export function asked<S extends z.ZodType>(schema: S, query: URLSearchParams): Either<z.output<S>> {
  const sent = Object.fromEntries([...query].filter(([, value]) => value !== ""));
  const read = schema.safeParse(sent);
  if (read.success) return { ok: true, value: read.data };
  const { path, message } = read.error.issues[0]!;
  const field = path.join(".");
  return refuse("invalid", 422, "Something is not right", `${field}: ${message}`, field);
}

/** The span from the first moment of a day to the last of another; or why there is none. */
export function spanOf(desk: Desk, { from, to }: z.output<typeof FigureSpan>): Either<Bounds> {
  const { zone } = desk.setup.policies.desk;
  const now = desk.clock.now();
  const last = to === undefined ? startOfDay(now, zone) : startOfLocalDate(to, zone);
  if (last === null) return refuse("invalid", 422, "No such day", "to: give a day as 2026-03-04.", "to");
  const end = endOfDay(last, zone);
  const first = from === undefined ? startOfDay(end - USUAL_DAYS * DAY, zone) : startOfLocalDate(from, zone);
  if (first === null) return refuse("invalid", 422, "No such day", "from: give a day as 2026-03-04.", "from");
  if (first >= end)
    return refuse(
      "invalid",
      422,
      "No such span",
      "to: the last day lies before the first. Give a later one.",
      "to",
    );
  if (end - first > MOST_DAYS * DAY)
    return refuse(
      "invalid",
      422,
      "Too long a span",
      "from: 15 years are the most at once. Begin later.",
      "from",
    );
  return { ok: true, value: { from: first, to: end } };
}

/** A span as it is told. */
const spanTold = ({ from, to }: Bounds) => ({
  from: new Date(from).toISOString(),
  to: new Date(to).toISOString(),
});

/**
 * Answers a question about figures: what was asked is checked, days become a span, and what can't be told just now says so.
 * `tell` gives the answer without its span.
 */
export async function figures<S extends z.ZodType<z.output<typeof FigureSpan>>, T extends object>(
  { desk, query }: { readonly desk: Desk; readonly query: URLSearchParams },
  schema: S,
  tell: (sent: z.output<S>, span: Bounds) => Promise<T>,
): Promise<(T & { from: string; to: string }) | Response> {
  const sent = asked(schema, query);
  if (!sent.ok) return refusal(sent.problem);
  const span = spanOf(desk, sent.value);
  if (!span.ok) return refusal(span.problem);
  return orNotNow(async () => ({ ...(await tell(sent.value, span.value)), ...spanTold(span.value) }));
}

/** Waits until what the lab learns from has come up to the last event. Rejects with NoFigures where it can't. */
export const caughtUp = async (desk: Desk, { from, to }: Bounds): Promise<void> => {
  await desk.figures.ask("behind", { from, to, part: "all", by: null, key: null });
};

/** How many are needed by running the desk, as far as it has come. */
export function toNeeded(run: Desk["needed"]["last"]): NeededRun {
  if (!run)
    return {
      state: "none",
      error: null,
      from: null,
      to: null,
      goal: null,
      minutes: null,
      seconds: null,
      tried: 0,
      weeks: 0,
      hours: [],
    };
  const { state, error, asked, tried, weeks, hours } = run;
  return {
    ...spanTold(asked),
    state,
    error,
    goal: asked.goal * 100,
    minutes: asked.minutes,
    seconds: asked.seconds,
    tried,
    weeks,
    hours: [...hours],
  };
}

/** What hangs on figures; or that they can't be told just now. */
export async function orNotNow<T>(tell: () => Promise<T>): Promise<T | Response> {
  try {
    return await tell();
  } catch (error) {
    if (!(error instanceof NoFigures)) throw error;
    return problem("not-now", 503, "Not just now", error.message);
  }
}

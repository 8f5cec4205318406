import type { EventData } from "../lead/events.ts";
import type { StopWhy } from "../lead/lead.ts";
import { type Course, cumulativeIncidence, type IncidencePoint } from "../statistics/incidence.ts";
import { wilson } from "../statistics/wilson.ts";

/** An event of a cadence as it is read from the record, in the order it happened. */
export type CadenceEvent = {
  [K in "cadence-started" | "cadence-touched" | "cadence-paused" | "cadence-stopped" | "cadence-done"]: {
    readonly leadId: string;
    readonly at: number;
    readonly kind: K;
    readonly data: EventData[K];
  };
}["cadence-started" | "cadence-touched" | "cadence-paused" | "cadence-stopped" | "cadence-done"];

/** What is known of messages beside their events. */
export interface MessageFates {
  readonly delivered: (messageId: string) => boolean;
  readonly opened: (messageId: string) => boolean;
}

export interface Share {
  readonly n: number;
  readonly share: number;
  readonly low: number;
  readonly high: number;
}

/** What a touch came to. The leads behind each figure are asked for by its key. */
export interface TouchFigures {
  readonly n: number;
  /** It came to so many runs. */
  readonly came: number;
  readonly now: number;
  readonly sent: number;
  readonly skipped: number;
  readonly delivered: number;
  readonly opened: number;
  /** They replied before the touch after it, of those it was sent to or done with. */
  readonly replied: Share;
  readonly reached: Share;
  readonly booked: Share;
  readonly won: Share;
  readonly optedOut: number;
}

export interface VersionFigures {
  readonly version: number;
  readonly began: number;
  readonly in: number;
  readonly done: number;
  readonly touches: readonly TouchFigures[];
  readonly stopped: Readonly<Partial<Record<StopWhy, number>>>;
  readonly replied: Share;
  /** Days after the beginning by which replies have come, stopping for other reasons as what competes. */
  readonly replies: readonly IncidencePoint[];
}

/** What a figure counts. */
export type FigureKey =
  | "came"
  | "sent"
  | "skipped"
  | "delivered"
  | "opened"
  | "replied"
  | "reached"
  | "booked"
  | "won"
  | "optedOut";

interface Run {
  readonly leadId: string;
  readonly version: number;
  readonly startedAt: number;
  readonly touches: Map<
    number,
    { at: number; sent: boolean; skipped: boolean; messageId: string | null; optedOut: boolean }
  >;
  /** The touch done last, 0-based; −1 before the first. */
  last: number;
  next: number;
  reply: { at: number; after: number } | null;
  ended: { at: number; why: StopWhy | null; after: number } | null;
}

const DAY = 86_400_000;
const share = (n: number, all: number): Share => ({ n, share: all === 0 ? 0 : n / all, ...wilson(n, all) });

/** Every run of a cadence, as its events tell it. */
function runsOf(events: Iterable<CadenceEvent>, optOuts: ReadonlyMap<string, readonly number[]>): Run[] {
  const runs = new Map<string, Run>();
  for (const event of events) {
    const { data, at, leadId } = event;
    if (event.kind === "cadence-started") {
      const { version, startedAt, n } = event.data.run;
      runs.set(data.runId, {
        leadId,
        version,
        startedAt,
        touches: new Map(),
        last: -1,
        next: n,
        reply: null,
        ended: null,
      });
      continue;
    }
    const run = runs.get(data.runId);
    if (!run) continue;
    if (event.kind === "cadence-touched") {
      const { n, did, messageId = null, next } = event.data;
      const before = run.touches.get(n);
      const isDone = did !== "skipped";
      run.touches.set(n, {
        at,
        sent: isDone || (before?.sent ?? false),
        skipped: !isDone,
        messageId: messageId ?? before?.messageId ?? null,
        optedOut: false,
      });
      if (isDone) run.last = n;
      run.next = next.n;
    } else if (event.kind === "cadence-paused") {
      if (event.data.why === "reply") run.reply ??= { at, after: run.last };
    } else if (event.kind === "cadence-stopped") {
      const { why } = event.data;
      if (why === "reply" || why === "call-back") run.reply ??= { at, after: run.last };
      run.ended = { at, why, after: run.last };
    } else run.ended = { at, why: null, after: run.last };
  }
  for (const run of runs.values()) markOptOuts(run, optOuts.get(run.leadId) ?? []);
  return [...runs.values()];
}

/** Whoever opted out while in it did so after the touch that came last before. */
function markOptOuts(run: Run, times: readonly number[]): void {
  for (const at of times) {
    if (at < run.startedAt || (run.ended && at > run.ended.at)) continue;
    const before = [...run.touches.values()]
      .filter((t) => t.sent && t.at <= at)
      .sort((a, b) => b.at - a.at)[0];
    if (before) before.optedOut = true;
  }
}

/** Whether a run counts for a figure of a touch. */
function counts(run: Run, n: number, key: FigureKey, fates: MessageFates): boolean {
  const touch = run.touches.get(n);
  if (!touch) return false;
  const endedBy = (why: StopWhy) => run.ended?.why === why && run.ended.after === n;
  switch (key) {
    case "came":
      return true;
    case "sent":
      return touch.sent;
    case "skipped":
      return touch.skipped;
    case "delivered":
      return touch.messageId !== null && fates.delivered(touch.messageId);
    case "opened":
      return touch.messageId !== null && fates.opened(touch.messageId);
    case "replied":
      return run.reply?.after === n;
    case "optedOut":
      return touch.optedOut;
    default:
      return endedBy(key);
  }
}

/**
 * What a cadence has come to, by version and touch: plain counts over the record, shares with Wilson’s 95 % interval.
 * `optOuts`: when each lead opted out of anything (epoch ms). `touches`: how many each version has.
 */
export function cadenceFigures(
  events: Iterable<CadenceEvent>,
  touches: ReadonlyMap<number, number>,
  fates: MessageFates,
  optOuts: ReadonlyMap<string, readonly number[]>,
  now: number,
): VersionFigures[] {
  const runs = runsOf(events, optOuts);
  return [...new Set(runs.map((r) => r.version))]
    .sort((a, b) => b - a)
    .map((version) => {
      const own = runs.filter((r) => r.version === version);
      const count = Math.max(
        touches.get(version) ?? 0,
        ...own.flatMap((r) => [...r.touches.keys()].map((n) => n + 1)),
        0,
      );
      const stopped: Partial<Record<StopWhy, number>> = {};
      for (const { ended } of own) if (ended?.why) stopped[ended.why] = (stopped[ended.why] ?? 0) + 1;
      return {
        version,
        began: own.length,
        in: own.filter((r) => !r.ended).length,
        done: own.filter((r) => r.ended && r.ended.why === null).length,
        touches: Array.from({ length: count }, (_, n) => touchFigures(own, n, fates)),
        stopped,
        replied: share(own.filter((r) => r.reply).length, own.length),
        replies: cumulativeIncidence(
          own.map((r) => courseOf(r, now)),
          1,
        ),
      };
    });
}

function touchFigures(runs: readonly Run[], n: number, fates: MessageFates): TouchFigures {
  const of = (key: FigureKey) => runs.filter((r) => counts(r, n, key, fates)).length;
  const sent = of("sent");
  return {
    n: n + 1,
    came: of("came"),
    now: runs.filter((r) => !r.ended && r.next === n).length,
    sent,
    skipped: of("skipped"),
    delivered: of("delivered"),
    opened: of("opened"),
    replied: share(of("replied"), sent),
    reached: share(of("reached"), sent),
    booked: share(of("booked"), sent),
    won: share(of("won"), sent),
    optedOut: of("optedOut"),
  };
}

/** A run as a course towards a reply: 1 replied, 2 stopped or done otherwise, 0 still in it. Days. */
function courseOf(run: Run, now: number): Course {
  if (run.reply) return { time: (run.reply.at - run.startedAt) / DAY, cause: 1 };
  return { time: ((run.ended?.at ?? now) - run.startedAt) / DAY, cause: run.ended ? 2 : 0 };
}

/** The leads a figure of a touch (1-based) counts, the latest first. */
export function leadsBehind(
  events: Iterable<CadenceEvent>,
  version: number,
  n: number,
  key: FigureKey,
  fates: MessageFates,
  optOuts: ReadonlyMap<string, readonly number[]>,
): string[] {
  const found = runsOf(events, optOuts).filter((r) => r.version === version && counts(r, n - 1, key, fates));
  return [...new Set(found.reverse().map((r) => r.leadId))];
}

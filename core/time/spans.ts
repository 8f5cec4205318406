import type { Calendar } from "./calendar.ts";

/** A stretch of time: epoch ms, end exclusive. */
export interface Span {
  readonly from: number;
  readonly to: number;
}

/** Sorted and disjoint: what touches or overlaps is one span, what is empty is gone. */
export function tidy(spans: readonly Span[]): Span[] {
  const sorted = spans.filter((s) => s.to > s.from).sort((a, b) => a.from - b.from);
  const out: Span[] = [];
  for (const span of sorted) {
    const last = out.at(-1);
    if (last && span.from <= last.to)
      out[out.length - 1] = { from: last.from, to: Math.max(last.to, span.to) };
    else out.push(span);
  }
  return out;
}

/** What is in `spans` and in none of `less`. */
export function without(spans: readonly Span[], less: readonly Span[]): Span[] {
  let left = tidy(spans);
  for (const cut of tidy(less))
    left = left.flatMap((s) =>
      cut.to <= s.from || cut.from >= s.to
        ? [s]
        : [
            { from: s.from, to: cut.from },
            { from: cut.to, to: s.to },
          ].filter((part) => part.to > part.from),
    );
  return left;
}

/** The calendar's open spans between two times. */
export function openSpans(calendar: Calendar, from: number, to: number): Span[] {
  const spans: Span[] = [];
  for (let i = 0; i < calendar.starts.length; i++) {
    const start = Math.max(from, calendar.starts[i]!);
    const end = Math.min(to, calendar.ends[i]!);
    if (end > start) spans.push({ from: start, to: end });
  }
  return spans;
}

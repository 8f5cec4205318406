import { addOpen, compileCalendar, openBetween } from "../core/time/calendar.ts";
import { tarnholt } from "../demo/tarnholt.ts";
import { report } from "./support.ts";

const QUESTIONS = 2_000_000;
const DAY = 86_400_000;

/** Questions to a calendar of two years: each is a binary search. */
export async function benchCalendar(): Promise<void> {
  const from = Date.parse("2026-01-01T00:00:00Z");
  const calendar = compileCalendar(tarnholt.policies.desk, from, from + 730 * DAY);
  const rate = (ask: (at: number) => number) => {
    let sum = 0;
    const begun = performance.now();
    for (let i = 0; i < QUESTIONS; i++) sum += ask(from + ((i * 7_919_777) % (600 * DAY)));
    if (!Number.isFinite(sum)) throw new Error("A question had no answer.");
    return `${(QUESTIONS / (performance.now() - begun) / 1000).toFixed(1)} million a second`;
  };
  report("desk calendar of two years", [
    ["add five open minutes", rate((at) => addOpen(calendar, at, 300_000))],
    ["open time between two instants", rate((at) => openBetween(calendar, at, at + 3 * DAY))],
  ]);
}

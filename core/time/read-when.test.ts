import fc from "fast-check";
import { DateTime } from "luxon";
import { describe, expect, it } from "vitest";
import { readWhen } from "./read-when.ts";

/** Wednesday 4 March 2026, 9:40, in each of these zones; the Sunday after, clocks go forward in two of them. */
const ZONES = ["America/Denver", "America/Phoenix", "America/St_Johns"];
const nowIn = (zone: string) => DateTime.fromISO("2026-03-04T09:40:00", { zone }).toMillis();

/** What each phrase must mean, as a wall time of the place; luxon knows nothing of the parser or of Temporal. */
const MEANT: readonly (readonly [string, string])[] = [
  ["in 2 h", "+PT2H"],
  ["2h", "+PT2H"],
  ["2 hours", "+PT2H"],
  ["in 1 hour", "+PT1H"],
  ["in an hour", "+PT1H"],
  ["an hour", "+PT1H"],
  ["in half an hour", "+PT30M"],
  ["half an hour", "+PT30M"],
  ["90 min", "+PT90M"],
  ["90 minutes", "+PT90M"],
  ["in 15 minutes", "+PT15M"],
  ["15m", "+PT15M"],
  ["in 45 min", "+PT45M"],
  ["3 days", "2026-03-07T09:40"],
  ["in 3 days", "2026-03-07T09:40"],
  ["3d", "2026-03-07T09:40"],
  ["In 3 Days", "2026-03-07T09:40"],
  ["in 5 days", "2026-03-09T09:40"],
  ["in one day", "2026-03-05T09:40"],
  ["in a day", "2026-03-05T09:40"],
  ["in 1 week", "2026-03-11T09:40"],
  ["in a week", "2026-03-11T09:40"],
  ["a week", "2026-03-11T09:40"],
  ["2 weeks", "2026-03-18T09:40"],
  ["in two weeks", "2026-03-18T09:40"],
  ["2w", "2026-03-18T09:40"],
  ["in a month", "2026-04-04T09:40"],
  ["in 3 months", "2026-06-04T09:40"],
  ["one month", "2026-04-04T09:40"],
  ["in a year", "2027-03-04T09:40"],
  ["today at 5pm", "2026-03-04T17:00"],
  ["today 17:00", "2026-03-04T17:00"],
  ["tonight", "2026-03-04T19:00"],
  ["this evening", "2026-03-04T19:00"],
  ["this afternoon", "2026-03-04T14:00"],
  ["tonight at 8pm", "2026-03-04T20:00"],
  ["noon", "2026-03-04T12:00"],
  ["at noon", "2026-03-04T12:00"],
  ["midnight", "2026-03-05T00:00"],
  ["17.30", "2026-03-04T17:30"],
  ["17:30", "2026-03-04T17:30"],
  ["at 17:30", "2026-03-04T17:30"],
  ["5pm", "2026-03-04T17:00"],
  ["5:15 pm", "2026-03-04T17:15"],
  ["8:00", "2026-03-05T08:00"],
  ["9am", "2026-03-05T09:00"],
  ["8.15", "2026-03-05T08:15"],
  ["tomorrow", "2026-03-05T09:00"],
  ["Tomorrow 10", "2026-03-05T10:00"],
  ["tomorrow at 10", "2026-03-05T10:00"],
  ["tomorrow 10:30", "2026-03-05T10:30"],
  ["tomorrow at 2:30 pm", "2026-03-05T14:30"],
  ["tomorrow at noon", "2026-03-05T12:00"],
  ["tomorrow morning", "2026-03-05T09:00"],
  ["tomorrow afternoon", "2026-03-05T14:00"],
  ["tomorrow evening", "2026-03-05T19:00"],
  ["tomorrow 17.30", "2026-03-05T17:30"],
  ["5 pm tomorrow", "2026-03-05T17:00"],
  ["thursday", "2026-03-05T09:00"],
  ["thu", "2026-03-05T09:00"],
  ["fri", "2026-03-06T09:00"],
  ["Friday", "2026-03-06T09:00"],
  ["on friday", "2026-03-06T09:00"],
  ["fri 9:30", "2026-03-06T09:30"],
  ["friday at 4pm", "2026-03-06T16:00"],
  ["friday afternoon", "2026-03-06T14:00"],
  ["sat", "2026-03-07T09:00"],
  ["sunday", "2026-03-08T09:00"],
  ["monday", "2026-03-09T09:00"],
  ["monday morning", "2026-03-09T09:00"],
  ["mon 8:00", "2026-03-09T08:00"],
  ["next monday", "2026-03-09T09:00"],
  ["tuesday", "2026-03-10T09:00"],
  ["next tuesday", "2026-03-10T09:00"],
  ["wed", "2026-03-11T09:00"],
  ["wed 17:00", "2026-03-04T17:00"],
  ["next week", "2026-03-11T09:00"],
  ["next month", "2026-04-04T09:00"],
  ["march 10", "2026-03-10T09:00"],
  ["10 march", "2026-03-10T09:00"],
  ["mar 10", "2026-03-10T09:00"],
  ["10 mar 10:00", "2026-03-10T10:00"],
  ["march 10 at 2pm", "2026-03-10T14:00"],
  ["24 Mar 10:00", "2026-03-24T10:00"],
  ["3 march", "2027-03-03T09:00"],
  ["1 may", "2026-05-01T09:00"],
  ["may 3", "2026-05-03T09:00"],
  ["2026-04-01", "2026-04-01T09:00"],
  ["2026-04-01 14:00", "2026-04-01T14:00"],
  ["1.4.2026", "2026-04-01T09:00"],
  ["until 1 may", "2026-05-01T09:00"],
  ["day 90", "2026-05-02T09:00"],
  ["day 120", "2026-06-01T09:00"],
];
/** They became a customer on 1 February. */
const SINCE = "2026-02-01T15:00:00";

const NONSENSE = [
  "",
  " ",
  "friend",
  "friday’s friend",
  "money",
  "sunroof",
  "monkey",
  "marching",
  "may",
  "march",
  "thursdayish",
  "whenever",
  "soon",
  "later",
  "sometime next year maybe",
  "31 jun",
  "31 june",
  "30 february",
  "25:00",
  "13 pm",
  "17.75",
  "today 8:00",
  "yesterday",
  "last friday",
  "3 days ago",
  "2020-01-01",
  "tomorrow or friday",
  "mon to fri",
  "call fri",
  "fri 9:30 please",
  "the day after never",
  "day",
  "day x",
  "12345",
  "in",
  "in days",
  "-3 days",
  "next",
  "at",
];

describe.each(ZONES)("a time as people type it, in %s", (zone) => {
  const now = nowIn(zone);
  const since = DateTime.fromISO(SINCE, { zone }).toMillis();
  const meant = (iso: string) =>
    iso.startsWith("+") ? now + durationOf(iso.slice(1)) : DateTime.fromISO(iso, { zone }).toMillis();
  it.each(MEANT)("%j is %s", (text, iso) => expect(readWhen(text, now, zone, since)).toBe(meant(iso)));
  it.each(NONSENSE)("%j is refused", (text) => expect(readWhen(text, now, zone, since)).toBeNull());
});

const durationOf = (iso: string) => {
  const [, h = "0", m = "0"] = /^PT(?:(\d+)H)?(?:(\d+)M)?$/.exec(iso)!;
  return (Number(h) * 60 + Number(m)) * 60_000;
};

it("“day 90” of nobody who bought is refused", () =>
  expect(readWhen("day 90", nowIn("America/Denver"), "America/Denver")).toBeNull());

it("an hour on the night clocks go forward is an hour", () =>
  expect(readWhen("in 24 h", Date.parse("2026-03-07T20:00:00-07:00"), "America/Denver")).toBe(
    Date.parse("2026-03-08T21:00:00-06:00"),
  ));

it("is never in the past, whatever is typed", () => {
  const now = nowIn("America/Denver");
  fc.assert(
    fc.property(fc.string({ maxLength: 24 }), (text) => {
      const due = readWhen(text, now, "America/Denver");
      if (due !== null) expect(due).toBeGreaterThan(now);
    }),
  );
});

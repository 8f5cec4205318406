import { DateTime } from "luxon";
import { describe, expect, it } from "vitest";
import { compileCalendar } from "./calendar.ts";
import { endOfDay, inDays, inDaysWhenOpen, nextWallTime } from "./defer.ts";
import { clockTime, counter, dayTime, duration } from "./words.ts";

const zone = "America/Denver";
const at = (iso: string) => DateTime.fromISO(iso, { zone }).toMillis();
const iso = (ms: number) => DateTime.fromMillis(ms, { zone }).toFormat("ccc yyyy-MM-dd HH:mm");

describe("putting off", () => {
  // Common practice: calendar days rolled forward off the weekend.
  it("four days after Wed 17 Feb 2021, not on a weekend, is Mon 22 Feb 2021", () => {
    expect(iso(inDays(at("2021-02-17T10:00"), zone, { days: 4, skipWeekend: true }))).toBe(
      "Mon 2021-02-22 10:00",
    );
  });
  it("without the rule it stays on the Sunday", () => {
    expect(iso(inDays(at("2021-02-17T10:00"), zone, { days: 4 }))).toBe("Sun 2021-02-21 10:00");
  });
  it("keeps the wall time over a clock change", () => {
    expect(iso(inDays(at("2026-03-06T10:00"), zone, { days: 3 }))).toBe("Mon 2026-03-09 10:00");
  });
  it("moves to the opening after a holiday, still off the weekend", () => {
    const calendar = compileCalendar(
      {
        zone,
        week: { 1: [["08:00", "18:00"]], 5: [["08:00", "18:00"]], 6: [["09:00", "13:00"]] },
        exceptions: { "2026-07-03": { name: "Independence Day (observed)", spans: [] } },
      },
      at("2026-06-01"),
      at("2026-08-01"),
    );
    // Tue 30 June + 3 days = Fri 3 July, closed; Saturday is open but a weekend; so Monday.
    expect(iso(inDaysWhenOpen(at("2026-06-30T15:00"), calendar, { days: 3, skipWeekend: true }))).toBe(
      "Mon 2026-07-06 08:00",
    );
    expect(iso(inDaysWhenOpen(at("2026-06-30T15:00"), calendar, { days: 3 }))).toBe("Sat 2026-07-04 09:00");
  });
  // By Luxon: another package than the one that does the work.
  it.each(["America/Denver", "Europe/Warsaw", "Australia/Lord_Howe", "America/Santiago", "Asia/Kolkata"])(
    "keeps wall time and date in %s on any day, around clock changes too",
    (place) => {
      const hows = [
        { days: 0, at: "09:30" },
        { days: 2, at: "00:30" },
        { days: 3, skipWeekend: true, at: "08:00" },
        { days: 3, skipWeekend: true },
        { days: 1 },
      ];
      const first = DateTime.fromISO("2026-03-01T00:17", { zone: place });
      for (let hour = 0; hour < 60 * 24; hour += 5)
        for (const how of hows) {
          const from = first.plus({ hours: hour });
          let day = from.startOf("day").plus({ days: how.days });
          if (how.skipWeekend) while (day.weekday > 5) day = day.plus({ days: 1 });
          const [h, m] = how.at ? how.at.split(":").map(Number) : [from.hour, from.minute];
          const expected = day.set({ hour: h!, minute: m! });
          // A wall time that a clock change leaves out is no question for Luxon: both move it by the gap.
          expect([from.toISO(), how, inDays(from.toMillis(), place, how)]).toEqual([
            from.toISO(),
            how,
            expected.toMillis(),
          ]);
        }
    },
  );
  it("knows the end of a day that has 23 hours", () => {
    expect(endOfDay(at("2026-03-08T00:30"), zone) - at("2026-03-08T00:00")).toBe(23 * 3_600_000);
  });
  it("finds the next wall time today or tomorrow", () => {
    expect(iso(nextWallTime(at("2026-03-04T09:00"), zone, "08:00"))).toBe("Thu 2026-03-05 08:00");
    expect(iso(nextWallTime(at("2026-03-04T07:00"), zone, "08:00"))).toBe("Wed 2026-03-04 08:00");
  });
});

describe("words", () => {
  const now = at("2026-03-04T09:40");
  it.each([
    ["2026-03-04T14:05", "today 14:05"],
    ["2026-03-03T09:30", "yesterday 09:30"],
    ["2026-03-05T08:00", "tomorrow 08:00"],
    ["2026-03-07T09:30", "Sat 09:30"],
    ["2026-03-24T10:00", "24 Mar 10:00"],
  ])("%s is said %s", (when, said) => expect(dayTime(at(when), zone, now)).toBe(said));
  it("says lengths of time", () => {
    expect(duration(48_000)).toBe("48 s");
    expect(duration(200_000)).toBe("3 min 20 s");
    expect(duration(7_500_000)).toBe("2 h 5 min");
    expect(duration(4 * 86_400_000)).toBe("4 days");
    expect(counter(48_000)).toBe("0:48");
    expect(counter(12_000_000)).toBe("3 h 20");
    expect(counter(61_500_000)).toBe("17 h");
    expect(counter(200_000_000)).toBe("2 d");
  });
  it("shows the time there", () => expect(clockTime(now, "America/Halifax")).toBe("12:40"));
});

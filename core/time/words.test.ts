import fc from "fast-check";
import { DateTime } from "luxon";
import { describe, expect, it } from "vitest";
import { readWhen } from "./read-when.ts";
import { bothTimes, dateTime, dayTime, timeBeside, zoneName } from "./words.ts";

const DENVER = "America/Denver";
const at = (iso: string, zone = DENVER) => DateTime.fromISO(iso, { zone }).toMillis();
const now = at("2026-03-04T09:00");

describe("a time agreed with a lead", () => {
  it("is told on their clock first, and on ours beside it", () => {
    expect(bothTimes(at("2026-03-05T12:00"), "America/New_York", DENVER, now)).toBe(
      "tomorrow 14:00 there, 12:00 here",
    );
  });
  it("is told once where both clocks show the same", () => {
    expect(bothTimes(at("2026-03-05T12:00"), "America/Boise", DENVER, now)).toBe(
      "tomorrow 12:00 here and there",
    );
  });
  it("names both days where it is another day there", () => {
    expect(bothTimes(at("2026-03-04T23:00"), "Europe/Berlin", DENVER, now)).toBe(
      "tomorrow 07:00 there, today 23:00 here",
    );
  });
});

describe("a time that is read on another day", () => {
  it("says its date, never today or tomorrow", () => {
    expect(dateTime(at("2026-03-03T17:00"), DENVER, now)).toBe("Tue 3 Mar 17:00");
    expect(dateTime(at("2025-12-31T17:00"), DENVER, now)).toBe("Wed 31 Dec 2025 17:00");
    expect(timeBeside(at("2026-03-04T17:00"), DENVER, now)).toBe("17:00");
    expect(timeBeside(at("2026-03-05T17:00"), DENVER, now)).toBe("Thu 5 Mar 17:00");
  });
  it("can be read back from what is said, by another library", () => {
    const zones = fc.constantFrom(DENVER, "Europe/Berlin", "Asia/Kolkata", "Australia/Lord_Howe", "UTC");
    const times = fc.integer({ min: at("2025-01-01T00:00"), max: at("2027-12-31T00:00") });
    fc.assert(
      fc.property(times, times, zones, (time, near, zone) => {
        const said = dateTime(time, zone, near);
        const there = DateTime.fromMillis(time, { zone, locale: "en-GB" });
        const year = there.year === DateTime.fromMillis(near, { zone }).year ? "" : ` ${there.year}`;
        expect(said).toBe(
          `${there.toFormat("ccc d")} ${there.toFormat("MMM")}${year} ${there.toFormat("HH:mm")}`,
        );
      }),
    );
  });
});

it("the zone is named as people name it", () => {
  expect(zoneName(now, DENVER)).toBe("MST");
  expect(zoneName(at("2026-07-04T09:00"), DENVER)).toBe("MDT");
});

describe("times in words", () => {
  it("are whole words: what only begins like a day or a month is not understood", () => {
    for (const said of [
      "money",
      "sunroof",
      "friendly",
      "wedding 10:00",
      "12 marbles",
      "3 mayor",
      "in 3 hoursx",
    ])
      expect([said, readWhen(said, now, DENVER)]).toEqual([said, null]);
  });
  it("are understood short and long", () => {
    const said = (text: string) => dayTime(readWhen(text, now, DENVER)!, DENVER, now);
    for (const text of ["thu 10", "thur 10", "thurs 10", "Thursday 10", "next thursday at 10"])
      expect([text, said(text)]).toEqual([text, "tomorrow 10:00"]);
    expect(said("12 march 8:30")).toBe("12 Mar 08:30");
  });
  it("count months by the calendar", () => {
    const end = at("2026-01-31T10:00");
    expect(dateTime(readWhen("in 1 month", end, DENVER)!, DENVER, end)).toBe("Sat 28 Feb 10:00");
  });
});

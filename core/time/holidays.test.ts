import { expect, it } from "vitest";
import { countries, holidaysIn, regionsOf } from "./holidays.ts";

it("names countries and their regions", () => {
  expect(countries()).toContainEqual({ key: "US", name: "United States of America" });
  expect(regionsOf("CA")).toContainEqual({ key: "QC", name: "Quebec" });
  expect(regionsOf("XX")).toEqual([]);
});

// 5 U.S.C. 6103(a): the eleven legal public holidays, here of 2026; (b): one on a Saturday is kept the Friday before.
it("gives the holidays of 5 U.S.C. 6103 for the United States", () => {
  const dates = holidaysIn("US", null, 2026).map((h) => h.date);
  expect(dates).toEqual([
    "2026-01-01",
    "2026-01-19",
    "2026-02-16",
    "2026-05-25",
    "2026-06-19",
    "2026-07-03",
    "2026-07-04",
    "2026-09-07",
    "2026-10-12",
    "2026-11-11",
    "2026-11-26",
    "2026-12-25",
  ]);
});

// Loi sur la fête nationale (RLRQ, F-1.1): 24 June is a holiday in Québec alone.
it("knows what only a region keeps", () => {
  const has = (region: string | null) => holidaysIn("CA", region, 2026).some((h) => h.date === "2026-06-24");
  expect([has("QC"), has("ON"), has(null)]).toEqual([true, false, false]);
});

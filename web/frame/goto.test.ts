import { expect, it } from "vitest";
import { type Goal, goalsFor } from "./goto.ts";

const goal = (name: string, also?: string): Goal => ({ name, go: () => {}, ...(also && { also }) });
const GOALS = [
  goal("Board"),
  goal("Set-up: Bells", "targets ladders"),
  goal("Set-up: Desk hours"),
  goal("New inquiry", "lead"),
];
const names = (typed: string) => goalsFor(typed, GOALS).map((g) => g.name);

it("finds a place by the beginning of its words, in any order, and by what else it is called", () => {
  expect(names("boa")).toEqual(["Board"]);
  expect(names("hours desk")).toEqual(["Set-up: Desk hours"]);
  expect(names("LADD")).toEqual(["Set-up: Bells"]);
  expect(names("set up")).toEqual(["Set-up: Bells", "Set-up: Desk hours"]);
});

it("forgives a typing error only where nothing is called just so", () => {
  expect(names("baord")).toEqual(["Board"]);
  expect(names("bels")).toEqual(["Set-up: Bells"]);
  expect(names("dask hours")).toEqual(["Set-up: Desk hours"]);
});

it("finds nothing for nothing, and for what is nobody's name", () => {
  for (const typed of ["", "  ", "--", "xyz", "board xyz"]) expect(names(typed)).toEqual([]);
});

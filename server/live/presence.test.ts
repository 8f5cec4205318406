import { expect, it } from "vitest";
import { Presence } from "./presence.ts";

const begin = () => {
  const told: string[] = [];
  const clock = { now: 0 };
  return {
    told,
    clock,
    presence: new Presence(
      (id) => told.push(id),
      () => clock.now,
    ),
  };
};

it("those who have a lead open hear of each other, and of nobody at another lead", () => {
  const { presence, told } = begin();
  expect(presence.here("a", "noor")).toEqual([]);
  expect(presence.here("a", "ben")).toEqual(["noor"]);
  expect(presence.here("b", "mara")).toEqual([]);
  expect(presence.here("a", "noor")).toEqual(["ben"]);
  // Told as somebody comes, not each time they say that they are there still.
  expect(told).toEqual(["a", "a", "b"]);
});
it("whoever leaves, or is not heard of for long, is there no more", () => {
  const { presence, told, clock } = begin();
  presence.here("a", "noor");
  presence.here("a", "ben");
  presence.gone("a", "ben");
  expect(presence.here("a", "mara")).toEqual(["noor"]);
  clock.now += 46_000;
  expect(presence.here("a", "mara")).toEqual([]);
  presence.gone("a", "somebody else");
  expect(told).toEqual(["a", "a", "a", "a", "a"]);
});

import { randomFillSync } from "node:crypto";
import type { Clock } from "./clock.ts";

/** Makes ids like `lead_0mtr3k9x20a1f7q`: a prefix, the time, a counter, chance. They sort by birth. */
export type MakeId = (prefix: string) => string;

/** Chance is drawn by the thousand: asking the system for four bytes at a time costs more than the rest of an id. */
const pool = new Uint32Array(1024);
let drawn = pool.length;

function random(): string {
  if (drawn === pool.length) {
    randomFillSync(pool);
    drawn = 0;
  }
  return pool[drawn++]!.toString(36).padStart(7, "0");
}

/** Ids by a clock; `chance` gives seven characters, and is replaced where ids must come out the same again. */
export function idMaker(clock: Clock, chance: () => string = random): MakeId {
  let count = 0;
  let last = Number.NaN;
  let stamp = "";
  return (prefix) => {
    count = (count + 1) % 46_656;
    const now = clock.now();
    // Many are made in one millisecond.
    if (now !== last) {
      last = now;
      stamp = now.toString(36).padStart(9, "0");
    }
    return `${prefix}_${stamp}${count.toString(36).padStart(3, "0")}${chance()}`;
  };
}

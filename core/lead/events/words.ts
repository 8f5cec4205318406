import { BELLS } from "../../policy/bell-names.ts";
import type { BellKind } from "../../policy/bells.ts";
import { nameOf, type Setup } from "../../policy/setup.ts";
import { lateBy } from "../../time/words.ts";

/** Words that events of several families are said with. */

export const list = (setup: Setup, ids: readonly string[]) => ids.map((id) => nameOf(setup, id)).join(", ");

export const zoneOf = (setup: Setup) => setup.policies.desk.zone;

/** From so late on (ms) it is said: the desk itself was not there. */
export const LATE = 60_000;

export const lateness = (late: number) => (late > LATE ? `, ${lateBy(late)}` : "");

/** Which bell, where it is not the usual one. */
export const ofBell = (bell: BellKind) => (bell === "inquiry" ? "" : ` (${BELLS[bell].name.toLowerCase()})`);

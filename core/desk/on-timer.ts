import type { Timer } from "../lead/timers.ts";
import { touchDue } from "./cadence.ts";
import { climb } from "./climb.ts";
import { lapse, routeAgain } from "./hand-off.ts";
import { lookAgain } from "./park.ts";
import type { Decided, World } from "./plan.ts";
import { sendDue } from "./send-due.ts";

/** What a timer of each kind does when it falls due. */
export const ON_TIMER: Record<Exclude<Timer["kind"], "wipe">, (world: World, timer: Timer) => Decided> = {
  lapse,
  rung: climb,
  route: routeAgain,
  send: sendDue,
  touch: touchDue,
  look: lookAgain,
};

import type { BellKind, RungAct } from "./bells.ts";

/** What each bell watches over, as the editor names it. */
export const BELLS: Readonly<Record<BellKind, { readonly name: string; readonly said: string }>> = {
  inquiry: { name: "A new inquiry", said: "from its arrival to the first try" },
  untried: { name: "Owned, not tried", said: "from when somebody has it to their first try" },
  reply: { name: "Reply or call back waiting", said: "from when they wrote or called to an answer" },
  overdue: { name: "Next step overdue", said: "from the time of the next step until it is done" },
  promise: { name: "A promise to the lead", said: "from the time that was promised" },
  stalled: { name: "Tries have stopped", said: "from the last try, before anybody was reached" },
  aimless: { name: "No next step", said: "from when nothing was planned any more" },
};

/** What each rung does, in words. */
export const RUNGS: Readonly<Record<RungAct, string>> = {
  nudge: "Nudged",
  ring: "Rang",
  manager: "Told the managers",
  next: "Offered to the next",
  group: "Offered to a group",
  standby: "Given to standby",
  tag: "Tagged",
  list: "Put on the manager’s list",
  park: "Parked",
};

import { ROLES } from "../core/access/access.ts";
import type { Desk } from "../server/desk.ts";
import type { SavedList } from "../server/lists/lists.ts";

type Made = Omit<SavedList, "id" | "ownerId">;

/** What the desk of the demo looks at every day. */
const OURS: readonly Made[] = [
  {
    name: "Quiet for ten days",
    where: {
      all: [
        { field: "quiet", is: "at-least", value: 10 },
        { field: "state", is: "one-of", value: ["again", "step", "idle"] },
      ],
    },
    columns: ["name", "product", "stage", "with", "quiet", "tries", "came"],
    sort: "-recent",
    shared: "desk",
  },
  {
    name: "Tried, never reached",
    where: {
      all: [
        { field: "tries", is: "at-least", value: 2 },
        { field: "reached", is: "equal", value: "no" },
        { none: [{ field: "state", is: "one-of", value: ["closed", "parked", "customer"] }] },
      ],
    },
    columns: ["name", "with", "tries", "tried", "next", "phone", "territory"],
    sort: "tries",
    shared: "desk",
  },
  {
    name: "Lodges of this month",
    where: {
      all: [
        { field: "product", is: "equal", value: "lodge" },
        { field: "age", is: "at-most", value: 31 },
      ],
    },
    columns: ["name", "company", "stage", "with", "value", "next", "came"],
    sort: "created",
    shared: "manager",
  },
];

/** The lists the demo's coordinator keeps. */
export function keepLists(desk: Desk): void {
  const me = desk.setup.people.find((p) => p.id === "p_ines")!;
  for (const list of OURS) {
    const kept = desk.lists.save({ me, rights: new Set(ROLES[me.role]) }, { ...list, pinned: true });
    if (!kept.ok) throw new Error(kept.problem.detail);
  }
}

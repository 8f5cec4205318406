import type { Condition } from "../condition/tree.ts";
import type { GroupWay } from "./people.ts";

/** To whom a rule offers. */
export type RuleTarget =
  | { readonly person: string }
  /** `way` when the rule chooses otherwise than the group usually does. */
  | { readonly group: string; readonly way?: GroupWay | undefined }
  /** Whoever had the lead last, when that is no more than so many days ago. */
  | { readonly formerWithin: number }
  /** Whoever the credit lies with. */
  | { readonly credit: true };

/** What happens when nobody a rule names can have the lead, or all have passed or let it lapse. */
export type AfterRule = "standby" | "list" | "onward";

/** One routing rule: what it fits, to whom it offers, and how long each has to take it. */
export interface Rule {
  readonly id: string;
  readonly name: string;
  readonly when: Condition | null;
  readonly to: RuleTarget;
  /** Minutes each person has to take it, by `clock`. */
  readonly offerMinutes: number;
  /** The desk's open minutes, unless it says plain ones. */
  readonly clock?: "desk" | "wall" | undefined;
  /** Standby when left out. */
  readonly otherwise?: AfterRule | undefined;
  /** Switched off: kept, but not asked. */
  readonly off?: boolean | undefined;
  /** Do not ask whether product, place and language suit the person: somebody chose the group by hand. */
  readonly anyFit?: boolean;
}

/** What is settled before any rule is asked. */
export interface SetAside {
  /** A repeat inquiry of a closed lead goes back to whoever had it. An open lead always stays with its owner. */
  readonly keepOwner: boolean;
  /** People who share a phone number, or are entered as belonging together, go to one salesperson. */
  readonly household: boolean;
}

/** The rules of routing as one thing that is drafted and published. */
export interface RuleSet {
  readonly rules: readonly Rule[];
  readonly setAside: SetAside;
}

/** Where routing stands: which version is live, and the draft that waits, if one does. */
export interface RoutingState {
  /** Grows with each publishing. */
  readonly version: number;
  readonly publishedAt: number;
  readonly by: string | null;
  readonly draft: (RuleSet & { readonly at: number; readonly by: string }) | null;
}

/** What becomes of a turn in a rotation that came to nothing. */
export interface Turns {
  /** Whoever passes has the next turn again, or has had it. */
  readonly pass: "back" | "kept";
  readonly lapse: "back" | "kept";
}

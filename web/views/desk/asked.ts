/** A dialog that can be asked for on the desk. */
export type OpenDialog =
  | "outcome"
  | "give"
  | "pass"
  | "defer"
  | "note"
  | "close"
  | "park"
  | "excuse"
  | "promise"
  | "cadence"
  | "hand-over"
  | "reopen"
  | "person"
  | "facts"
  | "rehearsal";

export interface LeadFilter {
  /** Any piece of a name, company, mail address or phone number. */
  readonly q?: string;
  readonly filter?: "open" | "waiting" | "rung" | "answered" | "listed" | "closed";
  readonly sort?: "recent" | "created";
  readonly limit: number;
  readonly cursor?: string;
  /** Only those this person has or is offered. */
  readonly theirs?: string;
}

import { concerns } from "../lead/columns.ts";
import type { Lead } from "../lead/lead.ts";
import type { Role } from "../policy/people.ts";

/** What somebody may do. `leads` is what one's own leads need; `leads.all` is about everybody's. */
export type Right =
  | "leads"
  | "leads.all"
  | "leads.move"
  | "mend"
  | "setup.read"
  | "setup.change"
  | "rules.draft"
  | "rules.publish"
  | "people"
  | "figures"
  | "audit"
  | "wipe"
  | "access"
  | "privacy";

/** What each right is about, for the table people read. */
export const RIGHTS: Readonly<Record<Right, string>> = {
  leads: "Take, pass, call, write to and log tries on leads that are theirs or offered to them",
  "leads.all": "See and work everybody’s leads",
  "leads.move": "Move leads between people, settle credit, and see to the manager’s list",
  mend: "Load lists, and mend what stands in quarantine",
  "setup.read": "Look at Set-up",
  "setup.change":
    "Change sources, replies, templates, fields, calls, alerts, sending limits, bells, hours and parking",
  "rules.draft": "Draft rules of routing, play them back, and try changes in the lab",
  "rules.publish": "Publish rules, and change what becomes of turns",
  people: "Change people’s hours, skills, absences and groups; switch others on and off duty",
  figures: "Look at fair shares and figures",
  audit: "Read who changed what",
  wipe: "Wipe a lead for good",
  access: "Invite people, give roles, make and revoke API keys",
  privacy: "Hand out everything known of a person, and have it erased",
};

const SALES: readonly Right[] = ["leads"];
const DESK: readonly Right[] = [
  ...SALES,
  "leads.all",
  "leads.move",
  "mend",
  "setup.read",
  "setup.change",
  "rules.draft",
  "figures",
  "wipe",
];
const MANAGER: readonly Right[] = [...DESK, "rules.publish", "people", "audit"];

/** The four roles, and what each may do. */
export const ROLES: Readonly<Record<Role, readonly Right[]>> = {
  salesperson: SALES,
  coordinator: DESK,
  manager: MANAGER,
  administrator: [...MANAGER, "access", "privacy"],
};

/**
 * What an API key may be made for. Each right belongs to its scope: what a key may read by one, it may not change by
 * another. A key never does more than whoever made it, and never has to do with accounts, keys or the data of a person as a whole.
 */
export const SCOPES = {
  read: {
    said: "Read everything, change nothing",
    rights: (Object.keys(RIGHTS) as Right[]).filter((right) => right !== "access" && right !== "privacy"),
    writes: false,
  },
  leads: {
    said: "Enter and work leads",
    rights: ["leads", "leads.all", "leads.move"] as Right[],
    writes: true,
  },
  setup: {
    said: "Change Set-up, people and rules",
    rights: ["mend", "setup.read", "setup.change", "rules.draft", "rules.publish", "people"] as Right[],
    writes: true,
  },
} as const;
export type Scope = keyof typeof SCOPES;

/** What a key made for these scopes by somebody in this role may do when it reads, or when it changes something. */
export function rightsOfKey(scopes: readonly Scope[], role: Role, writes: boolean): ReadonlySet<Right> {
  const own = new Set(ROLES[role]);
  const used = scopes.filter((scope) => !writes || SCOPES[scope].writes);
  return new Set(used.flatMap((scope) => SCOPES[scope].rights).filter((right) => own.has(right)));
}

/** Whether somebody in one role has every right of another: only then may they change how that one signs in. */
export function isAbove(role: Role, other: Role): boolean {
  const own = new Set(ROLES[role]);
  return ROLES[other].every((right) => own.has(right));
}

/** Whether a lead is a salesperson's business: theirs, lent to somebody for them, theirs by credit, offered to them, or with a task for them. */
export function isTheirs(lead: Lead, personId: string): boolean {
  return concerns(lead).includes(personId);
}

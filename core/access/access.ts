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
  | "access";

/** What each right is about, for the table people read. */
export const RIGHTS: Readonly<Record<Right, string>> = {
  leads: "Take, pass, call, write to and log tries on leads that are theirs or offered to them",
  "leads.all": "See and work everybody’s leads",
  "leads.move": "Move leads between people, settle credit, and see to the manager’s list",
  mend: "Load lists, and mend what stands in quarantine",
  "setup.read": "Look at Set-up",
  "setup.change":
    "Change sources, replies, templates, fields, calls, alerts, restraint, bells, hours and parking",
  "rules.draft": "Draft rules of routing, and play them back",
  "rules.publish": "Publish rules, and change what becomes of turns",
  people: "Change people’s hours, skills, absences and groups; switch others on and off duty",
  figures: "Look at fair shares and figures",
  audit: "Read who changed what",
  wipe: "Wipe a lead for good",
  access: "Invite people, give roles, make and revoke API keys",
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
  administrator: [...MANAGER, "access"],
};

/**
 * What an API key may be made for. Each right belongs to its scope: what a key may read by one, it may not change by
 * another. A key never does more than whoever made it, and never has to do with accounts or keys.
 */
export const SCOPES = {
  read: {
    said: "Read everything, change nothing",
    rights: (Object.keys(RIGHTS) as Right[]).filter((right) => right !== "access"),
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

/**
 * Who may make a call: anybody at all, anybody who works here, only somebody who has signed in themselves and no program
 * for them, those with a right, or anybody in rehearsal.
 */
export type Needs = "anybody" | "signed-in" | "in-person" | "rehearsal" | Right;

/**
 * What every call of the API needs, by method and path. A call that is missing here is refused to everybody, and a test
 * says so.
 */
export const CALLS: Readonly<Record<string, Needs>> = {
  "GET /health": "anybody",
  "POST /held-replies": "setup.change",
  "POST /health": "anybody",
  "GET /openapi.json": "anybody",
  "GET /forms/[key]": "anybody",
  // Signed by the carrier, checked there.
  "POST /carrier/calls": "anybody",
  "POST /faults": "signed-in",
  "GET /me": "signed-in",
  "GET /people": "signed-in",
  "GET /groups": "signed-in",
  "GET /outcomes": "signed-in",
  "GET /troubles": "signed-in",
  "GET /live": "signed-in",
  "GET /queue": "leads",
  "GET /leads": "leads",
  "POST /leads": "leads",
  "POST /leads/match": "leads",
  "POST /leads/many": "leads.move",
  "GET /leads/[id]": "leads",
  "GET /leads/[id]/sheet": "leads",
  "GET /leads/[id]/events": "leads",
  "GET /leads/[id]/merge": "leads",
  "GET /leads/[id]/draft": "leads",
  "POST /leads/[id]/here": "leads",
  "POST /leads/[id]/draft": "leads",
  "POST /leads/[id]/take": "leads",
  "POST /leads/[id]/pass": "leads",
  "POST /leads/[id]/tries": "leads",
  "POST /leads/[id]/messages": "leads",
  "POST /leads/[id]/unschedule": "leads",
  "POST /leads/[id]/notes": "leads",
  "POST /leads/[id]/facts": "leads",
  "POST /leads/[id]/next-step": "leads",
  "POST /leads/[id]/close": "leads",
  "POST /leads/[id]/park": "leads",
  "POST /leads/[id]/excuse": "leads.move",
  "POST /leads/[id]/promise": "leads",
  "POST /leads/[id]/asked-for": "leads",
  "POST /leads/[id]/undo": "leads",
  "POST /leads/[id]/pin": "leads",
  "POST /leads/[id]/stops": "leads",
  "POST /leads/[id]/shared": "leads",
  "POST /leads/[id]/not-same": "leads.all",
  "POST /leads/[id]/join": "leads.all",
  "POST /leads/[id]/part": "leads.all",
  "POST /leads/[id]/give": "leads.move",
  "POST /leads/[id]/route": "leads.move",
  "POST /leads/[id]/credit": "leads.move",
  "POST /leads/[id]/credit-turn": "leads.move",
  "POST /leads/[id]/wipe": "wipe",
  "GET /calls": "leads",
  "POST /calls": "leads",
  "POST /calls/[id]/hang-up": "leads",
  "POST /calls/[id]/notes": "leads",
  "POST /calls/[id]/done": "leads",
  "GET /managers-list": "leads.move",
  "GET /parked": "leads.all",
  "GET /morning": "leads.move",
  "POST /morning": "setup.change",
  "POST /morning/send": "leads.move",
  // Anybody's browser, with a name that we signed.
  "POST /site/views": "anybody",
  "GET /setup/bells": "setup.read",
  "POST /setup/bells": "setup.change",
  "POST /setup/bells/draw": "setup.read",
  "POST /setup/bells/week": "setup.read",
  "POST /setup/bells/simulate": "setup.read",
  "GET /setup/hours": "setup.read",
  "POST /setup/hours": "setup.change",
  "POST /setup/hours/close": "setup.change",
  "POST /setup/hours/open": "setup.change",
  "GET /setup/holidays": "setup.read",
  "GET /setup/parking": "setup.read",
  "POST /setup/parking": "setup.change",
  "GET /files/[id]": "signed-in",
  "POST /files": "leads",
  "GET /inquiries/[id]/original": "leads.all",
  "POST /messages/[id]/resend": "leads.all",
  "GET /quarantine": "mend",
  "POST /quarantine/replay": "mend",
  "POST /quarantine/[id]/replay": "mend",
  "GET /imports": "mend",
  "POST /imports": "mend",
  "POST /imports/preview": "mend",
  "POST /imports/check": "mend",
  "GET /imports/[id]": "mend",
  "GET /imports/[id]/rejects.csv": "mend",
  "POST /imports/[id]/undo": "mend",
  "GET /ads": "setup.read",
  "POST /ads/connect": "setup.change",
  "POST /ads/forms": "setup.change",
  "GET /sources": "signed-in",
  "POST /sources": "setup.change",
  "GET /sources/[id]": "setup.read",
  "POST /sources/[id]": "setup.change",
  "POST /sources/[id]/test": "setup.change",
  "POST /sources/[id]/try": "setup.read",
  "POST /sources/[id]/questions": "setup.change",
  "POST /sources/[id]/catch-up": "setup.change",
  "GET /setup/sources": "setup.read",
  "GET /setup/fields": "signed-in",
  "POST /setup/fields": "setup.change",
  "GET /setup/replies": "setup.read",
  "POST /setup/replies": "setup.change",
  "POST /setup/replies/try": "setup.read",
  "GET /setup/templates": "setup.read",
  "POST /setup/templates": "setup.change",
  "POST /setup/templates/try": "setup.read",
  "POST /setup/templates/send": "setup.change",
  "GET /setup/templates/[id]/versions": "setup.read",
  "POST /setup/templates/[id]/remove": "setup.change",
  "GET /setup/restraint": "setup.read",
  "POST /setup/restraint": "setup.change",
  "GET /setup/suppressed": "setup.read",
  "POST /setup/suppressed": "setup.change",
  "POST /setup/suppressed/remove": "setup.change",
  "GET /setup/calls": "setup.read",
  "POST /setup/calls": "setup.change",
  // One's own alerts are everybody's to change; the company's are checked there.
  "GET /setup/alerts": "signed-in",
  "POST /setup/alerts": "signed-in",
  "POST /setup/alerts/test": "signed-in",
  "POST /me/duty": "signed-in",
  "GET /setup/people": "setup.read",
  "POST /setup/people": "people",
  "GET /setup/people/week": "setup.read",
  "POST /setup/people/[id]/duty": "people",
  "POST /setup/people/[id]/remove": "access",
  "POST /setup/groups": "people",
  "POST /setup/groups/[id]/remove": "people",
  "GET /setup/routing": "setup.read",
  "POST /setup/routing/draft": "rules.draft",
  "POST /setup/routing/drop": "rules.draft",
  "POST /setup/routing/try": "setup.read",
  "GET /setup/routing/versions": "setup.read",
  "POST /setup/routing/publish": "rules.publish",
  "POST /setup/routing/turns": "rules.publish",
  "POST /playbacks": "rules.draft",
  "GET /playbacks/[id]": "rules.draft",
  "POST /playbacks/[id]/cancel": "rules.draft",
  "GET /fair-share": "figures",
  "GET /audit": "audit",
  "GET /access": "access",
  "POST /access/people/[id]/invite": "access",
  "POST /access/people/[id]/sign-out": "access",
  "GET /me/sessions": "in-person",
  "POST /me/sessions": "in-person",
  "GET /keys": "access",
  "POST /keys": "access",
  "POST /keys/[id]/revoke": "access",
  "GET /rehearsal/clock": "rehearsal",
  "POST /rehearsal/clock": "rehearsal",
  "GET /rehearsal/outside": "rehearsal",
  "POST /rehearsal/text": "rehearsal",
  "POST /rehearsal/call": "rehearsal",
  "POST /rehearsal/email": "rehearsal",
  "POST /rehearsal/ad-form": "rehearsal",
  "POST /rehearsal/ad-question": "rehearsal",
  "POST /rehearsal/begin": "rehearsal",
  "GET /rehearsal/down": "rehearsal",
  "POST /rehearsal/down": "rehearsal",
  "GET /rehearsal/forms": "rehearsal",
  "POST /rehearsal/me": "rehearsal",
  "GET /rehearsal/phone": "rehearsal",
  "POST /rehearsal/phone": "rehearsal",
};

/** What pages need, by the beginning of their path: the longest that fits counts. Others need somebody signed in. */
const PAGES: Readonly<Record<string, Needs>> = {
  "/sign-in": "anybody",
  "/confirm/": "anybody",
  "/join/": "anybody",
  "/reset": "anybody",
  "/api/auth": "anybody",
  "/b/": "anybody",
  "/f/": "anybody",
  "/l/": "anybody",
  "/list": "leads.move",
  "/m/": "anybody",
  "/nothing-here": "anybody",
  "/parked": "leads.all",
  "/t/": "anybody",
  "/u/": "anybody",
  "/setup": "setup.read",
  "/setup/quarantine": "mend",
  "/setup/imports": "mend",
  "/setup/playback": "rules.draft",
  "/setup/shares": "figures",
  "/setup/access": "access",
  "/setup/changes": "audit",
  "/rehearsal": "rehearsal",
};

/** What the page at that path needs. */
export function pageNeeds(path: string): Needs {
  // As the pages are found: a slash too many makes no other page.
  const plain = path.replace(/\/{2,}/g, "/");
  const [best] = Object.keys(PAGES)
    .filter((start) => plain.startsWith(start))
    .sort((a, b) => b.length - a.length);
  return best ? PAGES[best]! : "signed-in";
}

/** Whether a lead is a salesperson's business: theirs, lent to somebody for them, theirs by credit, or offered to them. */
export function isTheirs(lead: Lead, personId: string): boolean {
  return (
    lead.ownerId === personId ||
    lead.coversFor === personId ||
    lead.creditId === personId ||
    (lead.handOff !== null && lead.handOff.state !== "taken" && lead.handOff.to.includes(personId))
  );
}

import type { Me } from "../wire/schemas.ts";

/** A place one can go to. */
export interface Place {
  readonly name: string;
  readonly href: string;
  /** The right it takes, or that it is a rehearsal. */
  readonly needs?: string;
  /** On a phone it stands in the menu. */
  readonly tucked?: true;
}

/** The main views, as the bar on top has them. */
export const VIEWS: readonly Place[] = [
  { name: "Desk", href: "/" },
  { name: "Rounds", href: "/rounds", needs: "leads" },
  { name: "Leads", href: "/leads", needs: "leads" },
  { name: "Today", href: "/today", needs: "leads", tucked: true },
  { name: "Board", href: "/board", needs: "leads" },
  { name: "Customers", href: "/customers", needs: "leads", tucked: true },
  { name: "Figures", href: "/figures", needs: "figures", tucked: true },
  { name: "Lab", href: "/lab", needs: "rules.draft", tucked: true },
  { name: "The list", href: "/list", needs: "leads.move", tucked: true },
  { name: "Parked", href: "/parked", needs: "leads.all", tucked: true },
  { name: "Set-up", href: "/setup", needs: "setup.read", tucked: true },
  { name: "Rehearsal", href: "/rehearsal", needs: "rehearsal", tucked: true },
];

/** The places of Set-up, by what they are about: in, out, who, when, and the house itself. */
export const SETUP = [
  {
    about: "The company",
    places: [
      { name: "First steps", href: "/setup/first-steps" },
      { name: "Company", href: "/setup/company" },
      { name: "Products", href: "/setup/products" },
      { name: "Territories", href: "/setup/territories" },
      { name: "Reasons", href: "/setup/words" },
    ],
  },
  {
    about: "Coming in",
    places: [
      { name: "Sources", href: "/setup" },
      { name: "Ad platform", href: "/setup/ads" },
      { name: "Spreadsheets", href: "/setup/imports" },
      { name: "Quarantine", href: "/setup/quarantine" },
      { name: "Fields and tags", href: "/setup/fields" },
    ],
  },
  {
    about: "Answering",
    places: [
      { name: "Replies", href: "/setup/replies" },
      { name: "Templates", href: "/setup/templates" },
      { name: "Sending limits", href: "/setup/restraint" },
      { name: "Calls", href: "/setup/calls" },
    ],
  },
  {
    about: "Who gets it",
    places: [
      { name: "People", href: "/setup/people" },
      { name: "Routing", href: "/setup/routing" },
      { name: "Playback", href: "/setup/playback" },
      { name: "Fair share", href: "/setup/shares" },
    ],
  },
  {
    about: "If nobody calls",
    places: [
      { name: "Bells", href: "/setup/bells" },
      { name: "Cadences", href: "/setup/cadences" },
      { name: "Desk hours", href: "/setup/hours" },
      { name: "Parking and waking", href: "/setup/waking" },
      { name: "Alerts", href: "/setup/alerts" },
    ],
  },
  {
    about: "To a customer",
    places: [
      { name: "Stages", href: "/setup/stages" },
      { name: "Questions", href: "/setup/questions" },
      { name: "Worksheets", href: "/setup/worksheets" },
    ],
  },
  {
    about: "Administration",
    places: [
      { name: "Ways out", href: "/setup/ways", needs: "access" },
      { name: "Other systems", href: "/setup/hooks", needs: "access" },
      { name: "Access", href: "/setup/access", needs: "access" },
      { name: "Backups", href: "/setup/backups", needs: "access" },
      { name: "People’s data", href: "/setup/privacy", needs: "privacy" },
      { name: "Changes", href: "/setup/changes", needs: "audit" },
    ],
  },
] as const;

export type SetupPlace = (typeof SETUP)[number]["places"][number]["name"];

/** Whether somebody may go there. */
export const maySee = ({ needs }: Place, me: Me | undefined): boolean =>
  !needs ||
  (needs === "rehearsal" ? me?.rehearsal === true : (me?.rights ?? []).some((right) => right === needs));

/** Every place somebody may go to, Set-up's with the name of what they belong to. */
export function placesFor(me: Me | undefined): readonly Place[] {
  const setup = me?.rights.includes("setup.read")
    ? SETUP.flatMap(({ places }) =>
        places.map((place: Place) => ({ ...place, name: `Set-up: ${place.name}` })),
      )
    : [];
  return [...VIEWS, { name: "Account", href: "/account" }, ...setup].filter((place) => maySee(place, me));
}

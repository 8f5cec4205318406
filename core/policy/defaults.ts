import { USUAL_BACKUPS } from "./backups.ts";
import { asCadences } from "./before-cadences.ts";
import { asStages } from "./before-stages.ts";
import { USUAL_LETTER } from "./letter.ts";
import { USUAL_PRIVACY } from "./privacy.ts";
import type { Policies, Setup } from "./setup.ts";
import { PLAIN_LAYOUT } from "./worksheet.ts";

/** Why leads are given to somebody by hand, until a company says otherwise. */
export const GIVE_REASONS = [
  "Knows them already",
  "Fits the product better",
  "Speaks their language",
  "Has more time today",
  "They asked for this person",
] as const;

/** What policies say that were kept before there was such a thing to decide. */
const DEFAULTS: Pick<
  Policies,
  | "setAside"
  | "routing"
  | "turns"
  | "late"
  | "counts"
  | "holidays"
  | "cadences"
  | "wakes"
  | "morning"
  | "letter"
  | "backups"
  | "privacy"
  | "sites"
  | "settled"
  | "alertWords"
  | "giveReasons"
  | "questionSets"
  | "worksheets"
  | "layout"
  | "hooks"
> = {
  setAside: { keepOwner: true, household: false },
  routing: { version: 1, publishedAt: 0, by: null, draft: null },
  turns: { pass: "kept", lapse: "kept" },
  questionSets: [],
  worksheets: [],
  layout: PLAIN_LAYOUT,
  hooks: [],
  late: { graceMinutes: 10, skip: ["nudge"] },
  counts: ["call", "text", "email", "visit"],
  holidays: null,
  cadences: [],
  wakes: [],
  morning: { on: false, ways: ["email"] },
  letter: USUAL_LETTER,
  backups: USUAL_BACKUPS,
  privacy: USUAL_PRIVACY,
  sites: [],
  alertWords: {},
  giveReasons: GIVE_REASONS,
  settled: ["company", "hours", "mail", "products", "territories", "replies", "tried"],
};

/** What was so for everybody before a company could say it. */
const COMPANY = { country: "US", languages: ["en", "fr", "es"] };

/** A setup as kept some versions ago, with everything filled in that has been added to policies since. */
export function withDefaults(setup: Setup): Setup {
  const policies = asStages(asCadences(setup.policies));
  const company = { ...COMPANY, ...policies.company };
  // What came later is told like the thing nearest to it.
  const nearest = policies.alerts.reply ?? [];
  const alerts = { undelivered: nearest, planned: nearest, list: nearest, ...policies.alerts };
  return { ...setup, policies: { ...DEFAULTS, ...policies, company, alerts } };
}

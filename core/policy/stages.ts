import { STAGE } from "../vocabulary.ts";

/** What a stage means for the figures: work goes on, or it ended well, badly, or was nothing. */
export const STAGE_KINDS = ["open", "won", "lost", "none"] as const;
export type StageKind = (typeof STAGE_KINDS)[number];
/** How something ended. */
export type EndKind = Exclude<StageKind, "open">;

/** What is counted in stages: a lead until it is handed over, a deal from then on. */
export type Staged = "lead" | "deal";

/** What happens when something enters a stage, beside the cadences that begin with it. */
export interface OnEntry {
  /** For whoever has it, due on the next open day. */
  readonly task?: string | undefined;
  readonly tag?: string | undefined;
  /** Who hears of it. */
  readonly tell?: readonly string[] | undefined;
}

/** One of the company's stages. Leads and deals hold its key, which never changes; its name is free. */
export interface Stage {
  readonly key: string;
  readonly name: string;
  readonly kind: StageKind;
  /** Whether leads or deals stand in it; both where nothing is said. */
  readonly of?: Staged | undefined;
  /** What must be known before it is entered: facts, fields of the company's own, and of deals what {@link DEAL_ASKS} names. */
  readonly asks: readonly string[];
  /** From where it may be entered; from everywhere where nothing is said. */
  readonly from?: readonly string[] | undefined;
  /** Who may move something into it: whoever has it, or only those who move leads between people. */
  readonly by?: "owner" | "movers" | undefined;
  /** Deals come here when an estimate of theirs is sent, accepted or declined. */
  readonly when?: "sent" | "accepted" | "declined" | undefined;
  readonly entry?: OnEntry | undefined;
}

/** Why something ended, and what follows from it. */
export interface EndReason {
  readonly key: string;
  readonly name: string;
  readonly kind: EndKind;
  readonly of?: Staged | undefined;
  /** Whoever had the lead has the turn again. */
  readonly turnBack?: boolean | undefined;
  /** The lead is set aside in this cadence instead of being closed. */
  readonly cadenceId?: string | undefined;
  /** After so many months somebody looks again. */
  readonly againMonths?: number | undefined;
}

/** What a stage of deals may ask for, beside facts of the lead. */
export const DEAL_ASKS = {
  worth: "Value of the deal",
  expectedOn: "Expected date",
  products: "Products and quantities",
  estimate: "An estimate that was sent",
  accepted: "An estimate that was accepted",
} as const;
export type DealAsk = keyof typeof DEAL_ASKS;

interface HasStages {
  readonly stages: readonly Stage[];
}
interface HasReasons {
  readonly reasons: readonly EndReason[];
}

const fits = (of: Staged) => (one: { readonly of?: Staged | undefined }) => (one.of ?? of) === of;

/** The stages of leads, or of deals, in order. Deals of a company without stages for them go by all there are. */
export function stagesOf(policies: HasStages, of: Staged): readonly Stage[] {
  return policies.stages.filter(fits(of));
}

/** The reasons a lead, or a deal, may end for. */
export function reasonsOf(policies: HasReasons, of: Staged): readonly EndReason[] {
  return policies.reasons.filter(fits(of));
}

const plain = (text: string) =>
  text
    .normalize("NFKC")
    .trim()
    .toLowerCase()
    .replace(/[\s_-]+/g, " ");

/** What is named by its key, or by its name however it is written; undefined when nothing is. */
export function named<T extends { readonly key: string; readonly name: string }>(
  list: readonly T[],
  text: string,
): T | undefined {
  return (
    list.find((one) => one.key === text) ??
    list.find((one) => plain(one.name) === plain(text)) ??
    list.find((one) => plain(one.key) === plain(text))
  );
}

/** What a stage is called; its key when there is none of that key any more. */
export const stageName = (policies: HasStages, key: string): string =>
  policies.stages.find((s) => s.key === key)?.name ?? key;

/** Names of the reasons a lead may be closed for. */
export const closeReasons = (policies: HasReasons): readonly string[] =>
  reasonsOf(policies, "lead").map((r) => r.name);

/** Names of the reasons after which whoever had the lead has the turn again. */
export const badReasons = (policies: HasReasons): readonly string[] =>
  reasonsOf(policies, "lead")
    .filter((r) => r.turnBack)
    .map((r) => r.name);

export const openStage = (key: string, of: Staged): Stage => ({ key, name: key, kind: "open", of, asks: [] });

/** The stages the desk itself puts leads into: they can be renamed, and not be gone. */
export const OWN_STAGES: readonly string[] = Object.values(STAGE);

/** Where deals stand until a company says otherwise. */
export const DEAL_STAGES: readonly Stage[] = [
  openStage("Looking at it", "deal"),
  { ...openStage("Priced", "deal"), when: "sent" },
  { ...openStage("Deciding", "deal"), when: "accepted" },
  { key: "Won", name: "Won", kind: "won", of: "deal", asks: [] },
  { key: "Lost", name: "Lost", kind: "lost", of: "deal", asks: [] },
  { key: "No decision", name: "No decision", kind: "none", of: "deal", asks: [] },
];

/** Why deals end until a company says otherwise. */
export const DEAL_REASONS: readonly EndReason[] = [
  { key: "Signed", name: "Signed", kind: "won", of: "deal" },
  { key: "Price", name: "Price", kind: "lost", of: "deal" },
  { key: "Went elsewhere", name: "Went elsewhere", kind: "lost", of: "deal" },
  { key: "Put off", name: "Put off", kind: "none", of: "deal", againMonths: 6 },
  { key: "Gone quiet", name: "Gone quiet", kind: "none", of: "deal" },
];

export const LEAD_STAGES: readonly Stage[] = [
  ...[STAGE.fresh, STAGE.tried, STAGE.talking, "Qualified"].map((key) => openStage(key, "lead")),
  openStage(STAGE.over, "lead"),
];

/** Why leads end until a company says otherwise. */
export const LEAD_REASONS: readonly EndReason[] = [
  { key: "Bought elsewhere", name: "Bought elsewhere", kind: "lost", of: "lead" },
  { key: "No fit", name: "No fit", kind: "lost", of: "lead" },
  { key: "Not interested now", name: "Not interested now", kind: "lost", of: "lead" },
  { key: "Not a real inquiry", name: "Not a real inquiry", kind: "none", of: "lead", turnBack: true },
  { key: "Never reached", name: "Never reached", kind: "none", of: "lead" },
];

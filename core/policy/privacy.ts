import type { Condition } from "../condition/tree.ts";

/** Leads that are erased once nothing has happened to them for so long. */
export interface RetentionRule {
  readonly id: string;
  readonly name: string;
  /** Which leads; null for all. */
  readonly when: Condition | null;
  /** Without anything having happened, in days. */
  readonly quietDays: number;
  readonly off?: boolean | undefined;
}

/** How long what names somebody is kept. */
export interface PrivacyPolicy {
  readonly rules: readonly RetentionRule[];
  /** So many days a rule's leads are listed before they are erased: time to hold one back. */
  readonly noticeDays: number;
}

/** Until a company says otherwise nobody is erased by a rule. */
export const USUAL_PRIVACY: PrivacyPolicy = { rules: [], noticeDays: 7 };

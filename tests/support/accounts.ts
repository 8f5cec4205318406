import type { Account, OfferAccount, TryAccount } from "../../core/report/account.ts";

let made = 0;

/** The account of a lead nobody has done anything about, with what is said of it. */
export function account(more: Partial<Account> = {}): Account {
  return {
    leadId: `lead_${++made}`,
    seq: 1,
    came: 0,
    source: "src_site",
    lastSource: more.source ?? "src_site",
    campaign: null,
    lastCampaign: null,
    channel: "website",
    product: null,
    zone: null,
    rule: null,
    groupId: null,
    person: null,
    kept: 0,
    repliedAt: null,
    triedAt: null,
    talkedAt: null,
    unrepliedAt: null,
    untriedAt: null,
    untalkedAt: null,
    dueAt: null,
    answeredAt: null,
    letOffAt: null,
    rangAt: null,
    tries: 0,
    talkedAtTry: null,
    stages: "",
    handedOverAt: null,
    boughtAt: null,
    closedAt: null,
    closedAs: null,
    inquiries: 1,
    ...more,
  };
}

export const tryOf = (more: Partial<TryAccount>): TryAccount => ({
  leadId: "lead_x",
  n: 1,
  at: 0,
  person: "p_mara",
  channel: "call",
  reached: 0,
  talked: null,
  wrapped: null,
  ...more,
});

export const offerOf = (more: Partial<OfferAccount>): OfferAccount => ({
  leadId: "lead_x",
  person: "p_mara",
  at: 0,
  endedAt: null,
  how: null,
  ...more,
});

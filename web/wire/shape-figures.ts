import { fromMinor } from "../../core/money/money.ts";
import type { WaitsTold } from "../../core/report/figures/response.ts";
import type { CostTold, SourceTold } from "../../core/report/figures/sources.ts";

/** How some waited, as it goes over the wire. */
export const waitsTold = ({ n, censored, median, quarter, threeQuarters, inTarget }: WaitsTold) => ({
  n,
  censored,
  median,
  quartiles: [quarter, threeQuarters] as [WaitsTold["quarter"], WaitsTold["quarter"]],
  inTarget,
});

/** What a source brought and cost, its money in whole units of the currency. */
export function sourceTold(told: SourceTold, currency: string) {
  const money = (minor: number | null) => (minor === null ? null : fromMinor(Math.round(minor), currency));
  const cost = ({ each, low, high }: CostTold) => ({ each: money(each), low: money(low), high: money(high) });
  return {
    ...told,
    value: fromMinor(told.value, currency),
    spend: money(told.spend),
    perInquiry: cost(told.perInquiry),
    perReached: cost(told.perReached),
    perQualified: cost(told.perQualified),
    perWon: cost(told.perWon),
  };
}

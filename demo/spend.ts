import type { Desk } from "../server/desk.ts";

/** What the company's ads cost in the months of its history, in dollars. */
const MONTHS: Readonly<Record<string, Readonly<Record<string, number>>>> = {
  "2026-01": { src_barrel: 1_860, src_plunge: 1_140, src_lodge: 690 },
  "2026-02": { src_barrel: 2_150, src_plunge: 1_320, src_lodge: 640 },
};

/** Keeps what ads cost, as the coordinator enters it once a month. */
export function keepSpend(desk: Desk): void {
  const rows = Object.entries(MONTHS).flatMap(([month, spent]) =>
    Object.entries(spent).map(([sourceId, amount]) => ({
      sourceId,
      campaign: "",
      month,
      amount: amount * 100,
      currency: "USD",
    })),
  );
  desk.spend.keep(rows, "p_ines");
}

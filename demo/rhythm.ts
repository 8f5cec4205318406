import type { ProductKey } from "./inquirers.ts";
import { DESK_ZONE } from "./tarnholt.ts";

/** How it goes at the demo company: who asks when, and how soon our people look. Its history and its live traffic go by it. */

/** Inquiries a day by source, and at which local hours they come. */
export const RHYTHM: readonly {
  key: string;
  perDay: number;
  weekend: number;
  hours: Record<string, number>;
  products: Partial<Record<ProductKey, number>>;
}[] = [
  {
    key: "plan-your-sauna",
    perDay: 7.5,
    weekend: 1.1,
    hours: { 7: 1, 9: 3, 11: 3, 13: 3, 15: 2, 17: 2, 19: 3, 20: 3, 21: 2, 22: 1 },
    products: { barrel: 4, cabin: 2, "wood-fired": 2, plunge: 1 },
  },
  {
    key: "ad-barrel",
    perDay: 6,
    weekend: 1.7,
    hours: { 6: 1, 8: 1, 12: 2, 17: 2, 19: 4, 20: 5, 21: 5, 22: 3, 23: 1 },
    products: { barrel: 1 },
  },
  {
    key: "ad-plunge",
    perDay: 4,
    weekend: 1.5,
    hours: { 5: 2, 6: 2, 12: 2, 18: 3, 20: 4, 21: 4 },
    products: { plunge: 1 },
  },
  {
    key: "ad-lodge",
    perDay: 1.3,
    weekend: 0.5,
    hours: { 9: 3, 10: 3, 14: 3, 16: 2 },
    products: { lodge: 1 },
  },
  {
    key: "showroom-line",
    perDay: 2.6,
    weekend: 0.6,
    hours: { 8: 2, 9: 5, 10: 5, 11: 3, 14: 1 },
    products: { barrel: 1 },
  },
  {
    key: "trailer-line",
    perDay: 0.9,
    weekend: 1,
    hours: { 8: 1, 10: 2, 12: 2, 16: 2 },
    products: { barrel: 1 },
  },
  {
    key: "text-line",
    perDay: 1.2,
    weekend: 1,
    hours: { 11: 1, 13: 2, 18: 2, 20: 1 },
    products: { barrel: 1 },
  },
  {
    key: "hello-mailbox",
    perDay: 1,
    weekend: 0.7,
    hours: { 9: 2, 11: 2, 15: 2, 21: 1 },
    products: { cabin: 1, "wood-fired": 1 },
  },
  { key: "partners", perDay: 0.5, weekend: 0, hours: { 10: 1, 15: 1 }, products: { lodge: 2, cabin: 1 } },
];

/** The hour of the day at the company (0 to 23). */
export const hourThere = (at: number): number =>
  Number(
    new Intl.DateTimeFormat("en-US", { hour: "numeric", hourCycle: "h23", timeZone: DESK_ZONE }).format(at),
  );

/** How soon each salesperson looks at an offer (mean, seconds). Everybody else: 70. */
export const PACE: Readonly<Record<string, number>> = {
  p_mara: 35,
  p_noor: 45,
  p_idris: 60,
  p_luc: 80,
  p_emeka: 90,
  p_sol: 130,
  p_hanne: 75,
  p_ravi: 120,
};
/** What leads write back. */
export const REPLIES = [
  "Thanks! After 5 pm is best.",
  "Can you text me the price first?",
  "Yes please call today",
  "Who is this?",
  "We'd rather have the cabin now",
  "Tomorrow morning works",
];

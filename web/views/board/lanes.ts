import type { DealCard } from "../../wire/customer-schemas.ts";

/** Where the mark for longer than four of five stands on a wire, and where it ends: all else is slack (shares of its length). */
export const SLACK_FROM = 0.8;

export interface Placed {
  readonly deal: DealCard;
  /** From the wire's left, as a share of its length without the tag's own. */
  readonly x: number;
}

/** Deals without a past to be measured by hang by the days they have stood there, up to a month. */
function placeOf(deal: DealCard, now: number): number {
  if (deal.drift !== null) return deal.drift;
  const days = (now - Date.parse(deal.since)) / 86_400_000;
  return Math.min(0.78, days / 40);
}

/**
 * Deals on one wire, laid into lanes so that no tag covers another. Those that come first in the list hang highest. `room`
 * is how much of the wire's length a tag takes, 0 to 1. Each lane takes what fits, so a wire of n deals has about n·room lanes.
 */
export function lanesOf(deals: readonly DealCard[], now: number, room: number): Placed[][] {
  const lanes: { placed: Placed[]; taken: [number, number][] }[] = [];
  for (const deal of deals) {
    const x = placeOf(deal, now) * (1 - room);
    const free = lanes.find(({ taken }) => taken.every(([from, to]) => x >= to || x + room <= from));
    const lane = free ?? { placed: [], taken: [] };
    if (!free) lanes.push(lane);
    lane.placed.push({ deal, x });
    lane.taken.push([x, x + room]);
  }
  return lanes.map(({ placed }) => placed.sort((a, b) => a.x - b.x));
}

export type Order = "urgency" | "own" | "value";

/** Deals in the order asked for: by what presses most, by hand, or the largest first. */
export function inOrder(deals: readonly DealCard[], order: Order): DealCard[] {
  const by = (deal: DealCard) =>
    order === "value"
      ? -deal.value
      : order === "own"
        ? (deal.rank ?? Number.MAX_SAFE_INTEGER)
        : -deal.urgency;
  return [...deals].sort((a, b) => by(a) - by(b) || a.since.localeCompare(b.since));
}

export interface BoardFilter {
  readonly owner: string;
  readonly source: string;
  readonly text: string;
  /** Only what slips: late, about to be, or with nothing planned. */
  readonly slips: boolean;
}

export function fits(deal: DealCard, { owner, source, text, slips }: BoardFilter): boolean {
  const words = `${deal.name} ${deal.who} ${deal.what ?? ""}`.toLowerCase();
  return (
    (owner === "" || deal.owner?.id === owner) &&
    (source === "" || deal.source === source) &&
    (text === "" || words.includes(text.toLowerCase())) &&
    (!slips || deal.slips.length > 0)
  );
}

/** A sum as it is, with its parts where it has any. */
export const sayExact = (value: number, currency: string): string =>
  new Intl.NumberFormat("en-US", {
    style: "currency",
    currency,
    ...(Number.isInteger(value) && { minimumFractionDigits: 0 }),
  }).format(value);

const sayers = new Map<string, Intl.NumberFormat>();

/** A sum without its parts: `$41,000`. Boards are read from a distance. */
export function sayWhole(value: number, currency: string): string {
  let sayer = sayers.get(currency);
  if (!sayer) {
    sayer = new Intl.NumberFormat("en-US", { style: "currency", currency, maximumFractionDigits: 0 });
    sayers.set(currency, sayer);
  }
  return sayer.format(value);
}

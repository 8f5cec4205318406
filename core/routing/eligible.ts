import type { Lead } from "../lead/lead.ts";
import { usualLanguage } from "../policy/company.ts";
import { type Person, presence } from "../policy/people.ts";
import { type Setup, valueNames } from "../policy/setup.ts";
import { whyUntold } from "../policy/told.ts";
import type { MessageWay } from "../vocabulary.ts";

/** A count for each person, such as how many open leads they hold. */
export type Loads = Readonly<Record<string, number>>;

/** What is asked about a person beside the lead. */
export interface Room {
  readonly now: number;
  readonly setup: Setup;
  /** How many open leads each holds. */
  readonly loads: Loads;
  /** How many leads each has got today, by the desk's date. */
  readonly today: Loads;
  /** Ways out that are not set up: nobody hears of anything by them. None when left out. */
  readonly unset?: ReadonlySet<MessageWay>;
}

/**
 * Why somebody cannot have this lead now, in words; null when they can. With `anyFit` it is not asked
 * whether product, place and language suit: somebody has decided that by hand.
 */
export function whyNotEligible(person: Person, lead: Lead, room: Room, anyFit = false): string | null {
  const there = presence(person, room.now);
  if (!there.onDuty) return there.because;
  const untold = whyUntold(room.setup, person, room.unset);
  if (untold) return untold;
  if (lead.refused.includes(person.id)) return "passed on it already, or let it lapse";
  const load = room.loads[person.id] ?? 0;
  if (person.ceiling !== null && load >= person.ceiling) return `holds ${load} open leads, the most they may`;
  const today = room.today[person.id] ?? 0;
  if (person.perDay != null && today >= person.perDay)
    return `has got ${today} leads today, the most they may`;
  return anyFit ? null : whyNoFit(person, lead, room.setup);
}

function whyNoFit(person: Person, lead: Lead, setup: Setup): string | null {
  const { product, territory, language } = lead.facts;
  if (product && person.products && !person.products.includes(product))
    return `does not sell ${valueNames.product(setup, product)}`;
  if (territory && person.territories && !person.territories.includes(territory))
    return `does not cover ${valueNames.territory(setup, territory)}`;
  if (language !== usualLanguage(setup.policies.company) && !person.languages.includes(language))
    return `does not speak ${valueNames.language(language)}`;
  return null;
}

/** How well somebody's skills match a lead, and what makes it so. Only compared among those who can have it. */
export function skillMatch(person: Person, lead: Lead, setup: Setup): { points: number; because: string[] } {
  const { product, territory, language } = lead.facts;
  const because: string[] = [];
  let points = 0;
  // Whoever sells one thing knows it better than whoever sells five.
  if (product && person.products?.includes(product)) {
    points += 2 + 1 / person.products.length;
    because.push(`sells ${valueNames.product(setup, product)}`);
  }
  if (territory && person.territories?.includes(territory)) {
    points += 2 + 1 / person.territories.length;
    because.push(`covers ${valueNames.territory(setup, territory)}`);
  }
  if (language !== usualLanguage(setup.policies.company) && person.languages.includes(language)) {
    points += 2;
    because.push(`speaks ${valueNames.language(language)}`);
  }
  return { points, because };
}

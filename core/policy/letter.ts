import type { Person } from "./people.ts";

/** The parts the weekly letter of figures can have, in the order they stand in it. */
export const LETTER_PARTS = {
  response: {
    name: "How fast",
    about: "The week against the one before: time to the first try, and the share in target",
  },
  offers: { name: "Offers", about: "Who took, passed and let lapse what they were asked to take" },
  sources: { name: "Sources", about: "What each source brought, against the week before" },
  cost: { name: "Cost", about: "Last month’s spend by source, for each inquiry, each reached and each won" },
  people: {
    name: "People",
    about: "Eight weeks: in target, reached and won, against what could be expected",
  },
  effort: { name: "Effort", about: "Eight weeks: what the first, second, third … try brought" },
  staffing: { name: "Staffing", about: "The week ahead: on duty against needed, hour by hour" },
} as const;
export type LetterPartKey = keyof typeof LETTER_PARTS;
export const LETTER_PART_KEYS = Object.keys(LETTER_PARTS) as readonly LetterPartKey[];

/** When the weekly letter of figures goes out, to whom, and with what. */
export interface LetterPolicy {
  readonly on: boolean;
  /** 1 is Monday, 7 Sunday. */
  readonly weekday: number;
  /** A time of the desk's day, `08:00`. */
  readonly time: string;
  /** Ids of people here; empty stands for every manager. */
  readonly to: readonly string[];
  readonly parts: readonly LetterPartKey[];
}

/** Until a company says otherwise: not sent; with everything, on Monday as the week begins. */
export const USUAL_LETTER: LetterPolicy = {
  on: false,
  weekday: 1,
  time: "08:00",
  to: [],
  parts: LETTER_PART_KEYS,
};

/** Those who get it: whoever was chosen, or every manager; nobody who has left or has no mail address. */
export const readersOf = ({ to }: LetterPolicy, people: readonly Person[]): readonly Person[] =>
  people.filter(
    (p) => !p.left && p.email !== "" && (to.length === 0 ? p.role === "manager" : to.includes(p.id)),
  );

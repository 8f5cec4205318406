import { Temporal } from "temporal-polyfill";
import { answersOf } from "../condition/operators.ts";
import type { FieldKey } from "../condition/tree.ts";
import { readablePhone } from "../contact/readable-phone.ts";
import { called } from "../lead/called.ts";
import { catalogue, factsOf, namesIn } from "../lead/fields.ts";
import type { Lead } from "../lead/lead.ts";
import type { Setup } from "../policy/setup.ts";
import { dateTime } from "../time/words.ts";
import { holder } from "./holder.ts";

/** A column a list of leads can have, and what of {@link SORTED} its leads can be sorted by there. */
export interface ListColumn {
  readonly key: string;
  readonly name: string;
  readonly sort: string | null;
}

interface OwnColumn {
  readonly name: string;
  readonly sort: string | null;
  readonly cell: (lead: Lead, setup: Setup, now: number) => string;
  /** The time it tells, in columns of times (epoch ms). */
  readonly at?: (lead: Lead) => number | null;
}

const time = (name: string, sort: string, at: (lead: Lead) => number | null): OwnColumn => ({
  name,
  sort,
  at,
  cell: (lead, setup, now) => {
    const then = at(lead);
    return then === null ? "" : dateTime(then, setup.policies.desk.zone, now);
  },
});

/** Columns that are no field of conditions, or are said otherwise than one. */
const OWN: Readonly<Record<string, OwnColumn>> = {
  name: { name: "Name", sort: "name", cell: (lead) => called(lead) },
  with: { name: "With", sort: null, cell: (lead, setup) => holder(setup, lead) },
  next: {
    name: "Next step",
    sort: "due",
    cell: (lead, setup, now) =>
      lead.nextStep
        ? `${lead.nextStep.note}, ${dateTime(lead.nextStep.dueAt, setup.policies.desk.zone, now)}`
        : "",
  },
  came: time("Came", "created", (lead) => lead.createdAt),
  happened: time("Last happened", "recent", (lead) => lead.lastActivityAt),
  tried: time("Last try", "tried", (lead) => lead.lastTryAt),
  phone: {
    name: "Phone",
    sort: null,
    cell: (lead) => lead.phones.map((p) => readablePhone(p)).join(", "),
  },
  said: { name: "Said", sort: null, cell: (lead) => lead.facts.message ?? "" },
};

const SORTED: Partial<Record<FieldKey, string>> = {
  company: "company",
  stage: "stage",
  product: "product",
  value: "value",
  tries: "tries",
};
/** Fields that are told by another column, or change with the clock alone. */
const LEFT_OUT: ReadonlySet<string> = new Set([
  "phone",
  "message",
  "first-came",
  "time-of-day",
  "weekday",
  "owner",
]);

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** What a list shows where nobody has chosen. */
export const USUAL_COLUMNS = ["name", "product", "stage", "with", "next", "tries", "came"] as const;

/** Every column a list can have: those of the desk, and each field conditions know. */
export function listColumns(setup: Setup): readonly ListColumn[] {
  return [
    ...Object.entries(OWN).map(([key, { name, sort }]) => ({ key, name, sort })),
    ...catalogue(setup)
      .filter((field) => !LEFT_OUT.has(field.key))
      .map((field) => ({ key: field.key, name: capital(field.name), sort: SORTED[field.key] ?? null })),
  ];
}

/** What stands in a lead's cells, by column, at `now` (epoch ms). */
export function cellsOf(
  lead: Lead,
  columns: readonly string[],
  setup: Setup,
  now: number,
): Readonly<Record<string, string>> {
  const facts = factsOf(lead, setup, now);
  const names = namesIn(setup);
  return Object.fromEntries(
    columns.map((key) => {
      const own = Object.hasOwn(OWN, key) ? OWN[key] : undefined;
      const field = key as FieldKey;
      const said = own
        ? own.cell(lead, setup, now)
        : answersOf(facts(field))
            .map((value) => names(field, String(value)))
            .join(", ");
      return [key, said];
    }),
  );
}

/**
 * The same for other programs, at `now` (epoch ms): numbers as numbers, times in ISO 8601, several answers as a list, null
 * for what is not known.
 */
export function valuesOf(
  lead: Lead,
  columns: readonly string[],
  setup: Setup,
  now: number,
): Readonly<Record<string, string | number | null | readonly (string | number)[]>> {
  const facts = factsOf(lead, setup, now);
  return Object.fromEntries(
    columns.map((key) => {
      const own = Object.hasOwn(OWN, key) ? OWN[key] : undefined;
      if (own?.at) {
        const at = own.at(lead);
        return [key, at === null ? null : Temporal.Instant.fromEpochMilliseconds(at).toString()];
      }
      if (own) return [key, own.cell(lead, setup, now) || null];
      const answers = answersOf(facts(key as FieldKey));
      return [key, answers.length > 1 ? answers : (answers[0] ?? null)];
    }),
  );
}

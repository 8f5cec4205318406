import { fold } from "../condition/operators.ts";
import type { FieldKey } from "../condition/tree.ts";
import type { Lead } from "./lead.ts";

/** Stands before, between and after several answers kept in one text. */
export const SEPARATOR = "\u001f";

/**
 * What leads are listed and sorted by beside their rows: answers of the catalogue that hang on the lead alone, letters as
 * conditions compare them ({@link fold}); null for what is not known. Times are epoch ms.
 */
export interface LeadColumns {
  readonly sourceId: string;
  readonly product: string | null;
  readonly territory: string | null;
  readonly language: string | null;
  readonly postalCode: string | null;
  readonly company: string | null;
  readonly preferred: string | null;
  readonly campaign: string | null;
  readonly stage: string;
  readonly creditId: string | null;
  readonly value: number | null;
  readonly inquiries: number;
  readonly tries: number;
  /** 1 when somebody has talked with them. */
  readonly reached: number;
  readonly lastTryAt: number | null;
  /** When the next step is due. */
  readonly dueAt: number | null;
  /** What they are called, to sort by. */
  readonly called: string;
  /** All tags, each between {@link SEPARATOR}s. */
  readonly tags: string | null;
  /** Whose business it is, in the same way. */
  readonly people: string | null;
}

/** Whose business a lead is beside those who see all: whoever has it, had it, covers or is asked for it, or has a task of it. */
export const concerns = (lead: Lead): readonly string[] => [
  ...new Set(
    [
      lead.ownerId,
      lead.coversFor,
      lead.creditId,
      ...lead.tasks.flatMap((task) => task.to),
      ...(lead.handOff && lead.handOff.state !== "taken" ? lead.handOff.to : []),
    ].filter((id): id is string => id !== null),
  ),
];

const listed = (parts: readonly string[]): string | null =>
  parts.length > 0 ? `${SEPARATOR}${parts.join(SEPARATOR)}${SEPARATOR}` : null;

const text = (answer: string | null | undefined): string | null => (answer ? fold(answer) : null);

/** The columns of a lead. A text that holds the separator itself is kept without it. */
export function columnsOf(lead: Lead): LeadColumns {
  const { facts } = lead;
  const tags = lead.tags.filter((tag) => tag !== "").map((tag) => fold(tag).replaceAll(SEPARATOR, ""));
  return {
    sourceId: lead.sourceId,
    product: text(facts.product),
    territory: text(facts.territory),
    language: text(facts.language),
    postalCode: text(facts.postalCode),
    company: text(lead.company),
    preferred: text(facts.preferred),
    campaign: text(Object.hasOwn(facts.answers, "utm_campaign") ? facts.answers.utm_campaign : null),
    stage: fold(lead.stage),
    creditId: text(lead.creditId),
    value: facts.value,
    inquiries: lead.inquiries,
    tries: lead.tries,
    reached: lead.reached ? 1 : 0,
    lastTryAt: lead.lastTryAt,
    dueAt: lead.nextStep?.dueAt ?? null,
    called: fold(lead.name ?? lead.company ?? lead.phones[0] ?? lead.emails[0] ?? ""),
    tags: listed(tags),
    people: listed(concerns(lead)),
  };
}

/** The columns of words, and those of numbers. */
export const LISTED_TEXTS = [
  "sourceId",
  "product",
  "territory",
  "language",
  "postalCode",
  "company",
  "preferred",
  "campaign",
  "stage",
  "creditId",
  "called",
  "tags",
  "people",
] as const satisfies readonly (keyof LeadColumns)[];
export const LISTED_NUMBERS = [
  "value",
  "inquiries",
  "tries",
  "reached",
  "lastTryAt",
  "dueAt",
] as const satisfies readonly (keyof LeadColumns)[];

/** The names of all columns. */
export const LISTED_BY = [...LISTED_TEXTS, ...LISTED_NUMBERS] as const;

/** Fields whose answer a column holds as it is: words, numbers, and the time some days are counted from. */
export const TEXT_FIELDS = {
  product: "product",
  territory: "territory",
  language: "language",
  "postal-code": "postalCode",
  company: "company",
  preferred: "preferred",
  campaign: "campaign",
  stage: "stage",
  credit: "creditId",
} as const satisfies Partial<Record<FieldKey, keyof LeadColumns>>;
export const NUMBER_FIELDS = {
  value: "value",
  inquiries: "inquiries",
  tries: "tries",
} as const satisfies Partial<Record<FieldKey, keyof LeadColumns>>;
export const DAY_FIELDS = { age: "createdAt", quiet: "lastActivityAt", untried: "lastTryAt" } as const;

/** Whether two leads differ in what they are listed by. */
export function columnsDiffer(a: LeadColumns, b: LeadColumns): boolean {
  return LISTED_BY.some((column) => a[column] !== b[column]);
}

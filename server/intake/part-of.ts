/** Kept with an inquiry that stood in a document with others: the inquiry that holds the document. */
export const PART_OF = "x-part-of";

/** The inquiry that holds the original of this one, when it stood in a document with others. */
export const partOf = (headers: Readonly<Record<string, string>>): string | null => headers[PART_OF] ?? null;

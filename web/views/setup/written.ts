/** A list as somebody types it with commas: what stands after the last comma may still be empty. */
export const writtenList = (text: string): string[] =>
  text
    .split(",")
    .map((part) => part.trimStart())
    .filter((part, i, all) => part.trim() !== "" || i === all.length - 1);

/** The same once it is done: no part is empty, none stands twice. */
export const withoutBlanks = (list: readonly string[]): string[] => [
  ...new Set(list.map((part) => part.trim()).filter(Boolean)),
];

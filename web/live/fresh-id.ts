/** An id for something made in the browser and not kept yet, by its kind: `w_1f9c03ab77d2`. */
export function freshId(kind: string): string {
  const bytes = crypto.getRandomValues(new Uint8Array(6));
  return `${kind}_${Array.from(bytes, (b) => b.toString(16).padStart(2, "0")).join("")}`;
}

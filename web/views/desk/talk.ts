import type { ThreadItem } from "../../wire/schemas.ts";

/** A stretch of the thread: one thing, or how the desk ran it in between, folded into a line. */
export type Stretch = { readonly item: ThreadItem } | { readonly folded: readonly ThreadItem[] };

/** What stands once: a message somebody wrote is its own try, and a letter that made the lead is its own inquiry. */
export function onceEach(thread: readonly ThreadItem[]): readonly ThreadItem[] {
  const wrote = new Set(thread.filter((i) => i.kind === "message-out").map((i) => i.actId));
  return thread.filter((i) => !(i.kind === "tried" && wrote.has(i.actId) && !i.data.note));
}

/** What was said, with what lies between it folded; a single thing in between is no fold. */
export function talkOf(thread: readonly ThreadItem[]): readonly Stretch[] {
  const stretches: Stretch[] = [];
  let between: ThreadItem[] = [];
  const close = () => {
    if (between.length > 0) stretches.push({ folded: between });
    between = [];
  };
  for (const item of thread) {
    if (item.talk) {
      close();
      stretches.push({ item });
    } else between.push(item);
  }
  close();
  return stretches;
}

import type { WebForm } from "../../core/policy/source.ts";
import type { Desk } from "../../server/desk.ts";

/** A website form as it is handed out. */
export interface ShownForm extends WebForm {
  readonly key: string;
  readonly token: string;
}

/** The form of a source that shows one; null when there is none. Drafts are shown too: that is how they are tried. */
export function formOf(desk: Desk, key: string): ShownForm | null {
  const source = desk.setup.sources.find((s) => s.key === key);
  return source?.form ? { ...source.form, key, token: desk.guard.token(key) } : null;
}

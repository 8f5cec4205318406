import type { Source } from "../policy/source.ts";
import { type Refused, refuse } from "../refusal.ts";

/**
 * The source that `key` names, where inquiries may be handed to it from outside; why not, otherwise. A paused
 * one takes them too: what others still send is not lost. Never throws.
 */
export function openSource(
  sources: readonly Source[],
  key: string,
): { readonly ok: true; readonly source: Source } | Refused {
  const source = sources.find((s) => s.key === key);
  if (!source)
    return refuse(
      "no-such-source",
      404,
      "No such source",
      `There is no source with the key “${key}”.`,
      "source",
    );
  if (source.state === "draft")
    return refuse(
      "not-live",
      409,
      "Not live",
      `${source.name} is a draft: put it live before sending to it.`,
    );
  return { ok: true, source };
}

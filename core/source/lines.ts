import type { Source } from "../policy/source.ts";
import type { Channel } from "../vocabulary.ts";

/**
 * The source that listens on a line of ours, a phone number (E.164) or a mail address in lower case: by what it
 * listens on now, else by what it once did. Undefined when the line was never ours.
 */
export function sourceOfLine(
  sources: readonly Source[],
  channels: readonly Channel[],
  line: string,
): Source | undefined {
  const able = sources.filter((s) => channels.includes(s.channel));
  return able.find((s) => s.line === line) ?? able.find((s) => s.formerLines?.includes(line));
}

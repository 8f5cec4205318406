import type { Source } from "../../core/policy/source.ts";
import type { Desk } from "../../server/desk.ts";
import type { CallKey } from "../calls/table.ts";
import { type Call, type Given, problem } from "./endpoint.ts";

/** The source by its id or key, or the answer that there is none. */
export function sourceById(desk: Desk, id: string): Source | Response {
  return (
    desk.setup.sources.find((s) => s.id === id || s.key === id) ??
    problem("no-such-source", 404, "No such source", `There is no source “${id}”.`)
  );
}

/** A handler of a call about one source, named in the path. */
export function sourceOf<K extends CallKey>(
  handle: (source: Source, call: Call<K>) => Given<K>,
): (call: Call<K>) => Given<K> {
  return (call) => {
    const source = sourceById(call.desk, call.params.id ?? "");
    return source instanceof Response ? source : handle(source, call);
  };
}

/** A list is named by the file it was previewed from. */
export const noSuchFile = (): Response =>
  problem(
    "no-such-file",
    404,
    "No such file",
    "The file of this list is not kept any more. Choose it again.",
    [{ path: "fileId", message: "There is no such file." }],
  );

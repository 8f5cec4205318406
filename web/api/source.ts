import type { Source } from "../../core/policy/source.ts";
import type { Desk } from "../../server/desk.ts";
import { type Call, problem } from "./endpoint.ts";

/** The source by its id or key, or the answer that there is none. */
export function sourceById(desk: Desk, id: string): Source | Response {
  return (
    desk.setup.sources.find((s) => s.id === id || s.key === id) ??
    problem(404, "No such source", `There is no source “${id}”.`)
  );
}

/** A handler of an endpoint about one source, named in the path. */
export function sourceOf<B>(handle: (source: Source, call: Call<B>) => unknown): (call: Call<B>) => unknown {
  return (call) => {
    const source = sourceById(call.desk, call.params.id ?? "");
    return source instanceof Response ? source : handle(source, call);
  };
}

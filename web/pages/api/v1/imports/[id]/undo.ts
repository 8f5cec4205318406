import { endpoint, problem } from "../../../../../api/endpoint.ts";

/** Take a whole import back, as long as nobody has worked on what it brought. */
export const POST = endpoint(null, async ({ desk, params }) => {
  const undone = await desk.imports.undo(params.id ?? "");
  return "problem" in undone ? problem(409, "Can't be taken back", undone.problem) : undone;
});

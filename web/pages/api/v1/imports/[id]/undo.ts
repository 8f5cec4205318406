import { problem, serve } from "../../../../../api/endpoint.ts";

/** Take a whole import back, as long as nobody has worked on what it brought. */
export const POST = serve("POST /imports/[id]/undo", async ({ desk, params }) => {
  if (!desk.imports.get(params.id ?? ""))
    return problem("no-such-import", 404, "No such import", "There is no import with that id.");
  const undone = await desk.imports.undo(params.id ?? "");
  return "problem" in undone
    ? problem("cant-be-taken-back", 409, "Can't be taken back", undone.problem)
    : undone;
});

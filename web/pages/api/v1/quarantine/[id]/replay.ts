import { problem, serve } from "../../../../../api/endpoint.ts";

/** Try one again; with `?insisted=true` also what looked like spam or was written by a machine. */
export const POST = serve("POST /quarantine/[id]/replay", async ({ desk, params, query }) => {
  const replayed = await desk.quarantine.replay(params.id ?? "", {
    insisted: query.get("insisted") === "true",
  });
  return (
    replayed ??
    problem("not-in-quarantine", 404, "Not in quarantine", "No inquiry with that id waits in quarantine.")
  );
});

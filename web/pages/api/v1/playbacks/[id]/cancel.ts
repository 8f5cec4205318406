import { problem, serve } from "../../../../../api/endpoint.ts";
import { toPlayback } from "../../../../../wire/shape-routing.ts";

export const POST = serve("POST /playbacks/[id]/cancel", ({ desk, params }) => {
  const run = desk.playbacks.cancel(params.id ?? "");
  return run
    ? toPlayback(desk.setup, run)
    : problem("no-such-playback", 404, "No such playback", "It is gone already.");
});

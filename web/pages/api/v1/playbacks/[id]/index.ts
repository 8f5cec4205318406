import { problem, serve } from "../../../../../api/endpoint.ts";
import { toPlayback } from "../../../../../wire/shape-routing.ts";

export const GET = serve("GET /playbacks/[id]", ({ desk, params }) => {
  const run = desk.playbacks.get(params.id ?? "");
  return run
    ? toPlayback(desk.setup, run)
    : problem("no-such-playback", 404, "No such playback", "It is gone; play it again.");
});

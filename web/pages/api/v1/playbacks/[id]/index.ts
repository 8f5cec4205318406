import { endpoint, problem } from "../../../../../api/endpoint.ts";
import { toPlayback } from "../../../../../wire/shape-routing.ts";

export const GET = endpoint(null, ({ desk, params }) => {
  const run = desk.playbacks.get(params.id ?? "");
  return run ? toPlayback(desk.setup, run) : problem(404, "No such playback", "It is gone; play it again.");
});

import { serve } from "../../../../api/endpoint.ts";

/** Try everything in quarantine again, or everything of one source. */
export const POST = serve("POST /quarantine/replay", async ({ desk, query }) => {
  // What looked like a robot's is not made a lead by the hundred: somebody looks at each.
  const waiting = desk.reader.quarantine(1_000, query.get("sourceId")).filter(({ held }) => !held);
  let understood = 0;
  for (const { id } of waiting) {
    const replayed = await desk.quarantine.replay(id);
    if (replayed && !replayed.quarantined) understood++;
  }
  return { tried: waiting.length, understood };
});

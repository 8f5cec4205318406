import { readWhen } from "../../../../../core/time/read-when.ts";
import { bothTimes } from "../../../../../core/time/words.ts";
import { isZone } from "../../../../../core/time/zone.ts";
import { leadFor } from "../../../../api/belongs.ts";
import { problem, serve } from "../../../../api/endpoint.ts";

export const POST = serve("POST /times/read", ({ desk, me, rights, body }) => {
  const { text, zone, leadId } = body;
  if (!isZone(zone))
    return problem("no-such-zone", 422, "No such zone", "Give a zone such as America/Denver.", [
      { path: "zone", message: "Give a zone such as America/Denver." },
    ]);
  const now = body.now ? Date.parse(body.now) : desk.clock.now();
  const since = leadId ? (leadFor(desk, { me, rights }, leadId)?.customer?.since ?? null) : null;
  const at = readWhen(text, now, zone, since);
  if (at === null)
    return problem(
      "not-understood",
      422,
      "Not understood",
      "Write it like “3 days”, “next tuesday” or “march 10”.",
      [{ path: "text", message: "Write it like “3 days”, “next tuesday” or “march 10”." }],
    );
  return { at: new Date(at).toISOString(), said: bothTimes(at, zone, desk.setup.policies.desk.zone, now) };
});

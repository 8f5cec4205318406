import type { QueueFilter } from "../../../../server/read/reader.ts";
import { limitOf, serve } from "../../../api/endpoint.ts";
import { toQueue } from "../../../wire/shape.ts";

const PARTS = ["offered", "nobody"] as const;

export const GET = serve("GET /queue", ({ desk, me, rights, query }) => {
  const who = query.get("who");
  const part = PARTS.find((p) => p === who);
  const only: QueueFilter = {
    ...(who && { who: part ?? { id: who === "me" ? me.id : who } }),
    ...(query.get("source") && { sourceId: query.get("source")! }),
  };
  return toQueue(desk, limitOf(query), query.has("later"), rights.has("leads.all") ? null : me.id, only);
});

import { serve } from "../../../../api/endpoint.ts";

/** One thing for many, in the order they are named. What can't be done leaves that one where it is. */
export const POST = serve("POST /quarantine/many", async ({ desk, me, body }) => {
  const { ids, act } = body;
  const { quarantine } = desk;
  if (act === "dismiss" || act === "put-back") {
    const done = act === "dismiss" ? quarantine.dismiss(ids, me.id) : quarantine.putBack(ids, me.id);
    return { done, left: ids.length - done };
  }
  let done = 0;
  for (const id of ids) {
    const made = await quarantine.replay(id, { insisted: act === "take" });
    if (made && !made.quarantined) done++;
  }
  return { done, left: ids.length - done };
});

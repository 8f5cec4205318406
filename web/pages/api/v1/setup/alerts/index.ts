import { changeAlerts } from "../../../../../../core/setup/change.ts";
import { problem, refusal, serve } from "../../../../../api/endpoint.ts";
import { toAlerts } from "../../../../../wire/shape-answering.ts";

export const GET = serve("GET /setup/alerts", ({ desk }) => toAlerts(desk.setup, desk.clock.now()));

export const POST = serve("POST /setup/alerts", ({ desk, me, rights, body }) => {
  if (body.personId !== me.id && !rights.has("setup.change"))
    return problem(
      "not-yours-to-do",
      403,
      "Not yours to do",
      "You may change how you hear of things, and nobody else’s way.",
    );
  const changed = changeAlerts(desk.setup, body.personId, body.matrix);
  if (!changed.ok) return refusal(changed.problem);
  desk.changeSetup(changed.setup, me.id);
  return toAlerts(changed.setup, desk.clock.now());
});

import { refusal, serve } from "../../../../../../api/endpoint.ts";
import { toCadence } from "../../../../../../wire/shape-cadences.ts";

export const POST = serve("POST /setup/cadences/[id]/publish", ({ desk, me, params }) => {
  const id = params.id ?? "";
  const changed = desk.cadences.publish(id, me.id);
  if (!changed.ok) return refusal(changed.problem);
  const cadence = toCadence(desk, desk.setup.policies.cadences.find((c) => c.id === id)!);
  return {
    ...cadence,
    left: cadence.standing
      .filter((s) => s.version !== cadence.version)
      .reduce((sum, s) => sum + s.running + s.paused, 0),
  };
});

import { steerRun } from "../../../../../../../core/desk/cadence.ts";
import { answer, serve } from "../../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/cadences/[run]", ({ desk, me, params, body }) => {
  const { reason } = body;
  const wish =
    body.do === "move"
      ? ({ do: "move", at: Date.parse(body.at ?? ""), reason } as const)
      : body.do === "pause"
        ? ({ do: "pause", until: body.until ? Date.parse(body.until) : null, reason } as const)
        : ({ do: body.do, reason } as const);
  return answer(desk.act(params.id ?? "", (world) => steerRun(world, me.id, params.run ?? "", wish)));
});

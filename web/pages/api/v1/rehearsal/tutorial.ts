import type { Call } from "../../../../api/endpoint.ts";
import { serve } from "../../../../api/endpoint.ts";

function stateOf({ me, rehearsal }: Pick<Call<"GET /rehearsal/tutorial">, "me" | "rehearsal">) {
  const steps = rehearsal.tutorials.of(me.id, me.role);
  return {
    role: me.role,
    steps: steps?.map(({ key, title, how, href, done }) => ({ key, title, how, href, done })) ?? null,
  };
}

export const GET = serve("GET /rehearsal/tutorial", (call) => {
  const page = call.query.get("page");
  if (page) call.rehearsal.tutorials.visited(call.me.id, page);
  return stateOf(call);
});

export const POST = serve("POST /rehearsal/tutorial", (call) => {
  const { tutorials } = call.rehearsal;
  if (call.body.on) tutorials.begin(call.me.id);
  else tutorials.end(call.me.id);
  return stateOf(call);
});

import { refusal, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /privacy/[id]/keep", ({ desk, me, params }) => {
  const kept = desk.erasures.keep(params.id ?? "", me.id);
  return kept.ok ? { kept: true } : refusal(kept.problem);
});

import { answer, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/erase", ({ desk, me, params, body }) =>
  answer(desk.erasures.ask(params.id ?? "", me.id, body.because)),
);

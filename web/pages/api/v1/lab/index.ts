import { refusal, serve } from "../../../../api/endpoint.ts";
import { startLab } from "../../../../api/lab.ts";
import { toExperiment, toLabLine } from "../../../../wire/shape-lab.ts";

export const GET = serve("GET /lab", ({ desk }) => ({
  items: desk.lab.all().map((kept) => toLabLine(desk.setup, kept)),
  next: null,
}));

export const POST = serve("POST /lab", async ({ desk, me, body }) => {
  const begun = await startLab(desk, body, me.id);
  return begun.ok ? toExperiment(desk.setup, begun.value) : refusal(begun.problem);
});

import { changeSource } from "../../../../../../core/setup/change-sources.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { sourceOf } from "../../../../../api/source.ts";
import { toSourceDetail } from "../../../../../wire/shape-setup.ts";

export const GET = serve(
  "GET /sources/[id]",
  sourceOf((source, { desk }) => toSourceDetail(desk, source)),
);

export const POST = serve(
  "POST /sources/[id]",
  sourceOf(async (source, { desk, me, body }) => {
    const samples = await desk.sources.samples(source.id, 5);
    const changed = changeSource(
      desk.setup,
      source.id,
      body,
      samples.map((s) => s.fields),
    );
    if (!changed.ok) return refusal(changed.problem);
    desk.changeSetup(changed.setup, me.id);
    return toSourceDetail(desk, changed.source);
  }),
);

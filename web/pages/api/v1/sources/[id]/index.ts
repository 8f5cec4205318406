import { changeSource } from "../../../../../../core/setup/change-sources.ts";
import { endpoint, refusal } from "../../../../../api/endpoint.ts";
import { sourceOf } from "../../../../../api/source.ts";
import { SourceChange } from "../../../../../wire/setup-schemas.ts";
import { toSourceDetail } from "../../../../../wire/shape-setup.ts";

export const GET = endpoint(
  null,
  sourceOf((source, { desk }) => toSourceDetail(desk, source)),
);

export const POST = endpoint(
  SourceChange,
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

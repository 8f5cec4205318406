import type { Source } from "../../../../../../core/policy/source.ts";
import { problem, serve } from "../../../../../api/endpoint.ts";
import { sourceOf } from "../../../../../api/source.ts";
import { toSourceDetail } from "../../../../../wire/shape-setup.ts";

/** Take over the questions of the ad form as they are now: what was noticed has been seen. */
export const POST = serve(
  "POST /sources/[id]/questions",
  sourceOf(async (source, { desk, me }) => {
    const questions = desk.sources.questions(source);
    if (!source.adForm || !questions)
      return problem(
        "nothing-to-take-over",
        409,
        "Nothing to take over",
        "This source is not connected to a form of the ad platform.",
      );
    const next: Source = { ...source, adForm: { ...source.adForm, questions } };
    desk.changeSetup(
      { ...desk.setup, sources: desk.setup.sources.map((s) => (s.id === source.id ? next : s)) },
      me.id,
    );
    return toSourceDetail(desk, next);
  }),
);

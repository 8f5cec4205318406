import { startOfLocalDate } from "../../../../../core/time/defer.ts";
import { serve } from "../../../../api/endpoint.ts";
import { figures } from "../../../../api/figures.ts";
import { ResponseQuery } from "../../../../wire/figure-schemas.ts";
import { waitsTold } from "../../../../wire/shape-figures.ts";

export const GET = serve("GET /figures/response", (call) =>
  figures(call, ResponseQuery, async ({ clock, until, by = null, split }, span) => {
    const { figures: told, setup } = call.desk;
    const at = split ? startOfLocalDate(split, setup.policies.desk.zone) : null;
    const answer = await told.ask("response", { ...span, clock, until, by, split: at });
    const { median, low, high, ...waits } = { ...waitsTold(answer), ...answer.median };
    return {
      ...waits,
      median: answer.median.at,
      low,
      high,
      curve: answer.curve,
      milestones: answer.milestones,
      groups: answer.groups.map((g) => ({ key: g.key, name: g.name, ...waitsTold(g) })),
      logRank: answer.logRank,
      split: answer.split && {
        ...answer.split,
        before: { ...waitsTold(answer.split.before), curve: answer.split.before.curve },
        after: { ...waitsTold(answer.split.after), curve: answer.split.after.curve },
      },
      target: answer.target,
      everOpen: answer.everOpen,
      offers: answer.offers,
    };
  }),
);

import { fromMinor } from "../../../../../core/money/money.ts";
import { monthsOf } from "../../../../../core/report/figures/sources.ts";
import { serve } from "../../../../api/endpoint.ts";
import { figures } from "../../../../api/figures.ts";
import { SourcesQuery } from "../../../../wire/figure-schemas.ts";
import { sourceTold } from "../../../../wire/shape-figures.ts";

export const GET = serve("GET /figures/sources", (call) =>
  figures(call, SourcesQuery, async ({ by, attribution }, span) => {
    const { figures: told, setup } = call.desk;
    const { currency, groups, whole, elsewhere, qualifiedFrom } = await told.ask("sources", {
      ...span,
      by,
      attribution,
    });
    return {
      currency,
      qualifiedFrom,
      months: monthsOf(span, setup.policies.desk.zone),
      groups: groups.map((g) => sourceTold(g, currency)),
      whole: sourceTold(whole, currency),
      elsewhere: elsewhere.map((e) => ({ ...e, amount: fromMinor(e.amount, e.currency) })),
    };
  }),
);

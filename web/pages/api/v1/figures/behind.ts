import { called } from "../../../../../core/lead/called.ts";
import { PARTS } from "../../../../../core/report/figures/behind.ts";
import { serve } from "../../../../api/endpoint.ts";
import { figures } from "../../../../api/figures.ts";
import { BehindQuery } from "../../../../wire/figure-schemas.ts";

export const GET = serve("GET /figures/behind", (call) =>
  figures(call, BehindQuery, async ({ part, by = null, key = null }, span) => {
    const { figures: told, looker } = call.desk;
    const { n, leads } = await told.ask("behind", { ...span, part, by, key });
    return {
      n,
      said: PARTS[part],
      items: leads.flatMap(({ leadId, came }) => {
        const lead = looker.lead(leadId);
        return lead ? [{ leadId, name: called(lead), came: new Date(came).toISOString() }] : [];
      }),
    };
  }),
);

import { RULES_OF_THUMB } from "../../../../../core/report/figures/effort.ts";
import { serve } from "../../../../api/endpoint.ts";
import { figures } from "../../../../api/figures.ts";
import { FigureSpan } from "../../../../wire/figure-schemas.ts";

export const GET = serve("GET /figures/effort", (call) =>
  figures(call, FigureSpan, async (_, span) => ({
    ...(await call.desk.figures.ask("effort", span)),
    rulesOfThumb: RULES_OF_THUMB,
  })),
);

import { serve } from "../../../../api/endpoint.ts";
import { figures } from "../../../../api/figures.ts";
import { FigureSpan } from "../../../../wire/figure-schemas.ts";

export const GET = serve("GET /figures/people", (call) =>
  figures(call, FigureSpan, (_, span) => call.desk.figures.ask("people", span)),
);

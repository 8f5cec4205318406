import { writeTable } from "../../../../../core/import/table.ts";
import { DEAL_COLUMNS, dealRows } from "../../../../api/book.ts";
import { serve } from "../../../../api/endpoint.ts";

export const GET = serve(
  "GET /deals/table",
  ({ desk, me, rights }) =>
    new Response(writeTable(DEAL_COLUMNS, dealRows(desk, me.id, rights.has("leads.all"))), {
      headers: {
        "content-type": "text/csv; charset=utf-8",
        "content-disposition": 'attachment; filename="deals.csv"',
      },
    }),
);

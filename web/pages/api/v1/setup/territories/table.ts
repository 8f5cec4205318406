import { writeTerritories } from "../../../../../../core/setup/territory-table.ts";
import { serve } from "../../../../../api/endpoint.ts";

/** Saved to be looked at in a spreadsheet, and read again from there. */
export const GET = serve(
  "GET /setup/territories/table",
  ({ desk }) =>
    new Response(writeTerritories(desk.setup.policies.territories), {
      headers: {
        "content-type": "text/csv; charset=utf-8",
        "content-disposition": 'attachment; filename="territories.csv"',
      },
    }),
);

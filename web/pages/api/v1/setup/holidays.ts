import { holidaysIn, regionsOf } from "../../../../../core/time/holidays.ts";
import { problem, serve } from "../../../../api/endpoint.ts";

/** The public holidays of a country or region in a year, and the country's regions. */
export const GET = serve("GET /setup/holidays", ({ query }) => {
  const country = query.get("country") ?? "";
  const year = Number(query.get("year"));
  if (!/^[A-Z]{2}$/.test(country) || !Number.isInteger(year) || year < 1950 || year > 2100)
    return problem("which-holidays", 422, "Which holidays?", "Give `country` as US and `year` as 2026.");
  return {
    items: holidaysIn(country, query.get("region") || null, year),
    regions: regionsOf(country),
    next: null,
  };
});

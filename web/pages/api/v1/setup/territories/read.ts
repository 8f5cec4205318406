import { usualLanguage } from "../../../../../../core/policy/company.ts";
import { readTerritories } from "../../../../../../core/setup/territory-table.ts";
import { serve } from "../../../../../api/endpoint.ts";

/** Read a table of territories, to be looked at and put in force by a person. */
export const POST = serve("POST /setup/territories/read", ({ desk, body }) => {
  const { company, desk: hours } = desk.setup.policies;
  const usual = { country: company.country, zone: hours.zone, language: usualLanguage(company) };
  const { territories, wrong } = readTerritories(body.table, usual);
  return {
    territories: territories.map((t) => ({
      ...t,
      areaCodes: [...t.areaCodes],
      postalPrefixes: [...t.postalPrefixes],
    })),
    wrong: [...wrong],
  };
});

import * as wire from "../wire/company-schemas.ts";
import { defineCalls, FILE } from "./define.ts";

/** Who the company is, what it sells and where, and the words people choose from. */
export const COMPANY = defineCalls({
  "GET /first-steps": {
    needs: "setup.read",
    said: "What a new desk lacks, in the order one does it",
    answer: wire.FirstSteps,
  },
  "POST /first-steps": {
    needs: "setup.change",
    said: "Say that a first step needs nothing, or is wanted after all",
    body: wire.SettleStep,
    answer: wire.FirstSteps,
  },
  "GET /setup/company": { needs: "setup.read", said: "Who the company is", answer: wire.CompanySetup },
  "POST /setup/company": {
    needs: "setup.change",
    said: "Change who the company is",
    body: wire.SaveCompany,
    answer: wire.CompanySetup,
  },
  "GET /setup/choices": {
    needs: "setup.read",
    said: "Countries, currencies, languages and zones to choose from",
    answer: wire.Choices,
  },
  "GET /setup/products": {
    needs: "setup.read",
    said: "What is sold, and where each is used",
    answer: wire.ProductsSetup,
  },
  "POST /setup/products": {
    needs: "setup.change",
    said: "Change what is sold",
    body: wire.SaveProducts,
    answer: wire.ProductsSetup,
  },
  "GET /setup/territories": {
    needs: "setup.read",
    said: "The places that are told apart, and where each is used",
    answer: wire.TerritoriesSetup,
  },
  "POST /setup/territories": {
    needs: "setup.change",
    said: "Change the places that are told apart",
    body: wire.SaveTerritories,
    answer: wire.TerritoriesSetup,
  },
  "POST /setup/territories/read": {
    needs: "setup.change",
    said: "Read a table of territories; nothing is changed by it",
    body: wire.ReadTerritories,
    answer: wire.TerritoriesRead,
  },
  "GET /setup/territories/table": {
    needs: "setup.read",
    said: "The territories as a table, as it can be read again",
    answer: FILE,
    gives: "text/csv",
  },
  "GET /setup/words": {
    needs: "setup.read",
    said: "Stages, and the reasons people choose from",
    answer: wire.WordsSetup,
  },
  "POST /setup/words": {
    needs: "setup.change",
    said: "Change stages, and the reasons people choose from",
    body: wire.SaveWords,
    answer: wire.WordsSetup,
  },
});

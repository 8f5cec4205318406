import { usesOfValue } from "../../core/setup/change-market.ts";
import { FIRST_STEPS, firstSteps } from "../../core/setup/first-steps.ts";
import type { Desk } from "../../server/desk.ts";
import { pageNeeds } from "../api/pages.ts";
import type * as wire from "./company-schemas.ts";

/** The company and what it sells, from the engine's objects to the wire's. */

export function toCompany({ setup }: Desk): wire.CompanySetup {
  const { company, sites, teamChat, desk } = setup.policies;
  return {
    company: { ...company, logo: company.logo ?? null, languages: [...company.languages] },
    sites: [...sites],
    teamChat,
    zone: desk.zone,
  };
}

export function toProducts({ setup }: Desk): wire.ProductsSetup {
  const { products, company } = setup.policies;
  return {
    products: products.map((p) => ({
      ...p,
      alsoCalled: [...p.alsoCalled],
      uses: usesOfValue(setup, "product", p.key),
    })),
    currency: company.currency,
  };
}

export function toTerritories({ setup }: Desk): wire.TerritoriesSetup {
  return {
    territories: setup.policies.territories.map((t) => ({
      ...t,
      areaCodes: [...t.areaCodes],
      postalPrefixes: [...t.postalPrefixes],
      uses: usesOfValue(setup, "territory", t.key),
    })),
  };
}

export function toWords({ setup }: Desk): wire.WordsSetup {
  const { passReasons, giveReasons } = setup.policies;
  return {
    passReasons: [...passReasons],
    giveReasons: [...giveReasons],
  };
}

/** Where the first steps of a desk stand. */
export function stepsOf(desk: Desk): ReturnType<typeof firstSteps> {
  const { setup, sources } = desk;
  return firstSteps(setup, { mailUnset: desk.whyUnset("email"), hasInquired: sources.hasInquired() });
}

/** The first steps as somebody with these rights sees them: what another has to do leads nowhere. */
export function toFirstSteps(desk: Desk, rights: ReadonlySet<string>): wire.FirstSteps {
  return {
    items: stepsOf(desk).map((step) => {
      const { href, ...said } = FIRST_STEPS[step.key];
      return { ...said, ...step, href: rights.has(pageNeeds(href)) ? href : null };
    }),
  };
}

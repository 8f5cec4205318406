import { getCountries } from "libphonenumber-js";
import { isLanguage } from "../../../../../core/setup/change-company.ts";
import { serve } from "../../../../api/endpoint.ts";

type NameType = "region" | "currency" | "language";

/** Codes with their names, in the order of the names. */
function named(type: NameType, codes: readonly string[]): { key: string; name: string }[] {
  const names = new Intl.DisplayNames("en", { type, fallback: "code" });
  return codes
    .map((key) => ({ key, name: names.of(key) ?? key }))
    .sort((a, b) => a.name.localeCompare(b.name));
}

const LETTERS = [..."abcdefghijklmnopqrstuvwxyz"];
const LANGUAGES = LETTERS.flatMap((a) => LETTERS.map((b) => a + b)).filter(isLanguage);

/** What machines and standards know, and nobody here decides. */
const CHOICES = {
  countries: named("region", getCountries()),
  currencies: named("currency", Intl.supportedValuesOf("currency")),
  languages: named("language", LANGUAGES),
  zones: Intl.supportedValuesOf("timeZone"),
};

export const GET = serve("GET /setup/choices", () => CHOICES);

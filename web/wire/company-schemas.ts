import { z } from "zod";
import { PEEKED } from "../../core/import/table.ts";
import { isZone } from "../../core/time/zone.ts";
import { File } from "./answering-schemas.ts";
import { line } from "./bounds.ts";

/** The company, what it sells, where, and its words, as they cross the wire. */

const Named = z.object({ key: z.string(), name: z.string() });

export const SaveCompany = z.object({
  company: z.object({
    name: line,
    email: line.describe("The address mails come from"),
    textLine: line.describe("The number texts come from, as it is dialled; empty for none"),
    currency: line.describe("ISO 4217"),
    country: line.describe("ISO 3166-1 alpha-2: numbers without a country are of this one"),
    logo: File.nullish().describe("The picture mails and forms carry on top"),
    languages: z.array(line).max(30).describe("ISO 639-1; the first where nobody knows better"),
  }),
  sites: z.array(line).max(20).describe("The company’s own sites, as www.example.com"),
  teamChat: line.describe("The team’s channel in chat, as #leads; empty for none"),
});
export const CompanySetup = SaveCompany.extend({
  zone: z.string().describe("The desk’s, which Desk hours change"),
});
export const Choices = z.object({
  countries: z.array(Named),
  currencies: z.array(Named),
  languages: z.array(Named),
  zones: z.array(z.string()),
});

export const Product = z.object({
  key: line.describe("Empty for a new one"),
  name: line,
  value: z.number().describe("What one sale is usually worth, in the company’s currency"),
  alsoCalled: z.array(line).max(100).describe("Other names inquiries use for it"),
});
export const SaveProducts = z.object({ products: z.array(Product).max(500) });
export const ProductsSetup = z.object({
  products: z.array(Product.extend({ uses: z.array(z.string()) })),
  currency: z.string(),
});

export const Territory = z.object({
  key: line.describe("Empty for a new one"),
  name: line,
  country: line.describe("ISO 3166-1 alpha-2"),
  zone: line.refine(isZone, "Give a zone as Europe/Paris.").describe("IANA zone"),
  language: line.describe("ISO 639-1"),
  areaCodes: z.array(line).max(2_000),
  postalPrefixes: z.array(line).max(20_000).describe("What its postal codes begin with"),
});
export const SaveTerritories = z.object({ territories: z.array(Territory).max(1_000) });
export const TerritoriesSetup = z.object({
  territories: z.array(Territory.extend({ uses: z.array(z.string()) })),
});
export const ReadTerritories = z.object({
  table: z
    .string()
    .max(PEEKED, "A table has 300,000 characters at most. Bring it in parts.")
    .describe("CSV with a heading"),
});
export const TerritoriesRead = z.object({
  territories: z.array(Territory),
  wrong: z.array(z.object({ row: z.number().describe("1 is the heading"), said: z.string() })),
});

export const SaveWords = z.object({
  passReasons: z.array(line).max(50),
  giveReasons: z.array(line).max(50),
});
export const WordsSetup = SaveWords;

export const FirstSteps = z.object({
  items: z.array(
    z.object({
      key: z.string(),
      title: z.string(),
      gives: z.string().describe("What one has from it"),
      href: z.string().nullable(),
      done: z.boolean(),
      spared: z.boolean().describe("Somebody said that they do without it"),
      otherwise: z.string().nullable().describe("How somebody may say that it needs nothing"),
      lacks: z.string().nullable(),
    }),
  ),
});
export const SettleStep = z.object({ step: line, settled: z.boolean() });

export type FirstSteps = z.infer<typeof FirstSteps>;
export type SaveCompany = z.infer<typeof SaveCompany>;
export type CompanySetup = z.infer<typeof CompanySetup>;
export type Product = z.infer<typeof Product>;
export type ProductsSetup = z.infer<typeof ProductsSetup>;
export type Territory = z.infer<typeof Territory>;
export type TerritoriesSetup = z.infer<typeof TerritoriesSetup>;
export type SaveWords = z.infer<typeof SaveWords>;
export type WordsSetup = z.infer<typeof WordsSetup>;
export type Choices = z.infer<typeof Choices>;

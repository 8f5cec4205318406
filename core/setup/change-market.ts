import { isSupportedCountry } from "libphonenumber-js";
import type { Condition, FieldKey } from "../condition/tree.ts";
import type { Product, Territory } from "../policy/market.ts";
import { keyOf } from "../policy/own-fields.ts";
import type { Setup } from "../policy/setup.ts";
import { type Refused, refuse } from "../refusal.ts";
import type { Changed } from "./change.ts";
import { isLanguage, put, twice, wrong } from "./change-company.ts";
import { hoursProblem } from "./change-people.ts";

/** Keys for those that have none yet, from their names; a key stays as it is, since leads hold it. */
function withKeys<T extends { readonly key: string; readonly name: string }>(list: readonly T[]): T[] {
  const taken = new Set(list.map((item) => item.key).filter(Boolean));
  return list.map((item) => {
    if (item.key) return item;
    const base = keyOf(item.name) || "item";
    let key = base;
    for (let n = 2; taken.has(key); n++) key = `${base}_${n}`;
    taken.add(key);
    return { ...item, key };
  });
}

/** Change what is sold. A product that people sell or rules ask for can't go. */
export function changeProducts(setup: Setup, products: readonly Product[]): Changed {
  const named = products.map((p) => ({
    ...p,
    name: p.name.trim(),
    alsoCalled: [...new Set(p.alsoCalled.map((n) => n.trim()).filter(Boolean))],
  }));
  for (const [i, { name, value }] of named.entries()) {
    if (!name)
      return wrong("it-needs-a-name", "It needs a name", "Give every product a name.", `products.${i}.name`);
    if (!(value >= 0 && value <= 1e12))
      return wrong(
        "not-an-amount",
        "Not an amount",
        `What one sale of ${name} is usually worth is a number, 0 when you do not know.`,
        `products.${i}.value`,
      );
  }
  const shared = twice(
    named.map((p, i) => ({ names: [p.name, ...p.alsoCalled], path: `products.${i}.name` })),
  );
  if (shared)
    return wrong(
      "the-name-is-taken",
      "The name is taken",
      `Two products are called “${shared.name}”. An inquiry that says so could be for either.`,
      shared.path,
    );
  const keyed = withKeys(named);
  return stillUsed(setup, "product", setup.policies.products, keyed) ?? put(setup, { products: keyed });
}

/** Change the places that are told apart. One that people cover or rules ask for can't go. */
export function changeTerritories(setup: Setup, territories: readonly Territory[]): Changed {
  const named = territories.map((t) => ({
    ...t,
    name: t.name.trim(),
    areaCodes: tidy(t.areaCodes, (c) => c.replace(/\D/g, "")),
    postalPrefixes: tidy(t.postalPrefixes, (p) => p.toUpperCase().replace(/\s+/g, "")),
  }));
  for (const [i, territory] of named.entries()) {
    const problem = territoryProblem(territory, `territories.${i}`);
    if (problem) return problem;
  }
  const shared =
    twice(named.map((t, i) => ({ names: [t.name], path: `territories.${i}.name` }))) ??
    twice(named.map((t, i) => ({ names: t.postalPrefixes, path: `territories.${i}.postalPrefixes` }))) ??
    twice(
      named.map((t, i) => ({
        names: t.areaCodes.map((c) => `${t.country} ${c}`),
        path: `territories.${i}.areaCodes`,
      })),
    );
  if (shared)
    return wrong(
      "in-two-territories",
      "In two territories",
      `“${shared.name.toUpperCase()}” stands in two territories. Leads from there could go to either.`,
      shared.path,
    );
  const keyed = withKeys(named);
  return (
    stillUsed(setup, "territory", setup.policies.territories, keyed) ?? put(setup, { territories: keyed })
  );
}

const tidy = (list: readonly string[], one: (text: string) => string) => [
  ...new Set(list.map(one).filter(Boolean)),
];

function territoryProblem(territory: Territory, path: string): Refused | null {
  const { name, country, zone, language, areaCodes, postalPrefixes } = territory;
  if (!name)
    return wrong("it-needs-a-name", "It needs a name", "Give every territory a name.", `${path}.name`);
  if (!isSupportedCountry(country))
    return wrong(
      "no-such-country",
      "No such country",
      `${name}: choose one of the countries.`,
      `${path}.country`,
    );
  if (!isLanguage(language))
    return wrong("no-such-language", "No such language", `${name}: choose a language.`, `${path}.language`);
  const long = postalPrefixes.find((p) => p.length > 12) ?? areaCodes.find((c) => c.length > 6);
  if (long)
    return wrong(
      "too-long",
      "Too long",
      `${name}: “${long}” is longer than any postal code or area code.`,
      `${path}.postalPrefixes`,
    );
  return hoursProblem({ zone, week: {} }, path);
}

/** Whether a tree asks whether that field is that value. */
function asks(condition: Condition | null | undefined, field: FieldKey, value: string): boolean {
  if (!condition) return false;
  if ("field" in condition) return condition.field === field && [condition.value].flat().includes(value);
  const parts = "all" in condition ? condition.all : "any" in condition ? condition.any : condition.none;
  return parts.some((part) => asks(part, field, value));
}

/** Where a product or a territory is used, in words. */
export function usesOfValue(setup: Setup, field: "product" | "territory", value: string): string[] {
  const { people, sources, policies } = setup;
  const list = field === "product" ? ("products" as const) : ("territories" as const);
  const conditions = [
    ...policies.rules.map((r) => [`rule ${r.name}`, r.when] as const),
    ...(policies.routing.draft?.rules ?? []).map((r) => [`drafted rule ${r.name}`, r.when] as const),
    ...policies.targets.map((t) => [`target ${t.name}`, t.when] as const),
    ...policies.wakes.map((w) => [`wake rule ${w.name}`, w.when] as const),
    ...[policies.replies.usual, ...sources.flatMap((s) => s.reply ?? [])].flatMap((policy) =>
      [...policy.email.choices, ...policy.text.choices].map((c) => ["a first reply", c.when] as const),
    ),
  ];
  return [
    ...people.filter((p) => !p.left && p[list]?.includes(value)).map((p) => p.name),
    ...conditions.flatMap(([name, when]) => (asks(when, field, value) ? [name] : [])),
    ...sources
      .filter(
        (s) =>
          field === "product" && s.form?.fields.some((f) => f.choices.some((c) => c.sets?.product === value)),
      )
      .map((s) => `form ${s.name}`),
  ];
}

/** Refuses to let one go that is still used. */
function stillUsed(
  setup: Setup,
  field: "product" | "territory",
  before: readonly { readonly key: string; readonly name: string }[],
  after: readonly { readonly key: string }[],
): Refused | null {
  for (const { key, name } of before) {
    if (after.some((item) => item.key === key)) continue;
    const uses = usesOfValue(setup, field, key);
    if (uses.length > 0)
      return refuse(
        "it-is-in-use",
        409,
        "It is in use",
        `${name} can’t go yet. Take it out of these first: ${uses.join("; ")}.`,
        field === "product" ? "products" : "territories",
      );
  }
  return null;
}

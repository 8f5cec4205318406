import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { findTerritory } from "../intake/territory.ts";
import type { Territory } from "../policy/market.ts";
import { starter } from "../policy/starter.ts";
import { changeProducts, changeTerritories, usesOfValue } from "./change-market.ts";
import { readTerritories, writeTerritories } from "./territory-table.ts";

const { products, territories } = tarnholt.policies;
const problem = (changed: ReturnType<typeof changeProducts>) => (changed.ok ? null : changed.problem);

describe("products", () => {
  it("get a key from their name once, and keep it when they are renamed", () => {
    const made = changeProducts(starter(0), [
      { key: "", name: "Dinghy, 12 ft", value: 4_000, alsoCalled: [" tender ", "tender", ""] },
      { key: "", name: "Dinghy 12-ft", value: 0, alsoCalled: [] },
    ]);
    if (!made.ok) throw new Error(made.problem.detail);
    expect(made.setup.policies.products.map((p) => p.key)).toEqual(["dinghy_12_ft", "dinghy_12_ft_2"]);
    expect(made.setup.policies.products[0]!.alsoCalled).toEqual(["tender"]);
    const [first, second] = made.setup.policies.products;
    const renamed = changeProducts(made.setup, [{ ...first!, name: "Tender boat" }, second!]);
    expect(renamed.ok && renamed.setup.policies.products[0]).toMatchObject({
      key: "dinghy_12_ft",
      name: "Tender boat",
    });
  });
  it("share no name, under whichever they are asked for", () => {
    const other = { key: "", name: "Other", value: 0, alsoCalled: [products[0]!.name.toUpperCase()] };
    expect(problem(changeProducts(tarnholt, [...products, other]))).toMatchObject({
      status: 422,
      errors: [{ path: `products.${products.length}.name` }],
    });
  });
  it("that people sell or rules ask for stay, and it is said where they are used", () => {
    const uses = usesOfValue(tarnholt, "product", products[0]!.key);
    expect(uses.length).toBeGreaterThan(0);
    const gone = problem(changeProducts(tarnholt, products.slice(1)));
    expect(gone?.status).toBe(409);
    for (const use of uses) expect(gone?.detail).toContain(use);
  });
  it.each([
    [{ name: " " }, "products.0.name"],
    [{ value: -1 }, "products.0.value"],
    [{ value: Number.NaN }, "products.0.value"],
  ])("%j: refused, naming the field", (change, path) =>
    expect(
      problem(changeProducts(tarnholt, [{ ...products[0]!, ...change }, ...products.slice(1)]))?.errors?.[0]
        ?.path,
    ).toBe(path),
  );
});

const place = (name: string, change: Partial<Territory> = {}): Territory => ({
  key: "",
  name,
  country: "NZ",
  zone: "Pacific/Auckland",
  language: "en",
  areaCodes: [],
  postalPrefixes: [],
  ...change,
});

describe("territories", () => {
  it("of any country are found by postal code and by number, the longest beginning first", () => {
    const made = changeTerritories(starter(0), [
      place("North Island", {
        areaCodes: ["06", "07", "(09)"],
        postalPrefixes: ["0", "1", "2", "3", "4", "5"],
      }),
      place("Auckland", { areaCodes: [], postalPrefixes: ["10", "06"] }),
      place("South Island", { areaCodes: ["03"], postalPrefixes: ["7", "8", "9"] }),
      place("Bern", { country: "CH", zone: "Europe/Zurich", language: "de", areaCodes: ["031"] }),
    ]);
    if (!made.ok) throw new Error(made.problem.detail);
    const { territories: all } = made.setup.policies;
    const at = (post: string | null, ...phones: string[]) => findTerritory(all, post, phones)?.name ?? null;
    expect(at("1010")).toBe("Auckland");
    expect(at("1170")).toBe("North Island");
    expect(at("0612")).toBe("Auckland");
    expect(at("8011", "+6493001234")).toBe("South Island");
    expect(at(null, "+6433001234")).toBe("South Island");
    expect(at(null, "+6493001234")).toBe("North Island");
    expect(at(null, "+41313001234")).toBe("Bern");
    expect(at(null, "+13035550100")).toBeNull();
    expect(at("SW1A1AA")).toBeNull();
  });
  it("share neither a name nor a postal code nor an area code", () => {
    const path = (...list: Territory[]) => problem(changeTerritories(starter(0), list))?.errors?.[0]?.path;
    expect(path(place("North"), place("north "))).toBe("territories.1.name");
    const post = { postalPrefixes: [" 10 10"] };
    expect(path(place("North", post), place("South", { postalPrefixes: ["1010"] }))).toBe(
      "territories.1.postalPrefixes",
    );
    expect(path(place("North", { areaCodes: ["3"] }), place("South", { areaCodes: ["3"] }))).toBe(
      "territories.1.areaCodes",
    );
    expect(
      path(place("North", { areaCodes: ["3"] }), place("South", { areaCodes: ["3"], country: "AU" })),
    ).toBeUndefined();
  });
  it.each([
    [{ name: "" }, "territories.0.name"],
    [{ country: "Zealand" }, "territories.0.country"],
    [{ zone: "Nowhere/Land" }, "territories.0.zone"],
    [{ language: "kiwi" }, "territories.0.language"],
    [{ postalPrefixes: ["1234567890123"] }, "territories.0.postalPrefixes"],
  ])("%j: refused, naming the field", (change, path) =>
    expect(
      problem(changeTerritories(starter(0), [{ ...place("North"), ...change }]))?.errors?.[0]?.path,
    ).toBe(path),
  );
  it("that somebody covers, or a rule asks for, stay", () => {
    const [first] = territories;
    const asks = { field: "territory", is: "one-of", value: ["elsewhere", first!.key] } as const;
    const covering = {
      ...tarnholt,
      people: tarnholt.people.map((p) => (p.id === "p_mara" ? { ...p, territories: [first!.key] } : p)),
      policies: {
        ...tarnholt.policies,
        rules: tarnholt.policies.rules.map((r, i) => (i === 0 ? { ...r, when: { none: [asks] } } : r)),
      },
    };
    expect(usesOfValue(covering, "territory", first!.key)).toEqual([
      tarnholt.people.find((p) => p.id === "p_mara")!.name,
      `rule ${tarnholt.policies.rules[0]!.name}`,
    ]);
    expect(problem(changeTerritories(covering, territories.slice(1)))?.status).toBe(409);
    expect(problem(changeTerritories(tarnholt, territories.slice(1)))).toBeNull();
  });
});

describe("a table of territories", () => {
  const usual = { country: "NZ", zone: "Pacific/Auckland", language: "en" };
  const read = (table: string) => readTerritories(table, usual);

  it("is read with what it leaves out as it usually is; rows of one name are one", () => {
    const { territories: read_, wrong } = read(
      "Territory;Postcodes;Area codes;Time zone\nNorth;0 1 2;09,07;\nSouth;7;03;\nnorth;3;;Pacific/Auckland\nChathams;8016;;Pacific/Chatham\n",
    );
    expect(wrong).toEqual([]);
    expect(read_).toEqual([
      place("North", { postalPrefixes: ["0", "1", "2", "3"], areaCodes: ["09", "07"] }),
      place("South", { postalPrefixes: ["7"], areaCodes: ["03"] }),
      place("Chathams", { postalPrefixes: ["8016"], zone: "Pacific/Chatham" }),
    ]);
  });
  it("says of each row that can't be used why, and leaves the others", () => {
    const { territories: found, wrong } = read(
      "name,country,zone,language\n,NZ,,\nA,New Zealand,,\nB,,Auckland,\nC,,,english\nD,,,\n",
    );
    expect(found.map((t) => t.name)).toEqual(["D"]);
    expect(wrong.map((w) => w.row)).toEqual([2, 3, 4, 5]);
    expect(wrong[1]!.said).toContain("“NEW ZEALAND”");
  });
  it("is written so that it is read again as it was", () => {
    const { territories: again, wrong } = read(writeTerritories(territories));
    expect(wrong).toEqual([]);
    expect(again).toEqual(territories.map((t) => ({ ...t, key: "" })));
  });
  it("that is too long is read as far as it goes, and the rest is said", () => {
    const { territories: found, wrong } = read(
      `name\n${Array.from({ length: 1_003 }, (_, i) => `Place ${i}`).join("\n")}\n`,
    );
    expect(found).toHaveLength(1_000);
    expect(wrong).toMatchObject([{ row: 1_002 }]);
  });
  it("without a heading is said to have none", () =>
    expect(read("North,0 1 2\n").wrong).toMatchObject([{ row: 1 }]));
});

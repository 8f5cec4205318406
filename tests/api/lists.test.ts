import Papa from "papaparse";
import { beforeAll, describe, expect, it } from "vitest";
import { rehearsal } from "../support/rehearsal.ts";
import { asPerson, PEOPLE } from "../support/server.ts";

/** Leads by condition and lists under names, as an integrator and as people of each role ask for them. */

const { server, api } = rehearsal();

const NAMES = [
  "Ana Ruiz",
  "Bo Lind",
  "Cleo Marsh",
  "Dag Olsen",
  "Eva Roth",
  "Finn Kade",
  "Gil Soto",
  "Ida Berg",
];
const ids: string[] = [];

beforeAll(async () => {
  for (const [at, name] of NAMES.entries()) {
    const { body } = await api.post("/leads", {
      name,
      phone: `+1303555${1000 + at}`,
      company: at % 3 === 0 ? "Cedar Inn" : undefined,
      facts: { product: at % 2 === 0 ? "barrel" : "plunge" },
      route: false,
      ownerId: at < 5 ? "p_mara" : "p_luc",
    });
    ids.push(body.id);
    await api.post("/rehearsal/clock", { advance: "PT1M" });
  }
  // Tried by hand, so that tries differ.
  for (const id of ids.slice(0, 3))
    await api.post(`/leads/${id}/tries`, { personId: "p_mara", channel: "call", outcome: "voicemail" });
});

const as = asPerson(() => server().origin);

const where = (condition: object) => `where=${encodeURIComponent(JSON.stringify(condition))}`;
const BARREL = { all: [{ field: "product", is: "equal", value: "barrel" }] };
const names = (body: { items: { name: string }[] }) => body.items.map((l) => l.name);
const paths = (body: { errors?: { path: string }[] }) => (body.errors ?? []).map((e) => e.path);

describe("leads by a condition", () => {
  it("are the same by page, by table, by count and under a list’s name", async () => {
    const plain = NAMES.filter((_, at) => at % 2 === 0);
    const page = await api.get(`/leads?${where(BARREL)}&sort=name`);
    expect(names(page.body)).toEqual(plain);
    expect(page.body.count).toBe(plain.length);
    const table = await api.get(`/leads.csv?${where(BARREL)}&sort=name&columns=name,tries`);
    expect(table.type).toContain("text/csv");
    const { data } = Papa.parse<string[]>(table.body.trim());
    expect(data).toEqual([
      ["Name", "Number of tries"],
      ...plain.map((name, at) => [name, at < 2 ? "1" : "0"]),
    ]);
    const kept = await api.post("/lists", {
      name: "Barrels",
      where: BARREL,
      columns: ["name"],
      sort: "name",
    });
    expect(kept.status).toBe(201);
    expect(kept.body).toMatchObject({ count: plain.length, said: expect.stringContaining("Barrel sauna") });
    expect(names((await api.get(`/leads?list=${kept.body.id}`)).body)).toEqual(plain);
    await api.post(`/lists/${kept.body.id}/remove`);
  });

  it("come page by page without one twice or left out, in each order and either way round", async () => {
    for (const sort of [
      "recent",
      "created",
      "name",
      "company",
      "stage",
      "product",
      "value",
      "tries",
      "tried",
      "due",
    ])
      for (const way of ["", "-"]) {
        const met: string[] = [];
        let cursor = "";
        do {
          const { body } = await api.get(`/leads?columns=name&sort=${way}${sort}&limit=3${cursor}`);
          met.push(...names(body));
          cursor = body.next ? `&cursor=${encodeURIComponent(body.next)}` : "";
        } while (cursor);
        expect([...met].sort(), way + sort).toEqual([...NAMES].sort());
      }
  });

  it("put what is not known last, whichever way they are sorted", async () => {
    for (const sort of ["company", "-company"]) {
      const { body } = await api.get(`/leads?columns=company&sort=${sort}`);
      const companies = body.items.map((l: { cells: Record<string, string> }) => l.cells.company);
      expect(companies).toEqual(["Cedar Inn", "Cedar Inn", "Cedar Inn", "", "", "", "", ""]);
    }
  });

  it("find what only core knows as well: a number, a message, an own field", async () => {
    const { body } = await api.get(
      `/leads?${where({ any: [{ field: "phone", is: "starts-with", value: "+13035551003" }] })}`,
    );
    expect(names(body)).toEqual(["Dag Olsen"]);
    expect(body.count).toBe(1);
  });

  it("fill their columns as a person reads them, and no others", async () => {
    const { body } = await api.get(
      `/leads?${where({ all: [{ field: "tries", is: "at-least", value: 1 }] })}&sort=name&columns=name,product,with,phone,nothing`,
    );
    expect(body.items[0].cells).toEqual({
      name: "Ana Ruiz",
      product: "Barrel sauna",
      with: "Mara Whitehorse",
      phone: "(303) 555-1000",
    });
  });

  it("are a salesperson’s own for a salesperson: by page, count and table", async () => {
    const { body } = await as(PEOPLE.salesperson, "GET", "/leads?columns=name&sort=name");
    expect(names(body)).toEqual(NAMES.slice(0, 5));
    expect(body.count).toBe(5);
    const table = await as(PEOPLE.salesperson, "GET", "/leads.csv?columns=name&sort=name");
    expect(Papa.parse<string[]>(table.body.trim()).data.slice(1).flat()).toEqual(NAMES.slice(0, 5));
  });

  it("take no formula into a table that a spreadsheet would run", async () => {
    const { body } = await api.post("/leads", { name: "=HYPERLINK(1)", phone: "+13035552999", route: false });
    const table = await api.get("/leads.csv?columns=name,phone");
    expect(table.body).not.toMatch(/(^|,|\n)"?=hyperlink/i);
    expect(table.body).toContain("'=hyperlink(1)");
    await api.post(`/leads/${body.id}/close`, { reason: "Not a real inquiry" });
  });

  it.each([
    ["where={", "where"],
    [`where=${"[".repeat(13_000)}`, "where"],
    [`${where({ all: [{ field: "shoe", is: "equal", value: "1" }] })}`, "where"],
    [`${where({ all: [{ field: "tries", is: "contains", value: "1" }] })}`, "where"],
    ["columns=name&sort=shoe", "sort"],
    ["list=list_none", "list"],
  ])("are refused with the name of what is wrong: %.30s", async (query, field) => {
    for (const door of ["/leads", "/leads.csv"]) {
      const { status, body } = await api.get(`${door}?${query}`);
      expect([404, 422]).toContain(status);
      expect(paths(body)[0]).toContain(field);
    }
  });

  it("begin again at a cursor nobody gave out, and never fail on it", async () => {
    for (const cursor of ["x", "W10", Buffer.from('[{"a":1},2]').toString("base64url"), "%00"]) {
      const { status, body } = await api.get(`/leads?columns=name&sort=name&limit=2&cursor=${cursor}`);
      expect(status).toBe(200);
      expect(body.items).toHaveLength(2);
    }
  });
});

describe("lists under names", () => {
  const list = (more: object = {}) => ({ name: "Tried", where: BARREL, columns: ["name", "tries"], ...more });

  it("are private until they are shared, and each sees their own leads in a shared one", async () => {
    const mine = (await as(PEOPLE.coordinator, "POST", "/lists", list())).body;
    const seen = async (person: string) =>
      (await as(person, "GET", "/lists")).body.items.find((l: { id: string }) => l.id === mine.id);
    expect(await seen(PEOPLE.salesperson)).toBeUndefined();
    expect((await as(PEOPLE.salesperson, "GET", `/leads?list=${mine.id}`)).status).toBe(404);
    await as(PEOPLE.coordinator, "POST", "/lists", list({ id: mine.id, shared: "salesperson" }));
    expect(await seen(PEOPLE.salesperson)).toMatchObject({ count: 3, mine: false });
    expect(await seen(PEOPLE.coordinator)).toMatchObject({ count: 4, mine: true });
    expect(await seen(PEOPLE.manager)).toBeUndefined();
  });

  it("are changed and removed by whoever made them or moves leads, and by nobody else", async () => {
    const shared = (await as(PEOPLE.coordinator, "POST", "/lists", list({ shared: "desk" }))).body;
    expect(
      (await as(PEOPLE.salesperson, "POST", "/lists", list({ id: shared.id, name: "Theirs" }))).status,
    ).toBe(403);
    expect((await as(PEOPLE.salesperson, "POST", `/lists/${shared.id}/remove`)).status).toBe(403);
    const renamed = await as(
      PEOPLE.manager,
      "POST",
      "/lists",
      list({ id: shared.id, name: "Ours", shared: "desk" }),
    );
    expect(renamed.body).toMatchObject({ name: "Ours", by: "Ines Okafor" });
    const priv = (await as(PEOPLE.salesperson, "POST", "/lists", list())).body;
    expect((await as(PEOPLE.manager, "POST", `/lists/${priv.id}/remove`)).status).toBe(404);
    expect((await as(PEOPLE.salesperson, "POST", "/lists", list({ shared: "desk" }))).status).toBe(403);
    expect((await as(PEOPLE.manager, "POST", `/lists/${shared.id}/remove`)).status).toBe(204);
    expect((await as(PEOPLE.coordinator, "GET", `/leads?list=${shared.id}`)).status).toBe(404);
  });

  it("are told of each lead that is in them, to whoever sees them", async () => {
    const shared = (await as(PEOPLE.coordinator, "POST", "/lists", list({ shared: "salesperson" }))).body;
    const priv = (await as(PEOPLE.coordinator, "POST", "/lists", list({ name: "Mine" }))).body;
    const of = async (person: string, lead: string) =>
      (await as(person, "GET", `/leads/${lead}/lists`)).body.items?.map((l: { id: string }) => l.id);
    // Ana wants a barrel and is Mara's, Bo wants a plunge tub.
    expect(await of(PEOPLE.coordinator, ids[0]!)).toEqual(expect.arrayContaining([shared.id, priv.id]));
    expect(await of(PEOPLE.salesperson, ids[0]!)).toContain(shared.id);
    expect(await of(PEOPLE.salesperson, ids[0]!)).not.toContain(priv.id);
    expect(await of(PEOPLE.coordinator, ids[1]!)).not.toContain(shared.id);
    expect((await as(PEOPLE.salesperson, "GET", `/leads/${ids[6]}/lists`)).status).toBe(404);
    for (const { id } of [shared, priv]) await as(PEOPLE.coordinator, "POST", `/lists/${id}/remove`);
  });

  it("are pinned by each for themselves, and count what came since each looked", async () => {
    const shared = (await as(PEOPLE.coordinator, "POST", "/lists", list({ shared: "desk" }))).body;
    const look = (person: string, body = {}) => as(person, "POST", `/lists/${shared.id}/look`, body);
    await look(PEOPLE.coordinator, { pinned: true });
    await look(PEOPLE.coordinator);
    await api.post("/rehearsal/clock", { advance: "PT1M" });
    await api.post("/leads", {
      name: "Nils Aho",
      phone: "+13035552001",
      facts: { product: "barrel" },
      route: false,
      ownerId: "p_mara",
    });
    const of = async (person: string) =>
      (await as(person, "GET", "/lists")).body.items.find((l: { id: string }) => l.id === shared.id);
    expect(await of(PEOPLE.coordinator)).toMatchObject({ pinned: true, fresh: 1, count: 5 });
    expect(await of(PEOPLE.manager)).toMatchObject({ pinned: false, fresh: 5, seenAt: null });
    expect((await look(PEOPLE.coordinator)).body).toMatchObject({ fresh: 0, pinned: true });
  });

  it.each([
    [{ name: " " }, "name"],
    [{ columns: [] }, "columns"],
    [{ columns: ["shoe"] }, "columns.0"],
    [{ columns: ["__proto__"] }, "columns.0"],
    [{ sort: "constructor" }, "sort"],
    [{ where: { all: [{ field: "own.__proto__", is: "equal", value: "1" }] } }, "where"],
  ])("are refused with the name of what is wrong: %j", async (more, field) => {
    const { status, body } = await api.post("/lists", list(more));
    expect(status).toBe(422);
    expect(paths(body)[0]).toContain(field);
  });

  it("keep a field that has left the set-up readable: the list says so instead of failing", async () => {
    const { body: fields } = await api.get("/setup/fields");
    const deck = { ...fields.fields[0], key: "deck", name: "Deck" };
    expect((await api.post("/setup/fields", { ...fields, fields: [...fields.fields, deck] })).status).toBe(
      200,
    );
    const kept = await api.post("/lists", list({ where: { all: [{ field: "own.deck", is: "known" }] } }));
    expect(kept.status).toBe(201);
    await api.post("/setup/fields", fields);
    const { body } = await api.get("/lists");
    expect(body.items.find((l: { id: string }) => l.id === kept.body.id)).toMatchObject({ count: null });
    const opened = await api.get(`/leads?list=${kept.body.id}`);
    expect(opened.status).toBe(422);
    expect(opened.body.detail).toContain("deck");
  });
});

import ICAL from "ical.js";
import Papa from "papaparse";
import { beforeAll, describe, expect, it } from "vitest";
import { rehearsal } from "../support/rehearsal.ts";
import { asPerson } from "../support/server.ts";

/** What a list does by itself: it tells, it is sent, it is where somebody begins; and how its leads leave. */

const { server, api } = rehearsal();

interface Out {
  readonly to: string;
  readonly subject?: string | null;
  readonly body: string;
  readonly files?: readonly { readonly name: string; readonly size: number }[];
}

const outside = async (channel: "email" | "chat") =>
  (await api.get(`/rehearsal/outside?channel=${channel}&limit=500`)).body.items as Out[];
const later = (by: string) => api.post("/rehearsal/clock", { advance: by });
const comes = async (name: string, product = "barrel", ownerId = "p_mara") =>
  (
    await api.post("/leads", {
      name,
      email: `${name.toLowerCase().replace(/\W+/g, ".")}@mail.example`,
      facts: { product },
      route: false,
      ownerId,
    })
  ).body.id as string;

const as = asPerson(() => server().origin);

const BARREL = { all: [{ field: "product", is: "equal", value: "barrel" }] };
let list = "";
/** Chat messages about a list that have come since they were counted last. */
let heard = 0;
const news = async () => {
  const about = (await outside("chat")).filter((m) => /come in|more than/.test(m.body));
  const fresh = about.slice(heard);
  heard = about.length;
  return fresh;
};

beforeAll(async () => {
  await comes("Ana Ruiz");
  await comes("Bo Lind");
  await comes("Cleo Marsh", "plunge");
  const kept = await as("p_ines", "POST", "/lists", {
    name: "Barrels",
    where: BARREL,
    columns: ["name", "value", "came", "tag"],
    shared: "desk",
  });
  expect(kept.status).toBe(201);
  list = kept.body.id;
});

describe("a watched list", () => {
  it("tells of what comes into it, once, and not of what was in it", async () => {
    const watching = await as("p_ines", "POST", `/lists/${list}/look`, {
      tell: { enters: true, over: null },
    });
    expect(watching.body.tell).toEqual({ enters: true, over: null });
    await later("PT5M");
    expect(await news()).toEqual([]);
    await comes("Dag Olsen");
    await comes("Eva Roth", "plunge");
    await later("PT2M");
    const told = await news();
    expect(told).toHaveLength(1);
    expect(told[0]!.body).toContain("One lead has come in: Dag Olsen.");
    expect(told[0]!.body).toContain(`/leads?list=${list}`);
    await later("PT30M");
    expect(await news()).toEqual([]);
  });

  it("tells of what time alone brings in", async () => {
    const quiet = await as("p_greta", "POST", "/lists", {
      name: "Came yesterday or before",
      where: { all: [{ field: "age", is: "at-least", value: 1 }] },
      columns: ["name"],
    });
    await as("p_greta", "POST", `/lists/${quiet.body.id}/look`, { tell: { enters: true, over: null } });
    await later("PT1M");
    expect(await news()).toEqual([]);
    await later("P1D");
    const told = await news();
    expect(told.length).toBeGreaterThan(0);
    expect(told.map((m) => m.body).join("\n")).toMatch(/Ana Ruiz/);
    await as("p_greta", "POST", `/lists/${quiet.body.id}/remove`);
  });

  it("tells when it has more than a number, and again only after it had fewer", async () => {
    const { body } = await api.get(`/leads?list=${list}`);
    await as("p_ines", "POST", `/lists/${list}/look`, { tell: { enters: false, over: body.count } });
    await later("PT2M");
    expect(await news()).toEqual([]);
    const over = await comes("Finn Kade");
    await later("PT2M");
    expect((await news()).map((m) => m.body)).toEqual([
      expect.stringContaining(`It has ${body.count + 1} leads now, more than ${body.count}.`),
    ]);
    const also = await comes("Gil Soto");
    await later("PT2M");
    expect(await news()).toEqual([]);
    const becomes = (id: string, product: string) => api.post(`/leads/${id}/facts`, { product });
    for (const id of [over, also]) expect((await becomes(id, "plunge")).status).toBe(200);
    expect((await api.get(`/leads?list=${list}`)).body.count).toBe(body.count);
    await later("PT2M");
    expect(await news()).toEqual([]);
    await becomes(also, "barrel");
    await later("PT2M");
    expect(await news()).toHaveLength(1);
  });

  it("is nothing for somebody who does not see it, and not more than twenty are", async () => {
    const own = await as("p_greta", "POST", "/lists", { name: "Mine", where: BARREL, columns: ["name"] });
    const path = `/lists/${own.body.id}/look`;
    expect((await as("p_mara", "POST", path, { tell: { enters: true, over: null } })).status).toBe(404);
    for (const over of [-1, 1.5, "many", 1e12])
      expect((await as("p_greta", "POST", path, { tell: { enters: false, over } })).status).toBe(422);
    const ids: string[] = [];
    for (let n = 0; n < 21; n++) {
      const one = await as("p_luc", "POST", "/lists", { name: `L${n}`, where: BARREL, columns: ["name"] });
      ids.push(one.body.id);
    }
    const watch = (id: string) =>
      as("p_luc", "POST", `/lists/${id}/look`, { tell: { enters: true, over: null } });
    for (const id of ids.slice(0, 20)) expect((await watch(id)).status).toBe(200);
    const refused = await watch(ids[20]!);
    expect([refused.status, refused.body.code]).toEqual([409, "too-many-watched"]);
    for (const id of ids) await as("p_luc", "POST", `/lists/${id}/remove`);
  });
});

describe("a list that is sent by itself", () => {
  it("goes by mail as a table at its time on the desk’s clock, and says what became of it", async () => {
    const added = await as("p_ines", "POST", `/lists/${list}/sends`, {
      to: { kind: "person", id: "p_ines" },
      format: "csv",
      weekday: null,
      time: "07:30",
    });
    expect(added.status).toBe(201);
    expect(added.body.to).toMatchObject({ kind: "person", id: "p_ines" });
    expect(new Date(added.body.nextAt).toISOString()).toMatch(/T14:30:00/);
    const before = (await outside("email")).length;
    await later("P1D");
    const sent = (await outside("email")).slice(0, (await outside("email")).length - before);
    const mine = sent.filter((m) => m.subject?.startsWith("Barrels: "));
    expect(mine).toHaveLength(1);
    expect(mine[0]!.subject).toMatch(/^Barrels: \d+ leads$/);
    const [file, ...more] = mine[0]!.files ?? [];
    expect(more).toEqual([]);
    expect(file!.name).toMatch(/^Barrels 2026-03-\d\d\.csv$/);
    expect(file!.size).toBe(Buffer.byteLength((await api.get(`/leads.csv?list=${list}`)).body as string));
    const { items } = (await as("p_ines", "GET", `/lists/${list}/sends`)).body;
    expect(items[0].said).toMatch(/^\d+ leads to Ines/);
    expect(Date.parse(items[0].nextAt) - Date.parse(added.body.nextAt)).toBe(86_400_000);
    const now = await as("p_ines", "POST", `/lists/${list}/sends/${added.body.id}/now`);
    expect(now.body.said).toMatch(/^\d+ leads to Ines/);
    expect((await as("p_ines", "POST", `/lists/${list}/sends/${added.body.id}/remove`)).status).toBe(204);
    await later("P1D");
    expect((await outside("email")).filter((m) => m.subject?.startsWith("Barrels: "))).toHaveLength(2);
    // That customers leave by themselves is something a manager can look up.
    const changes = (await as("p_greta", "GET", "/audit")).body.items as { what: string; by: string }[];
    expect(changes.map((c) => c.what)).toEqual(
      expect.arrayContaining([
        "has the list “Barrels” sent to Ines Okafor",
        "has the list “Barrels” no longer sent to Ines Okafor",
      ]),
    );
  });

  it("comes on its weekday alone", async () => {
    const add = (weekday: number) =>
      as("p_ines", "POST", `/lists/${list}/sends`, {
        to: { kind: "person", id: "p_ines" },
        weekday,
        time: "09:00",
      });
    for (const weekday of [1, 4, 7]) {
      const { body } = await add(weekday);
      const day = new Date(body.nextAt).getUTCDay() || 7;
      // Nine in the morning at the desk is the same day in UTC.
      expect(day).toBe(weekday);
      await as("p_ines", "POST", `/lists/${list}/sends/${body.id}/remove`);
    }
    expect((await add(8)).status).toBe(422);
  });

  it("goes only where whoever asks may send it, with what its reader may see", async () => {
    const to = (person: string, kind: string, id: string, of = list) =>
      as(person, "POST", `/lists/${of}/sends`, { to: { kind, id }, time: "09:00" });
    expect((await to("p_mara", "person", "p_luc")).status).toBe(403);
    expect((await to("p_ines", "person", "nobody")).body.code).toBe("no-such-person");
    expect((await to("p_ines", "hook", "h_x")).status).toBe(403);
    const own = await as("p_ines", "POST", "/lists", { name: "Only mine", columns: ["name"] });
    expect((await to("p_ines", "person", "p_mara", own.body.id)).body.code).toBe("not-shared");
    expect((await to("p_mara", "person", "p_mara", own.body.id)).status).toBe(404);
    // A salesperson gets what is theirs.
    const mine = await to("p_mara", "person", "p_mara");
    expect(mine.status).toBe(201);
    const own2 = (await as("p_mara", "GET", `/leads?list=${list}`)).body.count as number;
    const said = (await as("p_mara", "POST", `/lists/${list}/sends/${mine.body.id}/now`)).body.said as string;
    expect(said).toMatch(new RegExp(`^${own2} leads? to Mara`));
    expect((await as("p_luc", "POST", `/lists/${list}/sends/${mine.body.id}/remove`)).status).toBe(403);
    expect((await as("p_luc", "POST", `/lists/${list}/sends/${mine.body.id}/now`)).status).toBe(403);
    // Whoever may change the list stops it.
    expect((await as("p_ines", "POST", `/lists/${list}/sends/${mine.body.id}/remove`)).status).toBe(204);
  });
});

describe("the first page", () => {
  const open = (path: string, person: string, site: string) =>
    fetch(`${server().origin}${path}`, {
      redirect: "manual",
      headers: { cookie: `kb_me=${person}`, "sec-fetch-site": site },
    });

  it("is the list one has chosen, where nothing else has led to the Desk, and for nobody else", async () => {
    const first = await as("p_ines", "POST", `/lists/${list}/look`, { first: true });
    expect(first.body.first).toBe(true);
    const began = await open("/", "p_ines", "none");
    expect([began.status, began.headers.get("location")]).toEqual([302, `/leads?list=${list}`]);
    expect((await open("/?begin", "p_ines", "same-origin")).headers.get("location")).toBe(
      `/leads?list=${list}`,
    );
    expect((await open("/", "p_ines", "same-origin")).status).toBe(200);
    expect((await open("/?lead=x", "p_ines", "none")).status).toBe(200);
    expect((await open("/", "p_greta", "none")).status).toBe(200);
    expect((await open("/?begin", "p_greta", "same-origin")).headers.get("location")).toBe("/");
    // One at a time; and none when it is gone.
    const other = await as("p_ines", "POST", "/lists", { name: "Other", columns: ["name"] });
    await as("p_ines", "POST", `/lists/${other.body.id}/look`, { first: true });
    expect((await open("/", "p_ines", "none")).headers.get("location")).toBe(`/leads?list=${other.body.id}`);
    await as("p_ines", "POST", `/lists/${other.body.id}/remove`);
    expect((await open("/", "p_ines", "none")).status).toBe(200);
  });
});

describe("leads as files", () => {
  it("are the same leads as JSON with numbers and times, and as vCards another reader takes", async () => {
    const named = (await api.get(`/leads?list=${list}&sort=name`)).body.items.map(
      (l: { name: string }) => l.name,
    );
    const json = await api.get(`/leads.json?list=${list}&sort=name`);
    expect(json.body.items.map((l: { name: string }) => l.name)).toEqual(named);
    for (const item of json.body.items) {
      expect(Number.isNaN(Date.parse(item.came))).toBe(false);
      expect([null, "number"]).toContain(item.value === null ? null : typeof item.value);
      expect(Object.keys(item)).toEqual(["id", "name", "value", "came", "tag"]);
    }
    const cards = await api.get(`/leads.vcf?list=${list}&sort=name`);
    expect(cards.type).toContain("text/vcard");
    // Source: ical.js, which reads RFC 6350.
    const read = ICAL.parse(cards.body as string) as unknown as [
      string,
      [string, object, string, string][],
    ][];
    const all = typeof read[0] === "string" ? [read as unknown as (typeof read)[number]] : read;
    const of = (card: (typeof all)[number], what: string) => card[1].find(([key]) => key === what)?.[3];
    expect(all.map((card) => of(card, "fn"))).toEqual(named);
    expect(of(all[0]!, "email")).toBe("ana.ruiz@mail.example");
  });

  it("hold only what is theirs who asks, and formulas are none", async () => {
    await comes("=HYPERLINK(1)", "barrel", "p_luc");
    const mine = await as("p_mara", "GET", "/leads.json?columns=name");
    expect(mine.body.items.map((l: { name: string }) => l.name)).not.toContain("=hyperlink(1)");
    const table = await api.get(
      `/leads.csv?columns=name&where=${encodeURIComponent(JSON.stringify(BARREL))}`,
    );
    const rows = Papa.parse<string[]>(table.body.trim()).data.flat();
    expect(rows.find((cell) => /hyperlink/i.test(cell))).toMatch(/^'=/);
    expect((await api.get("/leads.vcf?list=nothing")).status).toBe(404);
  });
});

describe("the queue in parts", () => {
  it("is somebody’s, what is offered, what nobody has, or one source’s, and together all of it", async () => {
    await api.post("/leads", { name: "Of nobody", email: "nobody@mail.example", facts: {}, route: false });
    const { body: whole } = await api.get("/queue?later&limit=200");
    const ids = (q: { bands: { items: { id: string }[] }[] }) =>
      q.bands.flatMap((b) => b.items.map((r) => r.id));
    const part = async (query: string) => (await api.get(`/queue?later&limit=200&${query}`)).body;
    const { items: people } = (await api.get("/people")).body;
    const who = [...people.map((p: { id: string }) => p.id), "offered", "nobody"] as string[];
    const parts = await Promise.all(who.map((one) => part(`who=${one}`)));
    const all = parts.flatMap(ids);
    expect(new Set(all).size).toBe(all.length);
    expect(all.sort()).toEqual(ids(whole).sort());
    for (const q of parts) for (const band of q.bands) expect(band.count).toBe(band.items.length);
    const sources = whole.sources.map((s: { id: string }) => s.id) as string[];
    const bySource = await Promise.all(sources.map((id) => part(`source=${id}`)));
    expect(bySource.flatMap(ids).sort()).toEqual(ids(whole).sort());
    // A salesperson’s queue is theirs, whomever they ask for.
    const own = (await as("p_luc", "GET", "/queue?later&limit=200")).body;
    const asked = (await as("p_luc", "GET", "/queue?later&limit=200&who=p_tomasz")).body;
    expect(ids(asked)).toEqual(ids(own));
    expect(ids(asked).length).toBeGreaterThan(0);
  });
});

import { describe, expect, it } from "vitest";
import { rehearsal } from "../support/rehearsal.ts";
import { asPerson } from "../support/server.ts";

/** Customers, deals and estimates as those ask for them whom they are none of the business of, and as somebody hostile would. */

const { server, api } = rehearsal();
let made = 0;

const as = asPerson(() => server().origin);

interface Over {
  readonly leadId: string;
  readonly companyId: string;
  readonly contactId: string;
  readonly dealId: string;
  readonly estimateId: string;
}

/** A lead of somebody’s, handed over with an estimate. */
async function over(ownerId: string): Promise<Over> {
  const n = ++made;
  const { body: lead } = await api.post("/leads", {
    name: `Rosa Lindqvist ${n}`,
    email: `rosa${n}@inn${n}.example`,
    phone: `+1303555${String(100 + n).padStart(4, "0")}`,
    company: `Inn number ${n}`,
    route: false,
    ownerId,
  });
  const { body: estimate } = await api.post(`/leads/${lead.id}/estimates`, {
    worksheet: "ws_sauna",
    inputs: {},
  });
  const { body } = await api.post(`/leads/${lead.id}/hand-over`, {
    company: {},
    contact: {},
    deal: { value: 100 },
  });
  return { leadId: lead.id, ...body, estimateId: estimate.id };
}

describe("a salesperson", () => {
  it("finds companies, contacts and deals by words of their name in any order, and none that is not theirs", async () => {
    const mine = await over("p_mara");
    const theirs = await over("p_idris");
    const [company, other] = await Promise.all(
      [mine, theirs].map(
        async ({ companyId }) => (await api.get(`/companies/${companyId}`)).body.name as string,
      ),
    );
    const found = async (person: string, typed: string) =>
      (await as(person, "GET", `/search?q=${encodeURIComponent(typed)}`)).body.records as {
        kind: string;
        id: string;
        name: string;
      }[];
    const backwards = company!.toUpperCase().split(" ").reverse().join(" ");
    const hits = await found("p_mara", backwards);
    expect(hits.find((r) => r.kind === "company")).toMatchObject({ id: mine.companyId, name: company });
    expect((await found("p_ines", other!)).map((r) => r.id)).toContain(theirs.companyId);
    expect(await found("p_mara", other!)).toEqual([]);
    const contact = (await api.get(`/contacts/${mine.contactId}`)).body.name as string;
    const kinds = (await found("p_mara", contact)).map((r) => r.kind);
    expect(kinds).toContain("contact");
    for (const typed of ["", "   ", "%", "'", "x".repeat(500), "a ".repeat(300)])
      expect((await found("p_ines", typed)).length).toBeLessThanOrEqual(4);
  });

  it("sees what is theirs, and of others’ not even whether it is there", async () => {
    const mine = await over("p_mara");
    const theirs = await over("p_idris");
    const paths = ({ leadId, companyId, contactId, dealId, estimateId }: Over) => [
      `/companies/${companyId}`,
      `/contacts/${contactId}`,
      `/contacts/${contactId}/card`,
      `/deals/${dealId}`,
      `/deals/${dealId}/file`,
      `/estimates/${estimateId}`,
      `/estimates/${estimateId}/pdf`,
      `/leads/${leadId}/questions`,
      `/leads/${leadId}/estimates`,
      `/leads/${leadId}/hand-over`,
    ];
    for (const path of paths(mine))
      expect([path, (await as("p_mara", "GET", path)).status]).toEqual([path, 200]);
    for (const path of paths(theirs))
      expect([path, (await as("p_mara", "GET", path)).status]).toEqual([path, 404]);
    for (const path of paths(theirs))
      expect([path, (await as("p_greta", "GET", path)).status]).toEqual([path, 200]);
  });

  it("changes nothing of others’, whatever is sent", async () => {
    const theirs = await over("p_idris");
    for (const [path, body] of [
      [`/deals/${theirs.dealId}`, { value: 1 }],
      [`/deals/${theirs.dealId}`, { stage: "Won", reason: "Signed" }],
      [`/deals/${theirs.dealId}/undo`, { actId: theirs.dealId }],
      [`/deals/${theirs.dealId}/send-on`, undefined],
      [`/companies/${theirs.companyId}`, { name: "Mine" }],
      [`/contacts/${theirs.contactId}`, { emails: [] }],
      [`/estimates/${theirs.estimateId}/send`, { body: "x" }],
      [`/estimates/${theirs.estimateId}/answer`, { answer: "accepted", name: "x" }],
      [`/leads/${theirs.leadId}/stage`, { stage: "Talking" }],
      [`/leads/${theirs.leadId}/reopen`, { reason: "x" }],
      [`/leads/${theirs.leadId}/questions`, { answers: { name: "x" } }],
    ] as const)
      expect([path, (await as("p_mara", "POST", path, body)).status]).toEqual([path, 404]);
    expect((await api.get(`/deals/${theirs.dealId}`)).body).toMatchObject({ value: 100, closed: null });
  });

  it("finds their own alone in lists, on the board and in the table", async () => {
    const mine = await over("p_noor");
    const theirs = await over("p_idris");
    const { body: board } = await as("p_noor", "GET", "/board");
    const deals = board.columns.flatMap((c: { deals: { id: string }[] }) => c.deals.map((d) => d.id));
    expect(deals).toEqual([mine.dealId]);
    expect(board.owners).toEqual([{ id: "p_noor", name: "Noor Castellanos" }]);
    const { body: companies } = await as("p_noor", "GET", "/companies");
    expect(companies.items.map((c: { id: string }) => c.id)).toEqual([mine.companyId]);
    const { body: contacts } = await as("p_noor", "GET", "/contacts?q=rosa");
    expect(contacts.items.map((c: { id: string }) => c.id)).toEqual([mine.contactId]);
    const { body: table } = await as("p_noor", "GET", "/deals/table");
    expect(table).toContain(mine.dealId);
    expect(table).not.toContain(theirs.dealId);
  });

  it("begins deals with their own customers alone, joins nobody, and sets nothing up", async () => {
    const theirs = await over("p_idris");
    const mine = await over("p_mara");
    expect((await as("p_mara", "POST", "/deals", { contactId: theirs.contactId, name: "x" })).status).toBe(
      404,
    );
    expect((await as("p_mara", "POST", "/deals", { contactId: mine.contactId, name: "A tub" })).status).toBe(
      201,
    );
    for (const [path, body] of [
      [`/companies/${mine.companyId}/join`, { with: theirs.companyId }],
      [`/contacts/${mine.contactId}/part`, { from: theirs.contactId }],
      ["/setup/stages", { stages: [], reasons: [] }],
      ["/setup/questions", { questionSets: [] }],
      ["/setup/worksheets", { worksheets: [] }],
      ["/setup/hooks", { url: "https://x.example", events: [] }],
    ] as const)
      expect([path, (await as("p_mara", "POST", path, body)).status]).toEqual([path, 403]);
  });

  it("moves a lead only where whoever has it may", async () => {
    const { body } = await api.get("/setup/stages");
    await api.post("/setup/stages", {
      ...body,
      stages: body.stages.map((s: { key: string }) => (s.key === "Qualified" ? { ...s, by: "movers" } : s)),
    });
    const { body: lead } = await api.post("/leads", {
      name: "Ana",
      phone: "+13035550990",
      route: false,
      ownerId: "p_mara",
    });
    const refused = await as("p_mara", "POST", `/leads/${lead.id}/stage`, { stage: "Qualified" });
    expect([refused.status, refused.body.code]).toEqual([409, "not-yours-to-move"]);
    expect((await as("p_ines", "POST", `/leads/${lead.id}/stage`, { stage: "Qualified" })).status).toBe(200);
  });
});

describe("other systems are an administrator’s", () => {
  it.each(["p_ines", "p_greta"])("%s neither sees nor changes them", async (person) => {
    for (const path of ["/setup/hooks", "/hooks/deliveries"])
      expect((await as(person, "GET", path)).status).toBe(403);
    expect((await as(person, "POST", "/setup/hooks", { url: "https://x.example", events: [] })).status).toBe(
      403,
    );
    expect((await as(person, "POST", "/hooks/deliveries/msg_1/resend")).status).toBe(403);
  });
  it("a secret is shown as it is made, and by no later call", async () => {
    const saved = await api.post("/setup/hooks", {
      name: "A",
      url: "https://x.example/in",
      events: ["deal.won"],
    });
    expect(saved.body.secret).toMatch(/^whsec_/);
    const later = await api.get("/setup/hooks");
    expect(JSON.stringify(later.body)).not.toContain(saved.body.secret.slice(6));
    const { body: audit } = await api.get("/audit?limit=20");
    expect(JSON.stringify(audit)).not.toContain(saved.body.secret.slice(6));
  });
});

describe("what is sent is bounded and said to be wrong by its field", () => {
  it.each([
    [
      "/setup/worksheets",
      {
        worksheets: [{ name: "x", lines: [{ key: "a", name: "A", formula: "1+".repeat(400) }], total: "a" }],
      },
    ],
    ["/setup/stages", { stages: [{ name: "x".repeat(600) }], reasons: [] }],
    ["/setup/stages", { stages: Array.from({ length: 61 }, (_, i) => ({ name: `S${i}` })), reasons: [] }],
    ["/setup/questions", { questionSets: [{ name: "x", questions: [{ words: "x", field: "no such" }] }] }],
    ["/setup/hooks", { url: "https://x.example", events: ["everything"] }],
    ["/deals", { name: "x".repeat(501) }],
  ])("%s", async (path, body) => {
    const refused = await api.post(path, body);
    expect(refused.status).toBe(422);
    expect(refused.body.errors.length).toBeGreaterThan(0);
  });

  it.each([
    { value: "1e99" },
    { value: -5 },
    { value: "DROP TABLE records" },
    { expectedOn: "9999-99-99" },
    { lines: [{ product: "barrel", quantity: 1e9, price: 1 }] },
    { nextStep: { note: "x", dueAt: "yesterday" } },
    { ownerId: "__proto__" },
    { stage: "constructor" },
  ])("a deal with %j", async (more) => {
    const { dealId } = await over("p_mara");
    const refused = await api.post(`/deals/${dealId}`, more);
    expect(refused.status).toBe(422);
    expect((await api.get(`/deals/${dealId}`)).body.value).toBe(100);
  });

  it("an answer by a name of JavaScript’s own is no field", async () => {
    const { body: lead } = await api.post("/leads", { name: "Ana", phone: "+13035550991", route: false });
    for (const field of ["constructor", "toString", "own.__proto__"]) {
      const refused = await api.post(`/leads/${lead.id}/questions`, {
        answers: JSON.parse(`{"${field}": "x"}`),
      });
      expect([field, refused.status, refused.body.code]).toEqual([field, 422, expect.any(String)]);
    }
    // Zod lets no such key into the body at all, so here there is nothing to answer.
    const dropped = await api.post(
      `/leads/${lead.id}/questions`,
      JSON.parse('{"answers":{"__proto__":"x"}}'),
    );
    expect(dropped.status).toBe(200);
    expect(Object.keys((await api.get(`/leads/${lead.id}`)).body.facts.own)).not.toContain("__proto__");
    expect((await api.get(`/leads/${lead.id}`)).status).toBe(200);
  });
});

describe("the page of an estimate", () => {
  it("is nobody’s without its signature, shows no draft, and sends nothing twice", async () => {
    const { estimateId } = await over("p_mara");
    expect((await fetch(`${server().origin}/e/${estimateId}`)).status).toBe(404);
    expect((await fetch(`${server().origin}/e/${estimateId}.${"x".repeat(22)}`)).status).toBe(404);
    expect((await fetch(`${server().origin}/e/${estimateId}.${"x".repeat(22)}?pdf`)).status).toBe(404);
  });

  it("a writing call with a key is done once: two presses make one estimate", async () => {
    const { body: lead } = await api.post("/leads", { name: "Ana", phone: "+13035550992", route: false });
    const send = () =>
      fetch(`${server().origin}/api/v1/leads/${lead.id}/estimates`, {
        method: "POST",
        headers: {
          authorization: "Bearer rehearsal",
          "content-type": "application/json",
          "idempotency-key": "once-only",
        },
        body: JSON.stringify({ worksheet: "ws_sauna", inputs: {} }),
      }).then((r) => r.json() as Promise<{ id: string }>);
    const first = await send();
    const second = await send();
    expect(second.id).toBe(first.id);
    expect((await api.get(`/leads/${lead.id}/estimates`)).body.estimates).toHaveLength(1);
  });
});

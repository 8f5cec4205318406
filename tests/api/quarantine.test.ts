import { describe, expect, it } from "vitest";
import { rehearsal } from "../support/rehearsal.ts";

/** What waits in quarantine, and what a person does with it day by day. */

const { api } = rehearsal();

let n = 0;
/** An inquiry nobody could be reached by, held by the website source. */
async function held(more: object = {}): Promise<string> {
  const sent = { name: "Tove Lafontaine", phone: "n/a", product: "barrel", message: "Which wood?", ...more };
  const { body } = await api.post("/intake/plan-your-sauna", { ...sent, submission_id: `q${++n}` });
  expect(body).toMatchObject({ quarantined: true, leadId: null });
  return body.inquiryId;
}
const waiting = async () =>
  (await api.get("/quarantine?limit=200")).body.items as {
    id: string;
    insistable: boolean;
    seems: Record<string, string>;
  }[];
const isWaiting = async (id: string) => (await waiting()).some((one) => one.id === id);
const many = (act: string, ...ids: string[]) => api.post("/quarantine/many", { ids, act });

describe("an inquiry in quarantine", () => {
  it("says who it seems to be from, as they wrote it", async () => {
    const id = await held();
    expect((await waiting()).find((one) => one.id === id)?.seems).toEqual({
      name: "Tove Lafontaine",
      phone: "n/a",
      product: "barrel",
      message: "Which wood?",
    });
  });
  it("is taken in as somebody corrected it, with what came kept as it came", async () => {
    const id = await held();
    const fields = {
      name: "Tove Lafontaine",
      phone: "303-555-6100",
      product: "barrel",
      message: "Which wood?",
    };
    const taken = (await api.post(`/quarantine/${id}/correct`, { fields })).body;
    expect(taken).toMatchObject({ quarantined: false, reason: null });
    const lead = (await api.get(`/leads/${taken.leadId}`)).body;
    expect(lead).toMatchObject({ name: "Tove Lafontaine", phones: ["+13035556100"] });
    expect(lead.facts).toMatchObject({ product: "barrel", message: "Which wood?" });
    expect(lead.handOff ?? lead.ownerId).not.toBeNull();
    expect(JSON.stringify((await api.get(`/inquiries/${id}/original`)).body)).toContain("n/a");
    expect(await isWaiting(id)).toBe(false);
    // It is known by now: the next correction of the same person joins their lead.
    const again = await held();
    const joined = (await api.post(`/quarantine/${again}/correct`, { fields })).body;
    expect(joined.leadId).toBe(taken.leadId);
  });
  it("corrected to what still can’t be read stays, with its reason, and nothing is changed", async () => {
    const id = await held();
    const before = (await waiting()).find((one) => one.id === id);
    const answer = (await api.post(`/quarantine/${id}/correct`, { fields: { name: "Tove", phone: "12" } }))
      .body;
    expect(answer).toMatchObject({ quarantined: true, leadId: null, reason: expect.stringContaining("12") });
    expect((await waiting()).find((one) => one.id === id)).toEqual(before);
  });
  it("set aside as no inquiry waits no longer, can be put back, and both are in the list of changes", async () => {
    const [a, b] = [await held(), await held()];
    expect((await many("dismiss", a, b, "inq_none")).body).toEqual({ done: 2, left: 1 });
    expect([await isWaiting(a), await isWaiting(b)]).toEqual([false, false]);
    // Set aside, it can be neither taken in nor corrected.
    expect((await api.post(`/quarantine/${a}/replay`)).status).toBe(404);
    expect((await many("take", a)).body).toEqual({ done: 0, left: 1 });
    expect((await many("put-back", a)).body).toEqual({ done: 1, left: 0 });
    expect([await isWaiting(a), await isWaiting(b)]).toEqual([true, false]);
    const changes = (await api.get("/audit?about=inquir&limit=5")).body.items.map(
      (c: { what: string }) => c.what,
    );
    expect(changes).toContain("2 inquiries set aside as no inquiry");
    expect(changes).toContain("an inquiry put back into quarantine");
  });
  it("that was taken in is no longer anybody’s to set aside", async () => {
    const id = await held();
    await api.post(`/quarantine/${id}/correct`, { fields: { phone: "303-555-6101" } });
    expect((await many("dismiss", id)).body).toEqual({ done: 0, left: 1 });
    expect((await many("put-back", id)).body).toEqual({ done: 0, left: 1 });
    expect((await api.post(`/quarantine/${id}/correct`, { fields: { phone: "303-555-6102" } })).status).toBe(
      404,
    );
  });
  it("is corrected once when two do it at the same moment", async () => {
    const id = await held();
    const fields = { phone: "303-555-6103" };
    const both = await Promise.all([1, 2].map(() => api.post(`/quarantine/${id}/correct`, { fields })));
    expect(both.map((r) => r.status).sort()).toEqual([200, 404]);
  });
  it("of a paused source is taken in by whoever corrects it, and a chat goes on as theirs", async () => {
    const made = (await api.post("/sources", { name: "Chat held", channel: "chat" })).body;
    await api.post(`/sources/${made.id}`, { state: "live" });
    const say = (message: string) =>
      api.post(`/intake/${made.key}`, { conversation_id: "c9", message_id: message, message, name: "Odile" });
    const { inquiryId } = (await say("What is the price?")).body;
    await api.post(`/sources/${made.id}`, { state: "paused" });
    const fields = { name: "Odile", phone: "303-555-6110", message: "What is the price?" };
    const taken = (await api.post(`/quarantine/${inquiryId}/correct`, { fields })).body;
    expect(taken).toMatchObject({ quarantined: false });
    await api.post(`/sources/${made.id}`, { state: "live" });
    expect((await say("And with delivery?")).body.leadId).toBe(taken.leadId);
  });
});

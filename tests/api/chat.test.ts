import { describe, expect, it } from "vitest";
import { rehearsal } from "../support/rehearsal.ts";

/** A chat on somebody else's page, heard by webhook. */

const { api } = rehearsal();

async function openChat(name: string): Promise<string> {
  const made = (await api.post("/sources", { name, channel: "chat" })).body;
  expect((await api.post(`/sources/${made.id}`, { state: "live" })).status).toBeLessThan(300);
  return made.key;
}
let n = 0;
const say = (key: string, conversation: string, message: string, more: object = {}) =>
  api.post(`/intake/${key}`, {
    conversation_id: conversation,
    message,
    message_id: `m${++n}`,
    name: "Odile Marchetti",
    ...more,
  });

describe("a chat", () => {
  it("makes a lead, and what follows in the same conversation is that lead’s", async () => {
    const key = await openChat("Chat on the shop");
    const first = await say(key, "c1", "Do you ship to Reno?", { phone: "+13035557001" });
    expect(first.status).toBe(202);
    const next = await say(key, "c1", "STOP me if I ask too much: is the pump in it?");
    expect(next.body.leadId).toBe(first.body.leadId);
    expect(next.body.matched).toBe("sure");
    const lead = (await api.get(`/leads/${first.body.leadId}`)).body;
    expect(lead.replyWaiting).not.toBeNull();
    expect(lead.inquiries).toBe(1);
    const { items } = (await api.get(`/leads/${first.body.leadId}/events?limit=100`)).body;
    const said = items.filter((e: { kind: string }) => e.kind === "message-in");
    expect(said).toMatchObject([
      { summary: "They wrote in the chat", data: { body: "STOP me if I ask too much: is the pump in it?" } },
    ]);
  });
  it("sent again is heard once", async () => {
    const key = await openChat("Chat heard once");
    const { body } = await say(key, "c2", "Hello?", { email: "odile.once@example.com" });
    const twice = { message_id: "same" };
    await say(key, "c2", "Still there?", twice);
    await say(key, "c2", "Still there?", twice);
    const { items } = (await api.get(`/leads/${body.leadId}/events?limit=100`)).body;
    expect(items.filter((e: { kind: string }) => e.kind === "message-in")).toHaveLength(1);
  });
  it("of the same name at another source is another conversation", async () => {
    const [here, there] = [await openChat("Chat here"), await openChat("Chat there")];
    const a = await say(here, "c3", "One", { phone: "+13035557003" });
    const b = await say(there, "c3", "Two", { phone: "+13035557004" });
    expect(b.body.leadId).not.toBe(a.body.leadId);
  });
  it("with nobody who could be answered waits in quarantine, whole", async () => {
    const key = await openChat("Chat with nobody");
    const { body } = await say(key, "c4", "What is the price?");
    expect(body).toMatchObject({ quarantined: true, leadId: null });
    const original = await api.get(`/inquiries/${body.inquiryId}/original`);
    expect(JSON.stringify(original.body)).toContain("What is the price?");
  });
});

import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { MemoryDesk } from "../desk/memory.ts";
import { addNote } from "../desk/notes.ts";
import { receive } from "../desk/receive.ts";
import { understand } from "../intake/understand.ts";
import { ALERTS, URGENT } from "./alerts.ts";
import { personOf, type Setup } from "./setup.ts";
import { alertAt, waysFor } from "./told.ts";

const luc = personOf(tarnholt, "p_luc")!;
const NINE = Date.parse("2026-03-04T16:00:00Z");
/** Wednesday, half past nine at night in Halifax, where Luc works until eight. */
const EVENING = Date.parse("2026-03-05T01:30:00Z");

function lead(desk: MemoryDesk): string {
  const source = desk.setup.sources[0]!;
  const understood = understand(source, desk.setup.policies, { name: "Ana", phone: "303 555 0123" });
  if (!understood.ok) throw new Error(understood.reason);
  const decided = desk.commit(
    receive(desk.look(null), {
      inquiryId: "i",
      source,
      facts: understood.facts,
      matchedOn: null,
      by: { kind: "lead" },
      goesTo: { kind: "list" },
    }),
  );
  if (!decided.ok) throw new Error(decided.problem.detail);
  return decided.plan.leadId;
}

describe("how people hear of things", () => {
  it("is the company's way, or their own where they have chosen", () => {
    expect(waysFor(tarnholt, luc, "reply")).toEqual(["chat", "browser"]);
    expect(waysFor(tarnholt, { ...luc, alerts: { reply: ["email"] } }, "reply")).toEqual(["email"]);
    expect(waysFor(tarnholt, { ...luc, alerts: { reply: [] } }, "reply")).toEqual([]);
    for (const about of Object.keys(ALERTS)) expect(tarnholt.policies.alerts).toHaveProperty(about);
  });
  it("waits for their hours, unless a bell is about to ring", () => {
    expect(alertAt(luc, "mentioned", NINE)).toBe(NINE);
    // Nine on Thursday in Halifax.
    expect(alertAt(luc, "mentioned", EVENING)).toBe(Date.parse("2026-03-05T13:00:00Z"));
    for (const about of URGENT) expect(alertAt(luc, about, EVENING)).toBe(EVENING);
    expect(alertAt({ ...luc, offDuty: true }, "mentioned", EVENING)).toBe(EVENING);
  });
  it("makes one message a way, held until then, and none where nothing is chosen", () => {
    const people = tarnholt.people.map((p) =>
      p.id === "p_luc"
        ? { ...p, alerts: { mentioned: ["email", "text"] as const } }
        : { ...p, alerts: { mentioned: [] } },
    );
    const setup: Setup = { ...tarnholt, people };
    const desk = new MemoryDesk(setup, EVENING);
    const id = lead(desk);
    const before = desk.alerts.length;
    desk.commit(addNote(desk.look(id), "p_ines", "@Luc and @Mara, see here"));
    const told = desk.alerts.slice(before);
    expect(told.map((a) => `${a.channel} ${a.to}`)).toEqual([
      "text +17205550175",
      "email luc@tarnholt.example",
    ]);
    for (const { notBefore } of told) expect(notBefore).toBe(Date.parse("2026-03-05T13:00:00Z"));
    expect(told[1]).toMatchObject({ subject: "You are named in a note on Ana" });
  });
});

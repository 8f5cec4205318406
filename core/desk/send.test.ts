import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { understand } from "../intake/understand.ts";
import type { ReplyPolicy } from "../policy/answering.ts";
import type { Setup } from "../policy/setup.ts";
import { hearFrom, unsubscribe } from "./hear.ts";
import { MemoryDesk } from "./memory.ts";
import { addNote, mentionsIn } from "./notes.ts";
import { receive } from "./receive.ts";
import { unschedule } from "./send.ts";
import { undo } from "./undo.ts";
import { logTry, markStop, writeTo } from "./work.ts";

const NINE = Date.parse("2026-03-04T16:00:00Z");
const NIGHT = Date.parse("2026-03-04T06:00:00Z");
const MINUTE = 60_000;
const ANA = { name: "Ana Ruiz", phone: "303 555 0123", email: "ana@example.com", product: "barrel" };

let count = 0;
function inquire(
  desk: MemoryDesk,
  fields: Record<string, string> = ANA,
  leadId: string | null = null,
): string {
  const source = desk.setup.sources[0]!;
  const understood = understand(source, desk.setup.policies, fields);
  if (!understood.ok) throw new Error(understood.reason);
  const decided = desk.commit(
    receive(desk.look(leadId), {
      inquiryId: `inq_${++count}`,
      source,
      facts: understood.facts,
      matchedOn: leadId ? "phone number" : null,
      by: { kind: "lead" },
      goesTo: { kind: "rules" },
    }),
  );
  if (!decided.ok) throw new Error(decided.problem.detail);
  return decided.plan.leadId;
}
const kinds = (desk: MemoryDesk, id: string) => desk.events.get(id)!.map((e) => e.kind);
const sent = (desk: MemoryDesk) => desk.messages.map((m) => `${m.purpose} ${m.channel}`);
const replying = (change: Partial<{ [K in keyof ReplyPolicy]: Partial<ReplyPolicy[K]> }>): Setup => {
  const { policies } = tarnholt;
  const { usual } = policies.replies;
  const own = { email: { ...usual.email, ...change.email }, text: { ...usual.text, ...change.text } };
  return { ...tarnholt, policies: { ...policies, replies: { ...policies.replies, usual: own } } };
};

describe("the automatic first reply", () => {
  it("goes by both ways at once in the day, and does not answer the bell", () => {
    const desk = new MemoryDesk(tarnholt, NINE);
    const id = inquire(desk);
    expect(sent(desk)).toEqual(["first-reply email", "first-reply text"]);
    expect(desk.leads.get(id)).toMatchObject({
      tries: 0,
      bell: { state: "waiting" },
      automatic: [NINE, NINE],
    });
  });
  it("holds the text of the night until eight, says why, and sends it once", () => {
    const desk = new MemoryDesk(tarnholt, NIGHT);
    const id = inquire(desk);
    expect(sent(desk)).toEqual(["first-reply email"]);
    const waits = desk.events.get(id)!.find((e) => e.kind === "scheduled");
    expect(waits?.data).toMatchObject({ reason: expect.stringContaining("It is 23:00 where they are") });
    desk.advance(10 * 60 * MINUTE);
    expect(sent(desk)).toEqual(["first-reply email", "first-reply text"]);
    expect(desk.leads.get(id)!.scheduled).toEqual([]);
    expect(desk.events.get(id)!.findLast((e) => e.kind === "message-out")!.at).toBe(
      Date.parse("2026-03-04T15:00:00Z"),
    );
  });
  it("waits as long as it is set to, and is weighed again when its time has come", () => {
    const desk = new MemoryDesk(replying({ email: { delayMinutes: 90 }, text: { on: false } }), NINE);
    const id = inquire(desk);
    expect(sent(desk)).toEqual([]);
    desk.commit(unsubscribe(desk.look(id)));
    expect(kinds(desk, id)).toContain("unscheduled");
    desk.advance(120 * MINUTE);
    expect(sent(desk)).toEqual([]);
  });
  it("chooses the template by condition, and says what is missing when none fits", () => {
    const when = { field: "product" as const, is: "equal" as const, value: "lodge" };
    const choices = [{ when, templateId: "first-email" }];
    const desk = new MemoryDesk(replying({ email: { choices }, text: { on: false } }), NINE);
    const id = inquire(desk);
    expect(sent(desk)).toEqual([]);
    expect(desk.events.get(id)!.find((e) => e.kind === "held-back")?.data).toMatchObject({
      reason: "No template fits this inquiry.",
    });
    inquire(desk, { ...ANA, phone: "303 555 0124", product: "lodge" });
    expect(sent(desk)).toEqual(["first-reply email"]);
  });
  it("is shorter for who asks again within a day, and whole again after it", () => {
    const desk = new MemoryDesk(tarnholt, NINE);
    const id = inquire(desk);
    desk.advance(60 * MINUTE);
    inquire(desk, ANA, id);
    expect(sent(desk).slice(2)).toEqual(["first-reply text"]);
    expect(desk.messages.at(-1)!.body).toMatch(/^Thank you, Ana/);
    desk.advance(25 * 60 * MINUTE);
    inquire(desk, ANA, id);
    expect(sent(desk).slice(3)).toEqual(["first-reply email", "first-reply text"]);
  });
  it("stops at the day's ceiling, whatever comes in", () => {
    const { replies } = tarnholt.policies;
    const policies = { ...tarnholt.policies, replies: { ...replies, again: { ...replies.again, hours: 0 } } };
    const desk = new MemoryDesk({ ...tarnholt, policies }, NINE);
    const id = inquire(desk);
    for (let i = 0; i < 9; i++) {
      desk.advance(MINUTE);
      inquire(desk, ANA, id);
    }
    expect(sent(desk)).toHaveLength(tarnholt.policies.restraint.perDay);
    expect(kinds(desk, id).filter((k) => k === "held-back").length).toBe(
      20 - tarnholt.policies.restraint.perDay,
    );
  });
});

describe("opting out", () => {
  const write = (desk: MemoryDesk, id: string, body: string) =>
    desk.commit(hearFrom(desk.look(id), { channel: "text", from: "+13035550123", subject: null, body }));

  it("by a word stops texts at once, is answered once, and nobody waits for a reply", () => {
    const desk = new MemoryDesk(tarnholt, NINE);
    const id = inquire(desk);
    write(desk, id, "Stop please");
    write(desk, id, "STOP");
    expect(sent(desk).slice(2)).toEqual(["opt-answer text"]);
    expect(desk.messages.at(-1)!.body).toBe(
      "You will get no more texts from Tarnholt Bathworks. Write START if you want them again.",
    );
    expect(desk.leads.get(id)).toMatchObject({
      replyWaiting: null,
      stops: [{ channel: "text", how: "word" }],
    });
    const refused = writeTo(desk.look(id), { personId: "p_mara", channel: "text", body: "Hi", anyway: true });
    expect(refused).toMatchObject({ ok: false, problem: { status: 409 } });
    expect(markStop(desk.look(id), "p_mara", "text", false, "")).toMatchObject({ ok: false });
    write(desk, id, "START");
    expect(desk.leads.get(id)!.stops).toEqual([]);
    expect(desk.messages.at(-1)!.body).toMatch(/you get our texts again/);
  });
  it("drops what was held for the morning", () => {
    const desk = new MemoryDesk(tarnholt, NIGHT);
    const id = inquire(desk);
    write(desk, id, "stop");
    desk.advance(12 * 60 * MINUTE);
    expect(sent(desk)).toEqual(["first-reply email", "opt-answer text"]);
  });
  it("is told in the lead's language", () => {
    const desk = new MemoryDesk(tarnholt, NINE);
    const id = inquire(desk, { name: "Luc", phone: "418 555 0100" });
    write(desk, id, "ARRÊT");
    expect(desk.messages.at(-1)!.body).toMatch(/^Vous ne recevrez plus/);
  });
});

describe("a first reply that waits", () => {
  const replies = (desk: MemoryDesk) => desk.messages.filter((m) => m.purpose === "first-reply");
  it("by mail keeps the hours that are chosen for mail, as by text", () => {
    for (const hours of ["any", "allowed"] as const) {
      const desk = new MemoryDesk(
        replying({ email: { hours, delayMinutes: 0 }, text: { on: false } }),
        NIGHT,
      );
      const id = inquire(desk, { email: "night@example.com" });
      expect(replies(desk)).toHaveLength(hours === "any" ? 1 : 0);
      const [waits] = desk.leads.get(id)!.scheduled;
      expect(waits === undefined).toBe(hours === "any");
      desk.advance(24 * 60 * MINUTE);
      expect(replies(desk)).toHaveLength(1);
    }
  });
  it("does not go once they have written, been reached or booked, and the thread says why", () => {
    const meanwhile: Record<string, (desk: MemoryDesk, id: string) => unknown> = {
      "They have written or called meanwhile.": (desk, id) =>
        desk.commit(
          hearFrom(desk.look(id), { channel: "text", from: "+13035550123", subject: null, body: "Call me" }),
        ),
      "They have been reached meanwhile.": (desk, id) =>
        desk.commit(logTry(desk.look(id), { personId: "p_mara", channel: "call", outcome: "reached" })),
    };
    for (const [why, does] of Object.entries(meanwhile)) {
      const desk = new MemoryDesk(
        replying({ email: { hours: "any", delayMinutes: 60 }, text: { on: false } }),
        NINE,
      );
      const id = inquire(desk, { email: "later@example.com" });
      expect(desk.leads.get(id)!.scheduled).toHaveLength(1);
      does(desk, id);
      desk.advance(61 * MINUTE);
      expect(replies(desk)).toEqual([]);
      expect(desk.leads.get(id)!.scheduled).toEqual([]);
      const held = desk.events.get(id)!.find((e) => e.kind === "held-back");
      expect(held?.data).toMatchObject({ reason: why });
    }
  });
  it("goes although they were reached before they asked again", () => {
    const desk = new MemoryDesk(
      replying({ email: { hours: "any", delayMinutes: 60 }, text: { on: false } }),
      NINE,
    );
    const id = inquire(desk, { email: "again@example.com" });
    desk.commit(logTry(desk.look(id), { personId: "p_mara", channel: "call", outcome: "reached" }));
    desk.advance(30 * 24 * 60 * MINUTE);
    const before = replies(desk).length;
    inquire(desk, { email: "again@example.com" }, id);
    desk.advance(61 * MINUTE);
    expect(replies(desk)).toHaveLength(before + 1);
  });
});

describe("writing by hand", () => {
  it("can be called back until it leaves, and the lead is as before", () => {
    const desk = new MemoryDesk(tarnholt, NINE);
    const id = inquire(desk);
    const before = desk.leads.get(id)!;
    const written = desk.commit(
      writeTo(desk.look(id), { personId: "p_ines", channel: "text", body: "Hello", callBackSeconds: 10 }),
    );
    if (!written.ok) throw new Error(written.problem.detail);
    expect(desk.leads.get(id)).toMatchObject({ tries: 1, bell: { state: "answered" } });
    expect(desk.messages.at(-1)!.notBefore).toBe(NINE + 10_000);
    const { actId } = written.plan;
    const late = { ...desk.look(id), now: NINE + 10_000 };
    expect(undo(late, "p_ines", actId, desk.events.get(id)!)).toMatchObject({ ok: false });
    const back = desk.commit(undo(desk.look(id), "p_ines", actId, desk.events.get(id)!));
    expect(back.ok && back.plan.withdrawn).toEqual([desk.messages.at(-1)!.id]);
    expect(desk.leads.get(id)).toMatchObject({ tries: before.tries, bell: before.bell });
  });
  it("for later goes at its time and is the try of that moment; it can be taken back before", () => {
    const desk = new MemoryDesk(tarnholt, NINE);
    const id = inquire(desk);
    const later = { personId: "p_ines", channel: "text" as const, body: "Later", sendAt: NINE + 3 * MINUTE };
    desk.commit(writeTo(desk.look(id), later));
    expect(desk.leads.get(id)).toMatchObject({ tries: 0, bell: { state: "waiting" } });
    desk.advance(4 * MINUTE);
    expect(desk.messages.at(-1)).toMatchObject({ purpose: "reply", body: "Later" });
    expect(desk.leads.get(id)).toMatchObject({ tries: 1, bell: { state: "answered" }, scheduled: [] });
    desk.commit(writeTo(desk.look(id), { ...later, sendAt: desk.now + MINUTE }));
    const [waits] = desk.leads.get(id)!.scheduled;
    desk.commit(unschedule(desk.look(id), "p_ines", waits!.id));
    const before = desk.messages.length;
    desk.advance(5 * MINUTE);
    expect(desk.messages.slice(before).filter((m) => m.purpose === "reply")).toEqual([]);
    expect(unschedule(desk.look(id), "p_ines", waits!.id)).toMatchObject({ ok: false });
  });
  it("is one and the same try now and later: it answers what it counts for, and sets the same next step", () => {
    const calls = { ...tarnholt, policies: { ...tarnholt.policies, counts: ["call" as const] } };
    for (const setup of [tarnholt, calls]) {
      const stands = (sendAt: number | null) => {
        const desk = new MemoryDesk(setup, NINE);
        const id = inquire(desk);
        const message = { personId: "p_ines", channel: "text" as const, body: "Hello", sendAt };
        if (sendAt) desk.commit(writeTo(desk.look(id), message));
        desk.advance(2 * MINUTE);
        if (!sendAt) desk.commit(writeTo(desk.look(id), message));
        const { tries, bell, nextStep, ownerId } = desk.leads.get(id)!;
        return { tries, bell: bell?.state, nextStep, ownerId };
      };
      const now = stands(null);
      expect(stands(NINE + 2 * MINUTE)).toEqual(now);
      expect(now.bell).toBe(setup === calls ? "waiting" : "answered");
      expect(now.nextStep).not.toBeNull();
    }
  });
  it("is warned in a quiet hour unless they go on", () => {
    const desk = new MemoryDesk(tarnholt, NIGHT);
    const id = inquire(desk);
    const message = { personId: "p_ines", channel: "text" as const, body: "Hi" };
    expect(writeTo(desk.look(id), { ...message, anyway: false })).toMatchObject({ ok: false });
    expect(writeTo(desk.look(id), { ...message, anyway: true }).ok).toBe(true);
  });
});

describe("naming colleagues in a note", () => {
  it("tells who is named, by whole or first name, and nobody else", () => {
    expect(mentionsIn(tarnholt, "@Mara can you look? @noor castellanos knows. x@ravi.example")).toEqual([
      "p_mara",
      "p_noor",
    ]);
    const desk = new MemoryDesk(tarnholt, NINE);
    const id = inquire(desk);
    const before = desk.alerts.length;
    desk.commit(addNote(desk.look(id), "p_ines", "Twins in autumn, @Luc"));
    expect(desk.alerts.slice(before).map((a) => `${a.purpose} ${a.personId}`)).toEqual(["mentioned p_luc"]);
  });
});

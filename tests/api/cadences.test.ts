import { describe, expect, it } from "vitest";
import { rehearsal } from "../support/rehearsal.ts";

/** Cadences as an integrator uses them: by HTTP alone, time moved by the rehearsal. */

const { api } = rehearsal();
let made = 0;

const to = (iso: string) => api.post("/rehearsal/clock", { to: iso });
const advance = (by: string) => api.post("/rehearsal/clock", { advance: by });

/** A lead of Mara’s in the Eastern zone that was reached. */
async function lead(): Promise<{ id: string; phone: string; email: string }> {
  const n = ++made;
  const phone = `+1617555${String(100 + n).padStart(4, "0")}`;
  const email = `ana${n}@example.com`;
  const { body } = await api.post("/leads", {
    name: `Ana Ruiz ${n}`,
    phone,
    email,
    facts: { postal_code: "02139" },
    route: false,
    ownerId: "p_mara",
  });
  await api.post(`/leads/${body.id}/tries`, { personId: "p_mara", channel: "call", outcome: "reached" });
  await api.post(`/leads/${body.id}/next-step`, { kind: "task", note: "–", dueAt: "2027-01-01T00:00:00Z" });
  return { id: body.id, phone, email };
}

async function outside(address: string): Promise<{ at: string; channel: string; what: string }[]> {
  const { body } = await api.get("/rehearsal/outside?limit=5000");
  return body.items
    .filter((m: { to: string }) => m.to === address)
    .map((m: { at: string; channel: string; subject: string; body: string }) => ({
      at: new Date(m.at).toISOString(),
      channel: m.channel,
      what: m.channel === "email" ? m.subject : m.body,
    }));
}

const FOLLOW_UP = {
  name: "Follow up",
  touches: [
    { kind: "email", after: "PT0M", from: "start", subject: "At once", body: "Hello" },
    { kind: "text", after: "PT5M", from: "start", body: "Five minutes on" },
    {
      kind: "email",
      after: "P1D",
      from: "start",
      at: "09:00",
      zone: "lead",
      subject: "Next day",
      body: "Hello",
    },
    {
      kind: "call",
      after: "P4D",
      from: "start",
      days: "weekdays",
      count: "all-days",
      note: "How did it go?",
    },
  ],
  stops: ["reply", "call-back", "reached", "booked", "won", "closed"],
  spreadMinutes: 0,
  precedence: 10,
};

const AGAIN: object = JSON.parse('{"then": {"again": {"from": 1, "times": null}}}');

async function published(plan: object): Promise<string> {
  const draft = await api.post("/setup/cadences", plan);
  expect(draft.status).toBe(200);
  expect(draft.body).toMatchObject({ state: "draft", version: 0, problem: null });
  const live = await api.post(`/setup/cadences/${draft.body.id}/publish`);
  expect(live.body).toMatchObject({ state: "live", version: 1 });
  return draft.body.id;
}

describe("a published cadence", () => {
  it("puts out exactly what the preview told, at exactly those moments, and the call is the next step", async () => {
    await to("2026-03-04T17:30:00Z");
    const id = await published(FOLLOW_UP);
    const { id: leadId, phone, email } = await lead();
    // The rehearsal’s clock runs on: what is to be exact begins at a moment that is named.
    const START = "2026-03-04T18:30:00Z";
    await advance("PT50M");
    const preview = await api.post(`/setup/cadences/${id}/preview`, { startAt: START, leadId });
    expect(preview.status).toBe(200);
    const promised = preview.body.touches.map((t: { at: string }) => new Date(t.at).toISOString());
    expect(promised).toEqual([
      "2026-03-04T18:30:00.000Z",
      "2026-03-04T18:35:00.000Z",
      // Nine in Cambridge, Massachusetts, where they are.
      "2026-03-05T14:00:00.000Z",
      // Four days on is a Sunday: Monday, at the desk’s wall time, which clocks moved in between.
      "2026-03-09T17:30:00.000Z",
    ]);
    const begun = await api.post(`/leads/${leadId}/cadences`, { cadenceId: id, startAt: START });
    expect(begun.body.cadences).toMatchObject([
      {
        cadenceId: id,
        name: "Follow up",
        version: 1,
        state: "running",
        next: { n: 1, kind: "email" },
        reason: null,
      },
    ]);
    await api.post(`/leads/${leadId}/cadences`, { cadenceId: id }).then((r) => expect(r.status).toBe(409));
    await to("2026-03-09T17:30:00Z");
    const texts = (await outside(phone)).filter((m) => m.what === "Five minutes on");
    const mails = (await outside(email)).filter((m) => ["At once", "Next day"].includes(m.what));
    expect([mails[0], ...texts, mails[1]].map((m) => m?.at)).toEqual(promised.slice(0, 3));
    expect(mails).toHaveLength(2);
    const { body } = await api.get(`/leads/${leadId}`);
    expect(body.nextStep).toMatchObject({ kind: "call", note: "How did it go?", cadence: "Follow up" });
    expect(new Date(body.nextStep.dueAt).toISOString()).toBe(promised[3]);
  });

  it("is stopped by a reply: nothing goes after it, though a touch was due in the same second", async () => {
    await to("2026-03-11T17:00:00Z");
    const { body: all } = await api.get("/setup/cadences");
    const { id } = all.cadences.find((c: { name: string }) => c.name === "Follow up");
    const { id: leadId, phone, email } = await lead();
    await advance("PT1H");
    await api.post(`/leads/${leadId}/cadences`, { cadenceId: id });
    await advance("PT4M59S");
    await api.post("/rehearsal/text", {
      from: phone,
      to: "+17205550100",
      body: "Yes, call me tomorrow at ten",
    });
    await advance("P6D");
    expect((await outside(phone)).filter((m) => m.what === "Five minutes on")).toEqual([]);
    expect((await outside(email)).filter((m) => m.what === "Next day")).toEqual([]);
    const { body } = await api.get(`/leads/${leadId}`);
    expect(body.cadences[0]).toMatchObject({ state: "stopped", next: null, reason: "they wrote" });
    expect(body.replyWaiting).not.toBeNull();
    const figures = await api.get(`/cadences/${id}/figures`);
    expect(figures.body.versions[0]).toMatchObject({ version: 1, in: 1, began: 2, stopped: { reply: 1 } });
    expect(figures.body.versions[0].touches[0]).toMatchObject({ n: 1, sent: 2, replied: 1, delivered: 2 });
    const behind = await api.get(`/cadences/${id}/behind?version=1&n=1&key=replied`);
    expect(behind.body.items.map((l: { id: string }) => l.id)).toEqual([leadId]);
  });

  it("is paused, moved, skipped, resumed and stopped by hand, each taken back by its act", async () => {
    const { body: all } = await api.get("/setup/cadences");
    const { id } = all.cadences.find((c: { name: string }) => c.name === "Follow up");
    const { id: leadId } = await lead();
    const { body: begun } = await api.post(`/leads/${leadId}/cadences`, {
      cadenceId: id,
      startAt: "2026-04-01T15:00:00Z",
    });
    const run = `/leads/${leadId}/cadences/${begun.cadences[0].runId}`;
    const steer = async (wish: object) => {
      const { status, body } = await api.post(run, wish);
      expect(status, JSON.stringify(body)).toBe(200);
      return body;
    };
    const paused = await steer({ do: "pause", until: "2026-04-20T15:00:00Z", reason: "On holiday" });
    expect(paused.cadences[0]).toMatchObject({ state: "paused", reason: "paused by hand" });
    const undone = await api.post(`/leads/${leadId}/undo`, { actId: paused.actId });
    expect(undone.body.cadences[0]).toMatchObject({ state: "running", next: { n: 1 } });
    expect((await steer({ do: "skip" })).cadences[0].next).toMatchObject({ n: 2 });
    expect((await steer({ do: "move", at: "2026-05-02T15:00:00Z" })).cadences[0].next).toMatchObject({
      at: "2026-05-02T15:00:00.000Z",
    });
    expect((await api.post(run, { do: "move" })).status).toBe(422);
    expect((await api.post(run, { do: "resume" })).status).toBe(409);
    expect((await steer({ do: "stop", reason: "Enough" })).cadences[0]).toMatchObject({ state: "stopped" });
  });

  it("says what keeps a draft from being published, at its place", async () => {
    const bad = async (plan: object) => {
      const { body } = await api.post("/setup/cadences", {
        ...FOLLOW_UP,
        name: `Bad ${Math.random()}`,
        ...plan,
      });
      const refused = await api.post(`/setup/cadences/${body.id}/publish`);
      expect(refused.status).toBe(422);
      await api.post(`/setup/cadences/${body.id}/discard`);
      return refused.body.errors[0].path;
    };
    const touch = (more: object) => ({ touches: [{ kind: "call", after: "P1D", from: "before", ...more }] });
    expect(await bad({ name: " " })).toBe("name");
    expect(await bad({ touches: [] })).toBe("touches");
    expect(await bad(touch({ after: "soon" }))).toBe("touches.0.after");
    expect(await bad(touch({ kind: "email" }))).toBe("touches.0.body");
    expect(await bad(touch({ kind: "email", body: "{{ lead.shoe }}" }))).toBe("touches.0.body");
    expect(await bad(touch({ kind: "close", note: "Boredom" }))).toBe("touches.0.note");
    expect(await bad({ ...touch({ after: "PT1M" }), ...AGAIN })).toBe("then.again");
    expect(await bad({ enters: [{ on: "outcome", value: "none" }] })).toBe("enters.0.value");
  });
});

describe("many at once", () => {
  it("says who would be left out and why, begins with the rest, and doubles nobody", async () => {
    const ids = [(await lead()).id, (await lead()).id, "lead_none"];
    const id = await published({ ...FOLLOW_UP, name: "Many" });
    await api.post(`/leads/${ids[0]}/cadences`, { cadenceId: id });
    const dry = await api.post(`/cadences/${id}/starts`, { ids, dryRun: true });
    expect(dry.body).toEqual({ jobId: null, will: 1, wont: [{ reason: "it is in it already", n: 1 }] });
    const begun = await api.post(`/cadences/${id}/starts`, { ids, spreadMinutes: 120 });
    await expect
      .poll(async () => (await api.get(`/cadence-jobs/${begun.body.jobId}`)).body)
      .toMatchObject({ state: "done", done: 1, total: 1 });
    const { body } = await api.get(`/leads/${ids[1]}`);
    expect(body.cadences).toMatchObject([{ cadenceId: id, state: "running" }]);
    expect((await api.post(`/setup/cadences/${id}/remove`)).status).toBe(409);
  });
});

describe("rounds", () => {
  it("have each lead once, in their order, and two people never on the same", async () => {
    await to("2026-06-02T15:00:00Z");
    const due = await lead();
    const wrote = await lead();
    await to("2026-06-03T15:00:00Z");
    await api.post(`/leads/${due.id}/next-step`, {
      kind: "call",
      note: "Ring them",
      dueAt: "2026-06-03T16:00:00Z",
    });
    await api.post("/rehearsal/text", { from: wrote.phone, to: "+17205550100", body: "Are you there?" });
    const rounds = async (personId: string) => (await api.get(`/rounds?personId=${personId}`)).body;
    const mine = await rounds("p_mara");
    const at = (id: string) => mine.items.findIndex((i: { leadId: string }) => i.leadId === id);
    expect(mine.items[at(wrote.id)]).toMatchObject({ band: "answer", reason: "they wrote" });
    expect(mine.items[at(due.id)]).toMatchObject({ band: "due", reason: "Ring them" });
    expect(at(wrote.id)).toBeLessThan(at(due.id));
    expect((await api.post(`/rounds/${wrote.id}/begin`, { personId: "p_mara" })).status).toBe(200);
    const second = await api.post(`/rounds/${wrote.id}/begin`, { personId: "p_ines" });
    expect(second.status).toBe(409);
    expect(second.body.detail).toContain("Mara");
    const theirs = (await rounds("p_ines")).items.find((i: { leadId: string }) => i.leadId === wrote.id);
    expect(theirs.with).toContain("Mara");
    const skipped = await api.post(`/rounds/${wrote.id}/skip`, {
      personId: "p_mara",
      reason: "waits for the price",
    });
    expect(skipped.status).toBe(200);
    const after = await rounds("p_mara");
    expect(after.items.at(-1)).toMatchObject({ leadId: wrote.id, skipped: true });
    expect((await api.post(`/rounds/${wrote.id}/begin`, { personId: "p_ines" })).status).toBe(200);
    await api.post(`/leads/${due.id}/tries`, { personId: "p_mara", channel: "call", outcome: "reached" });
    const last = await rounds("p_mara");
    expect(last.done).toBe(after.done + 1);
    expect(last.left).toBe(after.left - 1);
    expect(last.day).toMatchObject({ tries: expect.any(Number), reached: expect.any(Number) });
  });
});

it("times are read as people type them, and nonsense is refused", async () => {
  const read = (text: string) =>
    api.post("/times/read", { text, zone: "America/Denver", now: "2026-03-04T16:40:00Z" });
  expect((await read("next tuesday")).body).toMatchObject({ at: "2026-03-10T15:00:00.000Z" });
  expect((await read("friend")).status).toBe(422);
  expect((await api.post("/times/read", { text: "noon", zone: "Mars/Base" })).body.errors[0].path).toBe(
    "zone",
  );
});

it("whoever bought is a customer with steps and cadences, and no open lead", async () => {
  const { id } = await lead();
  const { body } = await api.post(`/leads/${id}/bought`, { what: "A barrel sauna" });
  expect(body.customer.since).toEqual(expect.any(String));
  expect(body.cadences).toMatchObject([{ name: "Customer", state: "running" }]);
  const tasks = body.tasks.map((t: { note: string }) => t.note);
  expect(tasks.length === 0 || tasks.includes("Process the order")).toBe(true);
  await advance("PT1S");
  const { body: later } = await api.get(`/leads/${id}`);
  expect(later.tasks.map((t: { note: string }) => t.note).sort()).toEqual([
    "Book the delivery",
    "Process the order",
  ]);
  const done = await api.post(`/leads/${id}/tasks`, { taskId: later.tasks[0].id });
  expect(done.body.tasks).toHaveLength(1);
  const open = await api.get(`/leads?filter=open&q=${encodeURIComponent(body.name)}`);
  expect(open.body.items.map((l: { id: string }) => l.id)).not.toContain(id);
  expect((await api.post(`/leads/${id}/bought`, {})).status).toBe(409);
});

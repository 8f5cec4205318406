import ICAL from "ical.js";
import { describe, expect, it } from "vitest";
import { rehearsal } from "../support/rehearsal.ts";

/** First replies, restraint and conversation, from outside, against the built server and its stand-ins. */

const { server, api } = rehearsal({ fresh: true });

interface Received {
  readonly to: string;
  readonly at: string;
  readonly subject?: string;
  readonly body: string;
  readonly html?: string;
  readonly calendar?: string;
  readonly headers: Record<string, string>;
  readonly files?: { name: string }[];
}
const outside = async (channel: string) =>
  (await api.get(`/rehearsal/outside?channel=${channel}&limit=5000`)).body.items as Received[];
const ANA = { name: "Ana Ruiz", email: "ana@example.com", phone: "303 555 0123", product: "barrel" };
const inquire = async (more: object = {}) =>
  (await api.post("/intake/plan-your-sauna", { ...ANA, ...more })).body.leadId as string;
const settle = async () => expect((await api.post("/rehearsal/clock", { advance: "PT0S" })).status).toBe(200);
const toAna = async () => (await outside("email")).filter((m) => m.to === ANA.email);

describe("500 inquiries at once", () => {
  it("each get their first reply by mail and by text, none twice, and the desk answers meanwhile", async () => {
    const crowd = Array.from({ length: 500 }, (_, n) => ({
      name: `Visitor ${n}`,
      email: `v${n}@example.com`,
      phone: `303 555 ${String(1000 + n)}`,
      submission_id: `burst-${n}`,
    }));
    // More than a new source answers on its own: a company that expects a crowd says so.
    const restraint = (await api.get("/setup/restraint")).body;
    await api.post("/setup/restraint", { ...restraint, perSourceHour: 2_000 });
    for (let i = 0; i < crowd.length; i += 50) {
      await Promise.all(crowd.slice(i, i + 50).map((one) => api.post("/intake/plan-your-sauna", one)));
      expect((await api.get("/queue?limit=60")).status).toBe(200);
    }
    await settle();
    for (const channel of ["email", "text"]) {
      const mine = (await outside(channel)).filter((m) => /^(v\d+@|\+13035551)/.test(m.to));
      expect(new Set(mine.map((m) => m.to)).size).toBe(500);
      expect(mine).toHaveLength(500);
    }
  });
});

describe("a mail that goes out on its own", () => {
  it("carries the headers of RFC 3834 and RFC 8058, and both twins", async () => {
    await inquire();
    await settle();
    const [mail] = await toAna();
    expect(mail!.headers).toMatchObject({
      "auto-submitted": "auto-replied",
      "list-unsubscribe-post": "List-Unsubscribe=One-Click",
    });
    expect(mail!.headers["list-unsubscribe"]).toMatch(/^<http:\/\/127\.0\.0\.1:\d+\/u\/[\w.-]+>$/);
    expect(mail!.html).toContain("<p");
    expect(mail!.body).toContain("Unsubscribe:");
  });
  it("is ended with one press by the mail program, and by nobody who only looks", async () => {
    const leadId = await inquire();
    await settle();
    const [mail] = await toAna();
    const url = mail!.headers["list-unsubscribe"]!.slice(1, -1);
    expect((await fetch(url)).status).toBe(200);
    expect((await api.get(`/leads/${leadId}`)).body.stops).toEqual([]);
    const pressed = await fetch(url, {
      method: "POST",
      headers: { "content-type": "application/x-www-form-urlencoded" },
      body: "List-Unsubscribe=One-Click",
    });
    expect(pressed.status).toBe(200);
    expect(await pressed.text()).toContain("Done: no more of these mails");
    expect((await api.get(`/leads/${leadId}`)).body.stops).toMatchObject([
      { channel: "email", how: "unsubscribe" },
    ]);
    expect((await fetch(url.replace(/.$/, (c) => (c === "x" ? "y" : "x")))).status).toBe(404);
    await api.post("/rehearsal/clock", { advance: "P2D" });
    await inquire({ submission_id: "again" });
    await settle();
    expect(await toAna()).toHaveLength(1);
    const { items } = (await api.get(`/leads/${leadId}/events`)).body;
    expect(items.find((e: { kind: string }) => e.kind === "held-back").summary).toContain(
      "they unsubscribed",
    );
  });
});

describe("when the mail is down for five minutes", () => {
  it("messages wait, are tried again with growing pauses, and go once when it is back; the desk says so", async () => {
    await api.post("/rehearsal/down", { channel: "email", down: true });
    const ids = [];
    for (let n = 0; n < 3; n++)
      ids.push(await inquire({ email: `m${n}@example.com`, phone: `303 555 020${n}` }));
    await settle();
    const [trouble] = (await api.get("/troubles")).body.items;
    expect(trouble).toMatchObject({ channel: "email", waiting: 3, error: expect.stringContaining("down") });
    await api.post("/rehearsal/clock", { advance: "PT5M" });
    expect((await outside("email")).length).toBe(0);
    expect((await outside("text")).length).toBeGreaterThanOrEqual(3);
    const sheet = (await api.get(`/leads/${ids[0]}/sheet`)).body;
    const tried = sheet.thread.flatMap((t: { messages: { error: string | null }[] }) => t.messages);
    expect(tried.some((m: { error: string | null }) => m.error)).toBe(true);
    await api.post("/rehearsal/down", { channel: "email", down: false });
    await api.post("/rehearsal/clock", { advance: "PT10M" });
    const got = (await outside("email")).map((m) => m.to).filter((to) => /^m\d@/.test(to));
    expect(got.sort()).toEqual(["m0@example.com", "m1@example.com", "m2@example.com"]);
    expect((await api.get("/troubles")).body.items).toEqual([]);
  });
});

describe("a conversation", () => {
  it("tells when a link of ours is opened, once for a person and never for a look ahead", async () => {
    const leadId = await inquire();
    const body = "The footprints are at https://tarnholt.example/footprints, have a look.";
    await api.post(`/leads/${leadId}/messages`, { personId: "p_ines", channel: "text", body });
    await settle();
    const text = (await outside("text")).find((m) => m.body.startsWith("The footprints"))!;
    const link = /http\S+\/l\/[\w-]+/.exec(text.body)![0];
    expect(text.body).toBe(`The footprints are at ${link}, have a look.`);
    await fetch(link, { method: "HEAD" });
    const answer = await fetch(link, { redirect: "manual" });
    expect(answer.status).toBe(302);
    expect(answer.headers.get("location")).toBe("https://tarnholt.example/footprints");
    expect((await fetch(`${link}x`, { redirect: "manual" })).status).toBe(404);
    const { items } = (await api.get(`/leads/${leadId}/events`)).body;
    expect(items.filter((e: { kind: string }) => e.kind === "clicked")).toHaveLength(1);
  });
  it("calls a message back within its ten seconds, and says so when it is too late", async () => {
    const leadId = await inquire();
    const write = () =>
      api.post(`/leads/${leadId}/messages`, {
        personId: "p_ines",
        channel: "text",
        body: "Wrong person",
        callBackSeconds: 10,
      });
    const first = (await write()).body;
    expect(first.bell.state).toBe("answered");
    const undone = await api.post(`/leads/${leadId}/undo`, { actId: first.actId });
    expect(undone.body).toMatchObject({ tries: 0, bell: { state: "waiting" } });
    await api.post("/rehearsal/clock", { advance: "PT1M" });
    const wrong = async () => (await outside("text")).filter((m) => m.body === "Wrong person").length;
    expect(await wrong()).toBe(0);
    const second = (await write()).body;
    await api.post("/rehearsal/clock", { advance: "PT11S" });
    expect(await wrong()).toBe(1);
    expect((await api.post(`/leads/${leadId}/undo`, { actId: second.actId })).status).toBe(409);
  });
  it("keeps a draft by person, forgets it when sent, and sends a file along", async () => {
    const leadId = await inquire();
    const draft = { channel: "email", subject: "Plans", body: "Here they are", templateId: null };
    await api.post(`/leads/${leadId}/draft`, draft);
    expect((await api.get(`/leads/${leadId}/draft`)).body).toEqual(draft);
    const kept = await fetch(`${server().origin}/api/v1/files?name=plan.pdf`, {
      method: "POST",
      headers: { authorization: "Bearer rehearsal", "content-type": "application/pdf" },
      body: "%PDF-1.4 a plan",
    });
    const file = await kept.json();
    await api.post(`/leads/${leadId}/messages`, { personId: "p_ines", ...draft, files: [file] });
    await settle();
    const mail = (await toAna()).find((m) => m.subject === "Plans")!;
    expect(mail.files).toMatchObject([{ name: "plan.pdf" }]);
    // A person wrote it: it is neither automatic nor to be unsubscribed from.
    expect(mail.headers["auto-submitted"]).toBeUndefined();
    expect(mail.headers["list-unsubscribe"]).toBeUndefined();
    expect((await api.get(`/leads/${leadId}/draft`)).body).toBeNull();
  });
  it("stops texts at a word over the real path, and says so to who writes on", async () => {
    const leadId = await inquire();
    await api.post("/rehearsal/text", { from: "+13035550123", to: "+17205550102", body: "STOP" });
    await settle();
    expect((await outside("text")).findLast((m) => m.to === "+13035550123")!.body).toMatch(/no more texts/);
    const refused = await api.post(`/leads/${leadId}/messages`, {
      personId: "p_ines",
      channel: "text",
      body: "Hi",
    });
    expect(refused).toMatchObject({
      status: 409,
      body: { detail: expect.stringContaining("they wrote “STOP”") },
    });
    expect((await api.get(`/leads/${leadId}`)).body.replyWaiting).toBeNull();
  });
});

describe("a text to one of our lines", () => {
  const say = (to: string, body: string) => api.post("/rehearsal/text", { from: "+13035550123", to, body });
  it("finds the one we last wrote to, also at a number several people share, and says how", async () => {
    const first = await inquire();
    await api.post(`/leads/${first}/shared`, { value: "+13035550123", shared: true });
    const second = (
      await api.post("/leads", {
        name: "Ben Ruiz",
        phone: "303 555 0123",
        email: "ben@example.com",
        route: true,
      })
    ).body.id;
    expect(second).not.toBe(first);
    await api.post(`/leads/${second}/messages`, { personId: "p_ines", channel: "text", body: "Hello Ben" });
    await settle();
    expect((await say("+17205550102", "Yes, Friday")).body.leadId).toBe(second);
    const { items } = (await api.get(`/leads/${second}/events`)).body;
    expect(items.find((e: { kind: string }) => e.kind === "message-in").summary).toBe(
      "They wrote a text (the last we wrote to from this line)",
    );
  });
  it("is heard on a line that has been replaced, and answered in its thread", async () => {
    const leadId = await inquire();
    expect((await api.post("/sources/text-line", { line: "720 555 0190" })).status).toBe(200);
    expect((await say("+17205550102", "Still there?")).body.leadId).toBe(leadId);
    expect((await say("+17205550190", "And here?")).body.leadId).toBe(leadId);
  });
});

describe("booking", () => {
  const bookingPage = async (leadId: string) => {
    await api.post(`/leads/${leadId}/messages`, { personId: "p_mara", channel: "email", body: "{booking}" });
    await settle();
    const mail = (await outside("email")).findLast((m) => /\/l\//.test(m.body))!;
    const opened = await fetch(/http\S+\/l\/[\w-]+/.exec(mail.body)![0], { redirect: "manual" });
    return opened.headers.get("location")!;
  };
  const post = (url: string, form: Record<string, string>) =>
    fetch(url, { method: "POST", body: new URLSearchParams(form), headers: { origin: server().origin } });

  it("gives each time to one, whoever presses at the same instant", async () => {
    const ids = await Promise.all(
      Array.from({ length: 6 }, (_, n) => inquire({ email: `b${n}@example.com`, phone: `303 555 030${n}` })),
    );
    const pages: string[] = [];
    for (const id of ids) pages.push(await bookingPage(id));
    const at = String(Date.parse("2026-03-04T19:00:00Z"));
    const answers = await Promise.all(pages.map(async (page) => (await post(page, { at })).text()));
    expect(answers.filter((a) => a.includes("calls you</h1>"))).toHaveLength(1);
    expect(
      answers.filter((a) => a.includes("That time is taken") || a.includes("Somebody was quicker")),
    ).toHaveLength(5);
  });
  it("sends a calendar file to both, under one id when it is moved and called off", async () => {
    const leadId = await inquire();
    const page = await bookingPage(leadId);
    const forms: Record<string, string>[] = [
      { at: String(Date.parse("2026-03-05T17:00:00Z")) },
      { at: String(Date.parse("2026-03-09T15:00:00Z")) },
      { do: "cancel" },
    ];
    for (const form of forms) expect((await post(page, form)).status).toBe(200);
    await settle();
    for (const to of [ANA.email, "mara@tarnholt.example"]) {
      const invites = (await outside("email")).filter((m) => m.to === to && m.calendar);
      const events = invites.map((m) => {
        const calendar = new ICAL.Component(ICAL.parse(m.calendar!));
        const event = new ICAL.Event(calendar.getFirstSubcomponent("vevent")!);
        return [
          calendar.getFirstPropertyValue("method"),
          event.sequence,
          event.startDate.toJSDate().toISOString(),
          event.uid,
        ];
      });
      // Mails may overtake each other; the number tells which is the newest.
      events.sort((a, b) => Number(a[1]) - Number(b[1]));
      const [, , , uid] = events[0]!;
      // The second lies behind the clock change of 8 March: nine in Denver is 15:00 in UTC then.
      expect(events).toEqual([
        ["REQUEST", 0, "2026-03-05T17:00:00.000Z", uid],
        ["REQUEST", 1, "2026-03-09T15:00:00.000Z", uid],
        ["CANCEL", 2, "2026-03-09T15:00:00.000Z", uid],
      ]);
    }
  });
});

describe("set-up", () => {
  it("shows what a person would receive before it is in force, and refuses what cannot be sent", async () => {
    const { usual, again } = (await api.get("/setup/replies")).body;
    const change = { usual: { ...usual, email: { ...usual.email, delayMinutes: 60 } }, again, sources: {} };
    const tried = await api.post("/setup/replies/try", {
      ...change,
      sourceId: "src_site",
      leadId: null,
      at: "night",
    });
    const [mail, text] = tried.body.replies;
    expect(mail).toMatchObject({ does: "send", subject: "Robin, about your barrel sauna" });
    expect(Date.parse(mail.at) - Date.parse(tried.body.at)).toBe(3_600_000);
    expect(text).toMatchObject({ does: "hold", at: "2026-03-05T15:00:00.000Z" });
    expect((await api.get("/setup/replies")).body.usual).toEqual(usual);
    const wrong = { ...usual, text: { ...usual.text, choices: [{ when: null, templateId: "first-email" }] } };
    expect(await api.post("/setup/replies", { usual: wrong, again, sources: {} })).toMatchObject({
      status: 422,
      body: { detail: "“First reply, email” is for email." },
    });
  });
  it("saves a template when it is sound, names the place when not, keeps versions, and sends it to who asks", async () => {
    const template = {
      id: "",
      name: "Hello",
      channel: "text",
      texts: { en: { body: "Hi {{ lead.nmae }}" } },
    };
    expect(await api.post("/setup/templates", template)).toMatchObject({
      status: 422,
      body: { errors: [{ path: "texts.en.body", message: expect.stringContaining("line 1, column 7") }] },
    });
    const good = { ...template, texts: { en: { body: "Hi {{ lead.first_name }}" } } };
    const { id } = (await api.post("/setup/templates", good)).body;
    await api.post("/setup/templates", {
      ...good,
      id,
      texts: { en: { body: "Hello {{ lead.first_name }}" } },
    });
    const versions = (await api.get(`/setup/templates/${id}/versions`)).body.items;
    expect(
      versions.map((v: { template: { texts: { en: { body: string } } } }) => v.template.texts.en.body),
    ).toEqual(["Hello {{ lead.first_name }}", "Hi {{ lead.first_name }}"]);
    await api.post("/setup/templates/send", { template: { ...good, id }, language: "en", leadId: null });
    await settle();
    expect((await outside("text")).at(-1)).toMatchObject({ to: "+17205550170", body: "Hi Robin" });
    expect((await api.post("/setup/templates/first-email/remove", {})).status).toBe(409);
    expect((await api.post(`/setup/templates/${id}/remove`, {})).status).toBe(200);
  });
  it("keeps nothing automatic from whom the list names, however it is written", async () => {
    const added = await api.post("/setup/suppressed", {
      values: "ana@example.com\n(303) 555-0123, nonsense",
      reason: "asked at the fair",
    });
    expect(added.body).toEqual({ added: 2, known: 0, wrong: ["nonsense"] });
    await inquire();
    await settle();
    expect(await toAna()).toEqual([]);
    await api.post("/setup/suppressed/remove", { value: "ana@example.com" });
    await api.post("/rehearsal/clock", { advance: "P2D" });
    await inquire({ submission_id: "later" });
    await settle();
    expect(await toAna()).toHaveLength(1);
  });
});

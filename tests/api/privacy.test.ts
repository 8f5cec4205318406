import Ajv from "ajv/dist/2020.js";
import ICAL from "ical.js";
import { simpleParser } from "mailparser";
import { describe, expect, it } from "vitest";
import { rehearsal } from "../support/rehearsal.ts";
import { asPerson } from "../support/server.ts";
import { unzip } from "../support/unzip.ts";

/** A person's data, as an administrator hands it out and has it erased, from outside. */

const { server, api } = rehearsal({ fresh: true });
const as = asPerson(() => server().origin);

const inquire = async (more: object = {}) =>
  (
    await api.post("/intake/plan-your-sauna", {
      name: "Quillon Zephyrmark",
      email: "quillon@marked.example",
      phone: "303 555 0187",
      message: "How loud is it?",
      consent: "yes",
      ...more,
    })
  ).body.leadId as string;
const download = async (id: string, person = "p_oskar") => {
  const response = await fetch(`${server().origin}/api/v1/leads/${id}/person.zip`, {
    headers: { cookie: `kb_me=${person}` },
  });
  return { response, bytes: Buffer.from(await response.arrayBuffer()) };
};

describe("what is kept of a person", () => {
  it("is handed out whole: a page, JSON by the schema that is published, a card, mails, and what arrived", async () => {
    const id = await inquire();
    await as("p_mara", "POST", `/leads/${id}/take`, { personId: "p_mara" });
    await as("p_mara", "POST", `/leads/${id}/notes`, { text: "Lives up a steep road" });
    await api.post("/rehearsal/clock", { advance: "PT10M" });
    const { response, bytes } = await download(id);
    expect(response.headers.get("content-type")).toBe("application/zip");
    const files = unzip(bytes);
    const person = JSON.parse(files.get("person.json")!.toString()) as {
      leads: { name: string; happened: { what: string; said: string; why?: object[] }[] }[];
      consents: object[];
      sent: { file: string | null; subject: string; to: string }[];
      arrived: { file: string }[];
    };
    const schema = await (
      await fetch(`${server().origin}/api/v1/privacy/person-schema.json`, {
        headers: { cookie: "kb_me=p_oskar" },
      })
    ).json();
    const check = new Ajv({ strict: false, formats: { "date-time": true } }).compile(schema as object);
    expect(check(person), JSON.stringify(check.errors)).toBe(true);
    expect(person.leads).toHaveLength(1);
    expect(person.leads[0]!.name).toBe("Quillon Zephyrmark");
    const kinds = person.leads[0]!.happened.map((e) => e.what);
    expect(kinds).toEqual(expect.arrayContaining(["inquiry", "offered", "taken", "noted", "message-out"]));
    expect(person.leads[0]!.happened.find((e) => e.what === "offered")?.why?.length).toBeGreaterThan(0);
    expect(person.consents).toEqual([
      expect.objectContaining({ wording: "You may write and call me about this request.", said: "yes" }),
    ]);
    expect(JSON.parse(files.get(person.arrived[0]!.file)!.toString())).toMatchObject({
      message: "How loud is it?",
    });
    const [mail] = person.sent.filter((m) => m.file);
    const read = await simpleParser(files.get(mail!.file!)!);
    expect(read).toMatchObject({ subject: mail!.subject, to: { text: "quillon@marked.example" } });
    const card = new ICAL.Component(ICAL.parse(files.get("person.vcf")!.toString()));
    expect(card.getFirstPropertyValue("fn")).toBe("Quillon Zephyrmark");
    const page = files.get("index.html")!.toString();
    expect(page).toContain("Lives up a steep road");
    expect(page).not.toMatch(/<script|https?:\/\//);
    const { body: changes } = await as("p_oskar", "GET", "/audit?about=handed out");
    expect(changes.items).toHaveLength(1);
  });

  it("is no page of somebody's making: what they wrote stands in it as text", async () => {
    const id = await inquire({ name: "<img src=x onerror=alert(1)>", message: "<script>alert(2)</script>" });
    const page = unzip((await download(id)).bytes)
      .get("index.html")!
      .toString();
    expect(page).not.toMatch(/<script|<img/);
    expect(page).toContain("&lt;script&gt;");
  });

  it("is an administrator's business alone, and of no program", async () => {
    const id = await inquire();
    for (const person of ["p_mara", "p_ines", "p_greta"]) {
      expect((await download(id, person)).response.status).toBe(403);
      expect((await as(person, "POST", `/leads/${id}/erase`, {})).status).toBe(403);
      expect((await as(person, "GET", "/privacy")).status).toBe(403);
    }
    const scopes = ["read", "leads", "setup"];
    const { key } = (await as("p_oskar", "POST", "/keys", { name: "all", scopes })).body;
    const byKey = await fetch(`${server().origin}/api/v1/leads/${id}/person`, {
      headers: { authorization: `Bearer ${key}` },
    });
    expect(byKey.status).toBe(403);
  });
});

describe("erasing", () => {
  it("is asked for, waits for the night, and is listed with what went; counts of the day stay", async () => {
    const id = await inquire();
    const asked = await as("p_oskar", "POST", `/leads/${id}/erase`, { because: "Quillon Zephyrmark wrote" });
    expect(asked.body).toMatchObject({
      closed: { reason: "To be erased" },
      erasing: { dueAt: expect.any(String) },
    });
    const { body: waiting } = await as("p_oskar", "GET", "/privacy");
    expect(waiting.waiting).toMatchObject([
      { leadId: id, who: "Quillon Zephyrmark", because: "Quillon Zephyrmark wrote" },
    ]);
    await api.post("/rehearsal/clock", { to: "2026-03-05T16:00:00Z" });
    const { body: privacy } = await as("p_oskar", "GET", "/privacy");
    expect(privacy.done).toMatchObject([{ leadId: id, who: "Erased person", because: "", backups: [] }]);
    expect(privacy.done[0].said).toMatch(/^\d+ events of 1 lead, 1 inquiry, \d+ messages, 0 files$/);
    expect((await as("p_oskar", "GET", `/leads/${id}`)).body).toMatchObject({
      name: null,
      emails: [],
      phones: [],
    });
    expect((await as("p_oskar", "GET", "/search?q=zephyrmark")).body.items).toEqual([]);
    const { body: day } = await as("p_oskar", "GET", "/today?day=2026-03-04");
    expect(JSON.stringify(day)).not.toMatch(/zephyr/i);
    const { body: changes } = await as("p_oskar", "GET", "/audit?about=person");
    expect(JSON.stringify(changes)).not.toMatch(/zephyr/i);
    expect(changes.items.map((c: { what: string }) => c.what)).toEqual([
      "erased a person’s data",
      "asked for a person’s data to be erased",
    ]);
  });

  it("can be taken back until then, by whoever asked or by undoing", async () => {
    const [first, second] = [
      await inquire(),
      await inquire({ name: "B", phone: "303 555 0188", email: "b@marked.example" }),
    ];
    await as("p_oskar", "POST", `/leads/${first}/erase`, {});
    const { body: asked } = await as("p_oskar", "POST", `/leads/${second}/erase`, {});
    const { body: before } = await as("p_oskar", "GET", "/privacy");
    const row = before.waiting.find((w: { leadId: string }) => w.leadId === first);
    expect((await as("p_oskar", "POST", `/privacy/${row.id}/keep`)).body).toEqual({ kept: true });
    expect((await as("p_oskar", "POST", `/leads/${second}/undo`, { actId: asked.actId })).status).toBe(200);
    expect((await as("p_oskar", "GET", "/privacy")).body).toMatchObject({ waiting: [], waitingCount: 0 });
    await api.post("/rehearsal/clock", { to: "2026-03-05T16:00:00Z" });
    expect((await as("p_oskar", "GET", `/leads/${first}`)).body.name).toBe("Quillon Zephyrmark");
    expect((await as("p_oskar", "GET", `/leads/${second}`)).body.name).toBe("B");
  });

  it("by a rule is refused where it would wait too short or can't be asked, and is tried without anything happening", async () => {
    const rule = {
      id: "r",
      name: "Never reached",
      when: { field: "reached", is: "equal", value: "no" },
      quietDays: 400,
    };
    const put = (more: object) =>
      as("p_oskar", "POST", "/privacy", { noticeDays: 7, rules: [{ ...rule, ...more }] });
    expect((await put({ quietDays: 3 })).body.errors[0].path).toBe("rules.0.quietDays");
    expect((await put({ when: { field: "own.nothing", is: "known" } })).body.errors[0].path).toBe(
      "rules.0.when.field",
    );
    expect((await put({ name: " " })).status).toBe(422);
    expect((await put({})).body.sentences).toEqual({ r: "was reached is no" });
    const id = await inquire();
    const tried = () => as("p_oskar", "POST", "/privacy/try", { id: "r", when: rule.when, quietDays: 30 });
    expect((await tried()).body).toEqual({ count: 0, items: [] });
    await as("p_ines", "POST", `/leads/${id}/close`, { reason: "No fit" });
    await api.post("/rehearsal/clock", { to: "2026-04-10T16:00:00Z" });
    expect((await tried()).body).toMatchObject({ count: 1, items: [{ id, who: "Quillon Zephyrmark" }] });
  });
});

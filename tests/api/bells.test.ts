import { DateTime } from "luxon";
import { describe, expect, it } from "vitest";
import type { BellsSetup } from "../../web/wire/bells-schemas.ts";
import { rehearsal } from "../support/rehearsal.ts";

/** Left uncontacted, from outside: targets, ladders, closings, parking and the manager's list over HTTP, by moved time. */

const { api, server } = rehearsal({ fresh: true });

let n = 0;
const inquire = async (more: object = {}) => {
  n++;
  const said = {
    name: `Lead ${n}`,
    phone: `303 555 ${String(4000 + n)}`,
    email: `lead${n}@example.com`,
    product: "barrel",
    submission_id: `b${n}`,
    ...more,
  };
  return (await api.post("/intake/plan-your-sauna", said)).body.leadId as string;
};
interface Event {
  readonly kind: string;
  readonly at: string;
  readonly summary: string;
  readonly data: Record<string, unknown>;
}
const lead = async (id: string) => (await api.get(`/leads/${id}`)).body;
const events = async (id: string) => (await api.get(`/leads/${id}/events`)).body.items as Event[];
const take = (id: string, personId = "p_mara") => api.post(`/leads/${id}/take`, { personId });
const tried = (id: string, outcome = "reached", personId = "p_mara") =>
  api.post(`/leads/${id}/tries`, { personId, channel: "call", outcome });
const advance = (by: string) => api.post("/rehearsal/clock", { advance: by });
const to = (time: string) => api.post("/rehearsal/clock", { to: time });
const outside = async (channel: string) =>
  (await api.get(`/rehearsal/outside?channel=${channel}`)).body.items as {
    to: string;
    subject?: string;
    body: string;
  }[];
/** The time on the desk's wall. */
const wall = (at: string) => DateTime.fromISO(at).setZone("America/Denver").toFormat("ccc HH:mm:ss");
/** What was climbed, with its time. The clock may run a second between two calls. */
const rungs = async (id: string) =>
  (await events(id)).flatMap((e) =>
    ["nudged", "rang", "stood-by"].includes(e.kind)
      ? [[e.kind, e.at]]
      : e.kind === "climbed" && e.data.bell === "inquiry"
        ? [[String(e.data.act), e.at]]
        : [],
  );
const bells = async () => (await api.get("/setup/bells")).body as BellsSetup;
const putBells = async (change: Partial<BellsSetup>, running = "keep") => {
  const { targets, ladders, late, counts } = { ...(await bells()), ...change };
  const saved = await api.post("/setup/bells", { targets, ladders, late, counts, running });
  expect(saved.body.detail ?? saved.status).toBe(200);
  return saved.body as { moved: number };
};

describe("a ladder by moved time", () => {
  it("climbs each rung at its due second, once, and tells who should hear of it", async () => {
    const id = await inquire();
    await take(id);
    await advance("PT3H");
    const { bell } = await lead(id);
    const started = Date.parse(bell.startedAt);
    expect((await rungs(id)).map(([what, at]) => [what, (Date.parse(at!) - started) / 60_000])).toEqual([
      ["nudged", 3],
      ["rang", 5],
      ["manager", 5],
      ["stood-by", 15],
    ]);
    const chat = (await outside("chat")).map((m) => `${m.to} ${m.body.split("\n")[0]}`);
    expect(chat).toContain(`@mara *Lead ${n} still waits for a call*`);
    for (const who of ["@greta", "#lead-desk"])
      expect(
        chat.filter((m) => m === `${who} *Rung: nobody has called Lead ${n}. With: Mara Whitehorse*`),
      ).toHaveLength(1);
  });
  it("the answer at the last second wins over the ring", async () => {
    const id = await inquire();
    await take(id);
    const { dueAt } = (await lead(id)).bell;
    await to(new Date(Date.parse(dueAt) - 1_000).toISOString());
    await tried(id);
    await advance("PT1H");
    expect((await events(id)).some((e) => e.kind === "rang")).toBe(false);
    expect((await lead(id)).bell.state).toBe("answered");
  });
  it("runs over a weekend by desk time, and a snow day entered meanwhile moves it, with the reason", async () => {
    await to("2026-03-07T19:58:00Z"); // Saturday 12:58; the desk closes at one.
    const id = await inquire();
    await take(id);
    expect(wall((await lead(id)).bell.dueAt)).toMatch(/^Mon 08:0[23]/);
    const closed = await api.post("/setup/hours/close", {
      date: "2026-03-09",
      from: "00:00",
      name: "Snow day",
    });
    expect(closed.body.moved).toBe(1);
    expect(wall((await lead(id)).bell.dueAt)).toMatch(/^Tue 08:0[23]/);
    expect((await events(id)).at(-1)?.summary).toMatch(/^Bell moved to .*: Snow day$/);
    await to("2026-03-09T20:00:00Z");
    expect(await rungs(id)).toEqual([]);
    await to("2026-03-10T15:00:00Z");
    expect((await rungs(id)).map(([what]) => what)).toEqual(["nudged", "rang", "manager", "stood-by"]);
  });
  it("keeps the policy it began with, unless the change is to hold for what runs", async () => {
    const first = await inquire();
    await take(first);
    const { targets } = await bells();
    const slower = targets.map((t) => (t.about ? t : { ...t, minutes: 60 }));
    expect((await putBells({ targets: slower })).moved).toBe(0);
    const length = async (id: string) => {
      const { bell } = await lead(id);
      return Math.round((Date.parse(bell.dueAt) - Date.parse(bell.startedAt)) / 60_000);
    };
    const second = await inquire();
    expect([await length(first), await length(second)]).toEqual([5, 60]);
    const slowest = targets.map((t) => (t.about ? t : { ...t, minutes: 90 }));
    expect((await putBells({ targets: slowest }, "change")).moved).toBe(2);
    expect([await length(first), await length(second)]).toEqual([90, 90]);
  });
  it("is refused where it cannot be used, at its place", async () => {
    const { ladders } = await bells();
    const broken = [{ ...ladders[0]!, rungs: [{ fraction: 2, plusMinutes: 0, act: "nudge" as const }] }];
    const { targets, late, counts } = await bells();
    const refused = await api.post("/setup/bells", { targets, ladders: broken, late, counts });
    expect(refused.status).toBe(422);
    expect(refused.body.errors[0].path).toBe("ladders.0.rungs.0.fraction");
    expect((await bells()).ladders).toEqual(ladders);
  });
  it("is simulated over a lead that stays as it is", async () => {
    const id = await inquire();
    await take(id);
    await tried(id);
    const before = await events(id);
    const { targets, ladders, late } = await bells();
    const ran = (await api.post("/setup/bells/simulate", { leadId: id, targets, ladders, late })).body;
    const said = ran.steps.map((s: { said: string }) => s.said);
    expect(ran.target).toBe("A call within five minutes");
    expect(said).toContain("Rang: nobody had tried in time");
    expect(ran.steps.find((s: { said: string }) => s.said === "Told the managers").told).toContain(
      "Greta Mbeki",
    );
    for (const about of ["untried", "reply", "overdue", "promise", "stalled", "aimless"]) {
      const other = (await api.post("/setup/bells/simulate", { leadId: id, about, targets, ladders, late }))
        .body;
      expect(other.target, about).not.toBeNull();
      expect(
        other.steps.some((s: { said: string }) => s.said.startsWith("Rang")),
        about,
      ).toBe(true);
    }
    expect(await events(id)).toEqual(before);
  });
});

describe("holidays", () => {
  it("are given for a country and its region", async () => {
    const quebec = (await api.get("/setup/holidays?country=CA&region=QC&year=2026")).body;
    expect(quebec.items).toContainEqual({ date: "2026-06-24", name: expect.any(String) });
    expect((await api.get("/setup/holidays?country=Canada&year=2026")).status).toBe(422);
  });
  it("entered, they move the bells that run", async () => {
    await to("2026-03-04T23:58:00Z"); // Wednesday 16:58
    const id = await inquire();
    await take(id);
    const { zone, week, exceptions, holidays } = (await api.get("/setup/hours")).body;
    const half = { ...exceptions, "2026-03-04": { name: "Half day", spans: [["08:00", "12:00"]] } };
    const saved = await api.post("/setup/hours", { zone, week, exceptions: half, holidays });
    expect(saved.body.moved).toBe(1);
    expect(wall((await lead(id)).bell.dueAt)).toMatch(/^Thu 08:05/);
  });
});

describe("a parked lead", () => {
  it("wakes three times by three signals and is routed each time, to cover while its former owner is away", async () => {
    const parking = (await api.get("/setup/parking")).body;
    const wakes = [
      { ...parking.wakes[0], signals: ["reply", "call", "form", "click", "visit"], does: "former" },
    ];
    expect((await api.post("/setup/parking", { wakes })).status).toBe(200);
    const phone = "(303) 555-4900";
    const id = await inquire({ phone });
    await take(id);
    await tried(id);
    const parkIt = () => api.post(`/leads/${id}/park`, { reason: "Next spring", planId: "sp_seasons" });
    expect((await parkIt()).body).toMatchObject({ ownerId: null, parked: { reason: "Next spring" } });
    expect((await api.get("/parked")).body).toMatchObject({
      total: 1,
      items: [{ reason: "Next spring", plan: "A letter each season", former: "Mara Whitehorse" }],
    });

    await api.post("/rehearsal/text", { from: phone, to: "+17205550102", body: "Ready now" });
    expect(await lead(id)).toMatchObject({ ownerId: "p_mara", parked: null });

    // A letter of the slow plan is opened while Mara is away and Noor covers.
    await tried(id);
    await parkIt();
    await to("2026-04-02T16:00:00Z");
    const letter = (await outside("email")).find((m) => m.subject?.includes("season in the cedar"));
    const { people } = (await api.get("/setup/people")).body;
    const mara = people.find((p: { id: string }) => p.id === "p_mara");
    const away = {
      from: "2026-04-01T00:00:00Z",
      to: "2026-04-06T00:00:00Z",
      reason: "holiday",
      coverId: "p_noor",
      waiting: "goes",
      after: "back",
    };
    await api.post("/setup/people", { ...mara, absences: [away] });
    const link = /https?:\/\/\S+\/l\/[\w-]+/.exec(letter?.body ?? "")?.[0] ?? "";
    const opened = await fetch(`${server().origin}${new URL(link).pathname}`, { redirect: "manual" });
    expect(opened.status).toBe(302);
    expect(await lead(id)).toMatchObject({ ownerId: "p_noor", coversFor: "p_mara", parked: null });

    // They look at the company's own site, known by the link they came by.
    await tried(id, "reached", "p_noor");
    await parkIt();
    const page = new URL(opened.headers.get("location") ?? "");
    const visitor = page.searchParams.get("kb");
    expect(page.host).toBe("www.tarnholt.example");
    const view = (body: object) =>
      fetch(`${server().origin}/api/v1/site/views`, { method: "POST", body: JSON.stringify(body) });
    expect((await view({ visitor, page: "not a page" })).status).toBe(422);
    expect((await view({ visitor: "lead_1.forged", page: page.href })).status).toBe(204);
    expect((await lead(id)).parked).not.toBeNull();
    expect((await view({ visitor, page: page.href })).status).toBe(204);
    expect((await lead(id)).parked).toBeNull();

    const woken = (await events(id)).filter((e) => e.kind === "woken");
    expect(woken.map((e) => e.data.signal)).toEqual(["reply", "click", "visit"]);
    const { fired } = (await api.get("/setup/parking")).body;
    expect(fired[wakes[0].id]).toMatchObject({ times: 3, leads: 1 });
    expect(fired[wakes[0].id].latest[0]).toMatchObject({ leadId: id, signal: "visit" });
  });
});

describe("the manager’s list", () => {
  const list = async () => (await api.get("/managers-list")).body;
  const part = async (name: string) =>
    (await list()).parts.find((p: { part: string }) => p.part === name).items as {
      lead: { id: string };
      why: string;
    }[];

  it("holds what rang; many are seen to at once, and all of it is taken back", async () => {
    const ids = [await inquire(), await inquire(), await inquire()];
    for (const id of ids) await take(id);
    await advance("PT6M");
    expect((await part("rung")).map((i) => i.lead.id).sort()).toEqual([...ids].sort());
    const greta = (await list()).people.find((p: { id: string }) => p.id === "p_mara");
    expect(greta).toMatchObject({ rung: 3 });
    const many = (body: object) => api.post("/leads/many", { ids, ...body }, { cookie: "kb_me=p_greta" });
    const { done, left } = (await many({ do: "give", to: "p_noor" })).body;
    expect([done.length, left.length]).toEqual([3, 0]);
    const acts = Object.fromEntries(done.map((d: { id: string; actId: string }) => [d.id, d.actId]));
    expect((await many({ do: "undo", acts })).body.done).toHaveLength(3);
    for (const id of ids) expect((await lead(id)).ownerId).toBe("p_mara");
    await many({ do: "excuse", reason: "Talked at the show" });
    expect(await part("rung")).toEqual([]);
    expect((await events(ids[0]!)).map((e) => e.summary)).toContain("Silenced: Talked at the show");
    await many({ do: "close", reason: "No fit" });
    expect((await lead(ids[2]!)).closed).toMatchObject({ reason: "No fit" });
  });
  it("is acted on from the link in a manager’s alert, by that manager alone", async () => {
    const id = await inquire();
    await take(id);
    await advance("PT6M");
    const alert = (await outside("chat")).find((m) => m.to === "@greta" && m.body.includes("Rung:"));
    const path = new URL(/https?:\/\/\S+\/m\/\S+/.exec(alert?.body ?? "")?.[0] ?? "").pathname;
    const page = await (await fetch(server().origin + path)).text();
    for (const fact of [`Lead ${n}`, "this lead rings", "Mara Whitehorse", "I cover it"])
      expect(page).toContain(fact);
    const press = (body: Record<string, string>) =>
      fetch(server().origin + path, {
        method: "POST",
        body: new URLSearchParams(body),
        headers: { origin: server().origin },
      });
    expect(await (await press({ do: "cover" })).text()).toContain("Call (303) 555-");
    expect((await lead(id)).ownerId).toBe("p_greta");
    expect((await fetch(`${server().origin}${path}x`)).status).toBe(404);
  });
  it("greets managers in the morning with what came overnight, what rang, and who is away", async () => {
    const mails = async () =>
      (await outside("email")).filter((m) => m.subject?.includes("morning at the lead desk"));
    const before = (await mails()).length;
    const id = await inquire();
    await take(id);
    await advance("PT1H");
    await to("2026-03-05T08:00:00Z");
    await inquire({ name: "Night Owl" });
    await to("2026-03-05T15:00:30Z");
    const mail = (await mails()).slice(before);
    expect(mail.map((m) => m.to)).toEqual(["greta@tarnholt.example"]);
    expect(mail[0]?.body).toContain("1 inquiry came in");
    expect(mail[0]?.body).toMatch(/1 lead rang; .*not tried yet/);
    const { nextAt, parts } = (await api.get("/morning")).body;
    expect(wall(nextAt)).toBe("Fri 08:00:00");
    expect(parts.map((p: { heading: string }) => p.heading)).toContain("Away");
  });
  it("is no salesperson’s, and what they park or promise is their own alone", async () => {
    const asMara = (path: string, body?: object) =>
      fetch(`${server().origin}/api/v1${path}`, {
        headers: { cookie: "kb_me=p_mara", "content-type": "application/json" },
        ...(body && { method: "POST", body: JSON.stringify(body) }),
      });
    expect((await asMara("/managers-list")).status).toBe(403);
    const id = await inquire();
    await take(id, "p_noor");
    expect((await asMara(`/leads/${id}/park`, { reason: "Mine" })).status).toBe(404);
    const own = await inquire();
    await take(own);
    expect((await asMara(`/leads/${own}/park`, { reason: "Next spring" })).status).toBe(200);
  });
});

describe("what is said to a lead", () => {
  it("a promise rings at its time, and a time they asked for holds the bell until then", async () => {
    const id = await inquire();
    await take(id);
    const asked = await api.post(`/leads/${id}/asked-for`, { at: "2026-03-04T22:00:00Z" });
    expect(asked.body).toMatchObject({
      bell: { state: "waiting", dueAt: "2026-03-04T22:00:00.000Z" },
      nextStep: { note: "Call as asked" },
    });
    await to("2026-03-04T21:59:00Z");
    expect((await lead(id)).bell.state).toBe("waiting");
    await tried(id);
    await api.post(`/leads/${id}/promise`, { text: "we send the plan", at: "2026-03-04T23:00:00Z" });
    await to("2026-03-04T23:00:01Z");
    expect((await lead(id)).others).toContainEqual(
      expect.objectContaining({ kind: "promise", state: "rung" }),
    );
    expect((await outside("chat")).some((m) => m.to === "@mara" && m.body.includes("we send the plan"))).toBe(
      true,
    );
  });
});

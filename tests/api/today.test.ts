import { describe, expect, it } from "vitest";
import { rehearsal } from "../support/rehearsal.ts";
import { PEOPLE } from "../support/server.ts";

/** The day in figures against a plain recount of what happened, as it goes on and once it is over. */

const { server, api } = rehearsal({ fresh: true });

let n = 0;
const inquire = async () =>
  (
    await api.post("/intake/plan-your-sauna", {
      name: `Visitor ${++n}`,
      phone: `303 555 ${1000 + n}`,
      product: "barrel",
    })
  ).body.leadId as string;
const today = async (date = "") => (await api.get(`/today${date && `?date=${date}`}`)).body;
const forward = (by: string) => api.post("/rehearsal/clock", { advance: by });
const as = async (person: string, path: string) => {
  const response = await fetch(`${server().origin}/api/v1${path}`, {
    headers: { cookie: `kb_me=${person}` },
  });
  return { status: response.status, body: await response.json() };
};

/** Every event there is, of every lead. */
async function everything(): Promise<
  { leadId: string; kind: string; at: string; data: Record<string, unknown> }[]
> {
  const { body } = await api.get("/leads?columns=name&limit=200");
  const all = await Promise.all(
    body.items.map(async (l: { id: string }) =>
      (await api.get(`/leads/${l.id}/events?limit=200`)).body.items.map((e: object) => ({
        ...e,
        leadId: l.id,
      })),
    ),
  );
  return all.flat();
}

describe("today", () => {
  it("is what happened today, by a plain recount, and how things stand", async () => {
    const ids = [await inquire(), await inquire(), await inquire(), await inquire()];
    const taker = async (id: string) => (await api.get(`/leads/${id}`)).body.handOff.to[0] as string;
    const by = await taker(ids[0]!);
    await api.post(`/leads/${ids[0]}/take`, { personId: by });
    await api.post(`/leads/${ids[0]}/tries`, { personId: by, channel: "call", outcome: "reached" });
    const other = await taker(ids[1]!);
    await api.post(`/leads/${ids[1]}/take`, { personId: other });
    await api.post(`/leads/${ids[1]}/tries`, { personId: other, channel: "call", outcome: "voicemail" });
    await forward("PT12M");
    const day = await today();
    const events = await everything();
    const of = (kind: string) => events.filter((e) => e.kind === kind);
    expect(day).toMatchObject({
      date: "2026-03-04",
      live: true,
      cameIn: of("inquiry").length,
      tries: of("tried").length,
      reached: new Set(
        of("tried")
          .filter((e) => e.data.reached)
          .map((e) => e.leadId),
      ).size,
      rang: new Set(of("rang").map((e) => e.leadId)).size,
      lapsed: of("lapsed").length,
      targets: 4,
      inTarget: 2,
      rung: 2,
    });
    expect(day.lapsed).toBeGreaterThan(0);
    expect(day.byHour[9]).toBe(4);
    expect(day.people.find((p: { id: string }) => p.id === by)).toMatchObject({
      tries: 1,
      reached: 1,
      taken: 1,
    });
    const people = day.people as { tries: number; behind: number }[];
    expect(people.reduce((sum, p) => sum + p.tries, 0)).toBe(day.tries);
    const { bands } = (await api.get("/queue")).body;
    const inBand = (name: string) => bands.find((b: { band: string }) => b.band === name).count;
    expect([day.waiting, day.rung]).toEqual([inBand("answer"), inBand("rung")]);
  });

  it("stays as it was once it is over, and the next begins with nothing", async () => {
    const id = await inquire();
    await api.post(`/leads/${id}/take`, { personId: "p_mara" });
    await api.post(`/leads/${id}/tries`, { personId: "p_mara", channel: "call", outcome: "voicemail" });
    const { cameIn, tries, targets, inTarget } = await today();
    await api.post("/rehearsal/clock", { to: "2026-03-05T16:00:00Z" });
    const tomorrow = await today();
    expect(tomorrow).toMatchObject({ date: "2026-03-05", cameIn: 0, live: true });
    // Another bell of the same lead begins on the next day: the first day still tells of its own.
    await api.post("/intake/plan-your-sauna", {
      name: "Again",
      phone: `303 555 ${1000 + n}`,
      product: "barrel",
    });
    expect(await today("2026-03-04")).toMatchObject({
      cameIn,
      tries,
      targets,
      inTarget,
      live: false,
      waiting: null,
      rung: null,
      dueLeft: null,
    });
    expect((await today("2026-03-05")).cameIn).toBe(1);
  });

  it("is refused for what is no day or has not begun, and is for those who see all leads", async () => {
    for (const date of ["2026-02-30", "tomorrow", "2026-03-05", "0", "99999-01-01"]) {
      const { status, body } = await api.get(`/today?date=${date}`);
      expect([status, body.errors?.[0]?.path], date).toEqual([422, "date"]);
    }
    expect((await as(PEOPLE.salesperson, "/today")).status).toBe(403);
    expect((await as(PEOPLE.coordinator, "/today")).status).toBe(200);
  });
});

describe("my day", () => {
  it("is what I did and nobody else, the newest first, with a way back where there still is one", async () => {
    const id = await inquire();
    await api.post(`/leads/${id}/take`, { personId: "p_mara" });
    await forward("PT1M");
    await api.post(`/leads/${id}/tries`, { personId: "p_mara", channel: "call", outcome: "voicemail" });
    const { body } = await as("p_mara", "/my-day");
    expect(body.items.map((i: { leadId: string }) => i.leadId)).toEqual(body.items.map(() => id));
    expect(body.items[0].said).toContain("voicemail");
    expect(body.items[0].actId).not.toBeNull();
    expect(body.items.at(-1)).toMatchObject({ said: expect.stringContaining("took it"), actId: null });
    expect((await as("p_luc", "/my-day")).body.items).toEqual([]);
    const undone = await api.post(
      `/leads/${id}/undo`,
      { actId: body.items[0].actId },
      { cookie: "kb_me=p_mara" },
    );
    expect(undone.status).toBe(200);
    expect((await api.get(`/leads/${id}`)).body.tries).toBe(0);
    expect((await as("p_mara", "/my-day?date=2026-03-03")).body.items).toEqual([]);
    expect((await as("p_mara", "/my-day?date=x")).status).toBe(422);
  });
});

import { describe, expect, it } from "vitest";
import { rehearsal } from "../support/rehearsal.ts";
import { PEOPLE } from "../support/server.ts";

/** The same done with many leads: what it would come to, in the background, each as somebody may who asks, and taken back. */

const { server, api } = rehearsal({ fresh: true });

async function enter(n: number, ownerId = "p_mara"): Promise<string[]> {
  const ids: string[] = [];
  for (let at = 0; at < n; at++)
    ids.push(
      (
        await api.post("/leads", {
          name: `Visitor ${at}`,
          phone: `+1303555${1000 + at}`,
          facts: { product: at % 2 ? "plunge" : "barrel" },
          route: false,
          ownerId,
        })
      ).body.id,
    );
  return ids;
}
const lead = async (id: string) => (await api.get(`/leads/${id}`)).body;
const many = (body: object) => api.post("/leads/many", body);
const BARREL = { all: [{ field: "product", is: "equal", value: "barrel" }] };

/** A job once it is no longer running. */
async function ended(
  id: string,
): Promise<{ state: string; done: number; total: number; said: string; actId: string }> {
  for (;;) {
    const { body } = await api.get(`/jobs/${id}`);
    if (body.state !== "running") return body;
  }
}

describe("many at once", () => {
  it("says before how many it would change and how many not and why, and changes nothing by saying so", async () => {
    const ids = await enter(6);
    await api.post(`/leads/${ids[0]}/close`, { reason: "No fit" });
    const { body } = await many({ ids, do: "park", reason: "Later", dryRun: true });
    expect(body).toMatchObject({
      jobId: null,
      will: 5,
      wont: [{ n: 1, reason: expect.stringContaining("Reopen") }],
    });
    for (const id of ids) expect((await lead(id)).parked ?? null).toBeNull();
    const done = await many({ ids, do: "park", reason: "Later" });
    expect(done.body).toMatchObject({ will: 5, wont: [{ n: 1 }] });
    expect((await lead(ids[1]!)).parked).toMatchObject({ reason: "Later" });
  });

  it("tags all that fit a condition and no other, and takes it back as one act", async () => {
    const ids = await enter(8);
    const { body } = await many({ where: BARREL, do: "tag", tags: ["Spring Sale", "vip"] });
    const job = await ended(body.jobId);
    expect(job).toMatchObject({ state: "done", done: 4, total: 4, actId: body.jobId });
    expect(job.said).toBe("4 leads tagged Spring Sale, vip.");
    const tags = () => Promise.all(ids.map(async (id) => (await lead(id)).tags));
    expect(await tags()).toEqual(ids.map((_, at) => (at % 2 ? [] : ["spring sale", "vip"])));
    const found = await api.get(
      `/leads?where=${encodeURIComponent(JSON.stringify({ all: [{ field: "tag", is: "equal", value: "vip" }] }))}`,
    );
    expect(found.body.count).toBe(4);
    const back = await api.post(`/jobs/${job.actId}/undo`);
    expect((await ended(back.body.id)).said).toBe("4 leads as before.");
    expect(await tags()).toEqual(ids.map(() => []));
    // Taking back is no act to be taken back.
    expect((await api.post(`/jobs/${back.body.id}/undo`)).status).toBe(409);
  });

  it("leaves a lead that somebody has worked on since as it is when all is taken back", async () => {
    const ids = await enter(3);
    const { body } = await many({ ids, do: "tag", tags: ["cold"] });
    await api.post(`/leads/${ids[1]}/tries`, { personId: "p_mara", channel: "call", outcome: "voicemail" });
    const back = await api.post(`/jobs/${body.jobId}/undo`);
    const job = await ended(back.body.id);
    expect(job.said).toContain("2 leads as before. 1 lead could not be: Visitor 1");
    expect((await lead(ids[1]!)).tags).toEqual(["cold"]);
  });

  it("does each act there is with leads that allow it", async () => {
    const [id] = await enter(1);
    const one = async (body: object) => (await many({ ids: [id], ...body })).body;
    await one({ do: "give", to: "p_noor", reason: "Her turn" });
    expect((await lead(id!)).ownerId).toBe("p_noor");
    await one({ do: "tag", tags: ["a", "b"] });
    await one({ do: "untag", tags: ["A"] });
    expect((await lead(id!)).tags).toEqual(["b"]);
    expect((await one({ do: "untag", tags: ["nothing"] })).wont[0].reason).toContain("so already");
    await one({ do: "defer", until: "2026-03-06T16:00:00Z", reason: "After the show" });
    expect((await lead(id!)).nextStep).toMatchObject({
      note: "After the show",
      dueAt: "2026-03-06T16:00:00.000Z",
    });
    expect((await one({ do: "defer", until: "2026-03-01T16:00:00Z" })).wont[0].reason).toContain("future");
    await one({ do: "stage", stage: "Talking" });
    expect((await lead(id!)).stage).toBe("Talking");
    const { body: cadences } = await api.get("/setup/cadences");
    const live = cadences.cadences.find((c: { state: string }) => c.state === "live");
    await one({ do: "cadence", cadenceId: live.id });
    const running = async () =>
      (await lead(id!)).cadences.filter((r: { state: string }) => r.state === "running").length;
    expect(await running()).toBeGreaterThan(0);
    await one({ do: "stop-cadences", reason: "Enough" });
    expect(await running()).toBe(0);
    expect((await one({ do: "stop-cadences" })).wont[0].reason).toContain("no cadence");
    await one({ do: "close", reason: "No fit" });
    expect((await lead(id!)).closed).toMatchObject({ reason: "No fit" });
  });

  it("spreads what is put off over the time that is given, the same place each time it is asked", async () => {
    const ids = await enter(30);
    const off = { ids, do: "defer", until: "2026-03-09T16:00:00Z", spreadMinutes: 120 };
    const due = async () => Promise.all(ids.map(async (id) => Date.parse((await lead(id)).nextStep.dueAt)));
    await many(off);
    const first = await due();
    const from = Date.parse("2026-03-09T16:00:00Z");
    for (const at of first) expect(at >= from && at < from + 120 * 60_000).toBe(true);
    expect(new Set(first).size).toBeGreaterThan(15);
    await many(off);
    expect(await due()).toEqual(first);
  });

  it("goes on in the background with more than a few, while others are answered", async () => {
    const ids = await enter(230);
    const { body } = await many({ ids, do: "tag", tags: ["all"] });
    expect(body).toMatchObject({ will: 230, done: [] });
    expect((await api.get("/health")).status).toBe(200);
    expect(await ended(body.jobId)).toMatchObject({ state: "done", done: 230 });
    expect((await lead(ids[229]!)).tags).toEqual(["all"]);
  });

  it("joins each with the one who is likely the same, says who is not, and takes all of it apart again", async () => {
    const came = async (body: object) =>
      (await api.post("/intake/plan-your-sauna", body)).body.leadId as string;
    const pairs: [string, string][] = [];
    for (const [at, [one, other]] of [
      ["Catherine Whitfield", "Katherine Whitfield"],
      ["Stephen Hallorand", "Steven Hallorand"],
    ].entries()) {
      const zip = `8030${at + 2}`;
      const email = `${one!.toLowerCase().replace(" ", ".")}@example.com`;
      pairs.push([
        await came({ name: one, phone: `+1303555220${at}`, postal_code: zip, email }),
        await came({ name: other, phone: `+1303555330${at}`, postal_code: zip }),
      ]);
    }
    const alone = await came({ name: "Nobody Else", phone: "+13035554400" });
    const ids = [...pairs.map(([, later]) => later), alone];
    const dry = (await many({ ids, do: "join", dryRun: true })).body;
    expect(dry).toMatchObject({ will: 2, wont: [{ n: 1, reason: "Nobody seems to be the same person." }] });
    const { body } = await many({ ids, do: "join" });
    expect(body.done).toHaveLength(2);
    expect(body.left).toMatchObject([{ id: alone }]);
    for (const [first, later] of pairs) {
      expect(await lead(later)).toMatchObject({ joinedTo: first });
      expect(await lead(first)).toMatchObject({ inquiries: 2, joinedTo: null });
    }
    const undone = (await api.post(`/jobs/${body.jobId}/undo`)).body;
    expect((await ended(undone.id)).said).toBe("2 leads as before.");
    for (const [first, later] of pairs) {
      expect(await lead(later)).toMatchObject({ joinedTo: null, closed: null, inquiries: 1 });
      expect(await lead(first)).toMatchObject({ inquiries: 1 });
    }
  });

  it("is for those who move leads, and a job is nobody else’s", async () => {
    const ids = await enter(2);
    const as = (person: string, path: string, method: string, body?: object) =>
      fetch(`${server().origin}/api/v1${path}`, {
        method,
        headers: { cookie: `kb_me=${person}`, ...(body && { "content-type": "application/json" }) },
        ...(body && { body: JSON.stringify(body) }),
      });
    const tag = { ids, do: "tag", tags: ["x"] };
    expect((await as(PEOPLE.salesperson, "/leads/many", "POST", tag)).status).toBe(403);
    const { jobId } = await (await as(PEOPLE.coordinator, "/leads/many", "POST", tag)).json();
    expect((await as(PEOPLE.coordinator, `/jobs/${jobId}`, "GET")).status).toBe(200);
    expect((await as(PEOPLE.manager, `/jobs/${jobId}`, "GET")).status).toBe(404);
    expect((await as(PEOPLE.manager, `/jobs/${jobId}/undo`, "POST")).status).toBe(404);
    expect((await lead(ids[0]!)).tags).toEqual(["x"]);
  });

  it.each([
    [{ do: "tag", tags: ["x"] }, "ids"],
    [{ ids: [], do: "tag", tags: ["x"] }, "ids"],
    [{ where: { all: [{ field: "shoe", is: "known" }] }, do: "tag", tags: ["x"] }, "where"],
    [{ list: "list_none", do: "tag", tags: ["x"] }, "list"],
    [{ where: null, do: "burn" }, "do"],
  ])("is refused with the name of what is wrong: %j", async (body, field) => {
    const { status, body: said } = await many(body);
    expect([404, 422]).toContain(status);
    expect((said.errors as { path: string }[])[0]!.path).toContain(field);
  });
});

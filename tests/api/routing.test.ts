import { describe, expect, it } from "vitest";
import type { RuleSet } from "../../web/wire/routing-schemas.ts";
import { rehearsal } from "../support/rehearsal.ts";

/** Routing from outside: rules published over HTTP decide about inquiries that come in over HTTP. */

const { api } = rehearsal({ fresh: true });

let n = 0;
const inquire = async (more: object = {}) => {
  n++;
  const said = {
    name: `Lead ${n}`,
    phone: `303 555 ${String(3000 + n)}`,
    product: "barrel",
    submission_id: `r${n}`,
    ...more,
  };
  return (await api.post("/intake/plan-your-sauna", said)).body.leadId as string;
};
const lead = async (id: string) => (await api.get(`/leads/${id}`)).body;
const asked = async (id: string) => (await lead(id)).handOff?.to as string[];
const why = async (id: string, kind: string) =>
  (await api.get(`/leads/${id}/events`)).body.items.findLast((e: { kind: string }) => e.kind === kind)
    ?.why as {
    outcome: string;
    rules?: number;
    steps: { kind: string; name: string; result: string; reason: string }[];
  };
const rule = (more: object = {}): RuleSet["rules"][number] => ({
  id: "r_all",
  name: "All",
  when: null,
  to: { group: "g_test" },
  offerMinutes: 5,
  ...more,
});
const group = (way: string, weights: Record<string, number>) =>
  api.post("/setup/groups", {
    id: "",
    name: "Test",
    way,
    members: Object.entries(weights).map(([personId, weight]) => ({ personId, weight })),
  });
/** Put rules in force; `g_test` stands for the group made last. */
async function publish(...rules: RuleSet["rules"]) {
  const { groups } = (await api.get("/setup/people")).body;
  const named = JSON.parse(JSON.stringify(rules).replaceAll("g_test", groups.at(-1).id));
  const drafted = await api.post("/setup/routing/draft", {
    rules: named,
    setAside: { keepOwner: true, household: true },
  });
  expect(drafted.status).toBe(200);
  const published = await api.post("/setup/routing/publish", { note: "for a test" });
  expect(published.body.detail ?? published.status).toBe(200);
}
const firstOf = async (times: number) => {
  const who: string[] = [];
  for (let i = 0; i < times; i++) who.push((await asked(await inquire()))[0]!);
  return who;
};

describe("ways of choosing", () => {
  it("weighted rotation of 5, 1, 1 goes a a b a c a a", async () => {
    await group("weighted", { p_mara: 5, p_idris: 1, p_noor: 1 });
    await publish(rule());
    const letter = { p_mara: "a", p_idris: "b", p_noor: "c" } as Record<string, string>;
    expect((await firstOf(7)).map((id) => letter[id]).join(" ")).toBe("a a b a c a a");
  });
  it("strict rotation is even after any number", async () => {
    await group("rotation", { p_mara: 5, p_idris: 1, p_noor: 1 });
    await publish(rule());
    const went: string[] = [];
    for (let i = 0; i < 8; i++) {
      went.push(...(await firstOf(1)));
      const counts = ["p_mara", "p_idris", "p_noor"].map((id) => went.filter((w) => w === id).length);
      expect(Math.max(...counts) - Math.min(...counts)).toBeLessThanOrEqual(1);
    }
  });
  it("fewest open, and a ceiling that is full", async () => {
    await group("fewest-open", { p_mara: 1, p_idris: 1 });
    await publish(rule());
    expect(await firstOf(4)).toEqual(["p_mara", "p_idris", "p_mara", "p_idris"]);
    const { people } = (await api.get("/setup/people")).body;
    const mara = people.find((p: { id: string }) => p.id === "p_mara");
    expect((await api.post("/setup/people", { ...mara, ceiling: 2 })).status).toBe(200);
    expect(await firstOf(2)).toEqual(["p_idris", "p_idris"]);
  });
  it("best match of skills by language, with the reason in the trace", async () => {
    await group("best-match", { p_mara: 1, p_luc: 1, p_noor: 1 });
    await publish(rule());
    const id = await inquire({ postal_code: "G1R 2B5" });
    expect(await asked(id)).toEqual(["p_luc"]);
    expect((await why(id, "offered")).steps.find((s) => s.kind === "choice")?.reason).toContain(
      "speaks French",
    );
  });
  it("previous owner and credit holder, each handing on when there is none", async () => {
    await group("rotation", { p_mara: 1, p_idris: 1 });
    await publish(
      rule({ id: "r1", name: "Before", to: { formerWithin: 30 }, otherwise: "onward" }),
      rule({ id: "r2", name: "Credit", to: { credit: true }, otherwise: "onward" }),
      rule({ id: "r3" }),
    );
    const id = await inquire();
    expect(await asked(id)).toEqual(["p_mara"]);
    expect(
      (await why(id, "offered")).steps
        .filter((s) => s.kind === "rule")
        .map((s) => [s.name, s.result, s.reason]),
    ).toEqual([
      ["Before", "yes", "fits every lead"],
      ["Before", "no", "nobody has had it before: the next rules are asked"],
      ["Credit", "yes", "fits every lead"],
      ["Credit", "no", "the credit lies with nobody: the next rules are asked"],
      ["All", "yes", "fits every lead"],
    ]);
  });
  it("an open call asks everybody; others are told at once who has it", async () => {
    await group("open-call", { p_mara: 1, p_idris: 1, p_noor: 1 });
    await publish(rule());
    const id = await inquire();
    expect(await asked(id)).toEqual(["p_mara", "p_idris", "p_noor"]);
    await api.post(`/leads/${id}/take`, { personId: "p_idris" });
    await api.post("/rehearsal/clock", { advance: "PT1S" });
    const chat = (await api.get("/rehearsal/outside?channel=chat")).body.items;
    for (const who of ["@mara", "@noor"])
      expect(
        chat.find((m: { to: string; body: string }) => m.to === who && m.body.includes("is now with Idris")),
      ).toBeDefined();
  });
  it("two take the same open call in the same moment, a thousand times: one owner each time, and the other is told who", async () => {
    await group("open-call", { p_mara: 1, p_idris: 1 });
    await publish(rule());
    for (let round = 0; round < 20; round++) {
      const ids = await Promise.all(Array.from({ length: 50 }, () => inquire()));
      const results = await Promise.all(
        ids.flatMap((id) =>
          ["p_mara", "p_idris"].map((personId) => api.post(`/leads/${id}/take`, { personId })),
        ),
      );
      for (let i = 0; i < ids.length; i++) {
        const pair = results.slice(i * 2, i * 2 + 2);
        expect(pair.map((r) => r.status).sort()).toEqual([200, 409]);
        const owner = pair.find((r) => r.status === 200)!.body.ownerId;
        expect(pair.find((r) => r.status === 409)!.body.detail).toContain(
          owner === "p_mara" ? "Mara Whitehorse" : "Idris Bell-Hassan",
        );
      }
    }
  }, 300_000);
});

describe("the chain", () => {
  it("walks passes, lapses and absence to standby and to the manager's list, and the traces name each step", async () => {
    await group("rotation", { p_mara: 1, p_idris: 1, p_yuki: 1 });
    await publish(rule());
    const id = await inquire();
    expect(await asked(id)).toEqual(["p_mara"]);
    await api.post(`/leads/${id}/pass`, { personId: "p_mara", reason: "Driving" });
    expect(await asked(id)).toEqual(["p_idris"]);
    await api.post("/rehearsal/clock", { advance: "PT5M" });
    expect((await lead(id)).ownerId).toBe("p_tomasz");
    const trace = await why(id, "given");
    expect(trace.rules).toBe(2);
    expect(trace.steps.map((s) => `${s.kind} ${s.name}: ${s.result}, ${s.reason}`)).toEqual([
      "rule All: yes, fits every lead",
      "candidate Mara Whitehorse: no, passed on it already, or let it lapse",
      "candidate Idris Bell-Hassan: no, passed on it already, or let it lapse",
      "candidate Yuki Navarro: no, away: parental leave until 16 March",
      "standby Tomasz Lindqvist: yes, on duty as standby",
    ]);
    for (const personId of ["p_tomasz", "p_greta"])
      await api.post(`/leads/${id}/pass`, { personId, reason: "Driving" });
    expect(await lead(id)).toMatchObject({ ownerId: null, handOff: null });
    expect((await lead(id)).listed).not.toBeNull();
    // By hand all are asked again, since all had refused.
    const again = await api.post(`/leads/${id}/route`, {});
    expect(again.body.handOff.state).toBe("offered");
  });
  it("time limits run by the desk's clock, or by the wall's", async () => {
    await group("rotation", { p_mara: 1, p_idris: 1 });
    const late = "2026-03-05T00:58:00Z";
    await publish(rule({ offerMinutes: 10 }));
    await api.post("/rehearsal/clock", { to: late });
    // To the second: the clock runs on meanwhile.
    const until = async () => (await lead(await inquire())).handOff.until.slice(0, 18);
    expect(await until()).toBe("2026-03-05T15:08:0");
    await publish(rule({ offerMinutes: 10, clock: "wall" }));
    expect(await until()).toBe("2026-03-05T01:08:0");
  });
  it("the same inquiries get the same decisions on another day of the same beginning", async () => {
    const run = async () => {
      await api.post("/rehearsal/begin", { with: "empty" });
      await api.post("/rehearsal/clock", { to: "2026-03-04T16:00:00Z" });
      const decisions = [];
      for (let i = 0; i < 12; i++) {
        const id = await inquire({ product: ["lodge", "barrel", "plunge"][i % 3], name: `Same ${i}` });
        if (i % 4 === 0)
          await api.post(`/leads/${id}/pass`, { personId: (await asked(id))[0], reason: "Driving" });
        const { outcome, steps } = await why(id, "offered");
        decisions.push([await asked(id), outcome, steps]);
      }
      return decisions;
    };
    expect(await run()).toEqual(await run());
  });
});

describe("drafts and versions", () => {
  it("a draft changes nothing; publishing counts up; an older version comes back as a draft", async () => {
    const { live } = (await api.get("/setup/routing")).body as { live: RuleSet };
    const draft = { ...live, rules: [{ ...live.rules[0]!, name: "Renamed" }, ...live.rules.slice(1)] };
    const kept = (await api.post("/setup/routing/draft", draft)).body;
    expect(kept).toMatchObject({ version: 1, draft: { by: "Ines Okafor" } });
    expect((await why(await inquire({ product: "lodge" }), "offered")).outcome).toContain("Lodge packages");
    expect((await api.get("/me", { cookie: "kb_me=p_greta" })).body.draftWaits).toBe(true);
    expect((await api.post("/setup/routing/publish", { note: "renamed" })).body).toMatchObject({
      version: 2,
      draft: null,
    });
    const offered = await why(await inquire({ product: "lodge" }), "offered");
    expect(offered).toMatchObject({ rules: 2, outcome: expect.stringContaining("Renamed") });
    const { items } = (await api.get("/setup/routing/versions")).body;
    expect(items.map((v: { version: number; note: string }) => [v.version, v.note])).toEqual([
      [2, "renamed"],
      [1, ""],
    ]);
    expect(items[1].rules).toEqual(live.rules);
    await api.post("/setup/routing/draft", items[1]);
    expect((await api.post("/setup/routing/drop", {})).body.draft).toBeNull();
    expect((await api.post("/setup/routing/publish", {})).status).toBe(409);
  });
  it("what can't be published says which field, and why", async () => {
    await api.post("/setup/routing/draft", {
      rules: [rule({ to: { group: "gone" } })],
      setAside: { keepOwner: true, household: true },
    });
    const refused = await api.post("/setup/routing/publish", {});
    expect(refused).toMatchObject({
      status: 422,
      body: { errors: [{ path: "rules.0.to" }], detail: "“All”: choose a group." },
    });
    const bad = await api.post("/setup/routing/draft", {
      rules: [{ ...rule(), offerMinutes: "soon" }],
      setAside: {},
    });
    expect(bad.body.errors.map((e: { path: string }) => e.path)).toContain("rules.0.offerMinutes");
  });
  it("a lead can be tried by live rules and by the draft", async () => {
    const id = await inquire();
    const { live } = (await api.get("/setup/routing")).body as { live: RuleSet };
    expect((await api.post("/setup/routing/try", { leadId: id, which: "draft" })).status).toBe(409);
    await api.post("/setup/routing/draft", {
      ...live,
      rules: [rule({ name: "Straight to Sol", to: { person: "p_sol" } })],
    });
    expect((await api.post("/setup/routing/try", { leadId: id })).body.outcome).toContain("Everybody else");
    expect((await api.post("/setup/routing/try", { leadId: id, which: "draft" })).body.outcome).toContain(
      "Straight to Sol",
    );
  });
});

describe("people who are away", () => {
  it("an absence lends what waits to whoever covers, and brings it back afterwards", async () => {
    const id = await inquire();
    const [who] = await asked(id);
    // Called once; the next call falls into the absence.
    await api.post(`/leads/${id}/tries`, { personId: who, channel: "call", outcome: "no-answer" });
    const { people } = (await api.get("/setup/people")).body;
    const person = people.find((p: { id: string }) => p.id === who);
    const absence = {
      from: "2026-03-04T17:00:00Z",
      to: "2026-03-05T17:00:00Z",
      reason: "dentist",
      coverId: "p_noor",
      waiting: "goes",
      after: "back",
    };
    expect((await api.post("/setup/people", { ...person, absences: [absence] })).status).toBe(200);
    await api.post("/rehearsal/clock", { to: "2026-03-04T17:00:30Z" });
    expect(await lead(id)).toMatchObject({ ownerId: "p_noor", coversFor: who, creditId: who });
    const week = (await api.get("/setup/people/week")).body;
    expect(week.people.find((p: { id: string }) => p.id === who).away[0]).toMatchObject({
      reason: "dentist",
      cover: "Noor Castellanos",
    });
    await api.post("/rehearsal/clock", { to: "2026-03-05T17:00:30Z" });
    expect(await lead(id)).toMatchObject({ ownerId: who, coversFor: null });
    const { items } = (await api.get(`/leads/${id}/events`)).body;
    expect(
      items.filter((e: { kind: string }) => e.kind === "given").map((e: { summary: string }) => e.summary),
    ).toEqual([expect.stringContaining("is away: dentist"), expect.stringContaining("is back")]);
  });
  it("going off duty does the same where somebody covers, and takes them out of every turn", async () => {
    const id = await inquire();
    const [who] = await asked(id);
    await api.post(`/leads/${id}/take`, { personId: who });
    const { people } = (await api.get("/setup/people")).body;
    const person = people.find((p: { id: string }) => p.id === who);
    await api.post("/setup/people", { ...person, cover: "p_noor" });
    await api.post(`/setup/people/${who}/duty`, { off: true });
    expect((await lead(id)).ownerId).toBe("p_noor");
    expect(await firstOf(6)).not.toContain(who);
    await api.post(`/setup/people/${who}/duty`, { off: false });
    expect((await lead(id)).ownerId).toBe(who);
  });
  it("many are moved at once; what can't be moved holds up none of the others", async () => {
    const ids = [await inquire(), await inquire(), await inquire()];
    for (const id of ids) await api.post(`/leads/${id}/take`, { personId: "p_mara" });
    await api.post(`/leads/${ids[1]}/close`, { reason: "No fit" });
    const listed = (await api.get("/leads?owner=p_mara&filter=open")).body.items.map(
      (l: { id: string }) => l.id,
    );
    expect(listed.sort()).toEqual([ids[0], ids[2]].sort());
    const many = { ids, do: "give", to: "p_sol", reason: "Mara leaves" };
    const { done, left } = (await api.post("/leads/many", many)).body;
    expect(done.map((d: { id: string }) => d.id)).toEqual([ids[0], ids[2]]);
    expect(left).toMatchObject([{ id: ids[1], why: expect.stringContaining("Reopen") }]);
    expect((await lead(ids[2]!)).ownerId).toBe("p_sol");
  });
});

describe("texting back", () => {
  it("1 takes, 2 passes with what stands after it, and neither makes a lead", async () => {
    const phones = Object.fromEntries(
      (await api.get("/people")).body.items.map((p: { id: string; phone: string }) => [p.id, p.phone]),
    );
    const text = (who: string, body: string) =>
      api.post("/rehearsal/text", { from: phones[who], to: "+17205550102", body });
    const first = await inquire();
    const [who] = await asked(first);
    await text(who!, "1");
    expect((await lead(first)).ownerId).toBe(who);
    const second = await inquire();
    const [other] = await asked(second);
    await text(other!, "2 at lunch");
    expect((await asked(second))[0]).not.toBe(other);
    const { items } = (await api.get(`/leads/${second}/events`)).body;
    expect(items.find((e: { kind: string }) => e.kind === "passed").data.reason).toBe("at lunch");
    await text("p_hanne", "1");
    expect((await api.get("/quarantine")).body.items[0].reason).toContain("nothing is offered to them");
    expect((await api.get("/leads")).body.items).toHaveLength(2);
    await api.post("/rehearsal/clock", { advance: "PT1S" });
    const texts = (await api.get("/rehearsal/outside?channel=text")).body.items;
    expect(
      texts.find(
        (m: { to: string; body: string }) => m.to === phones[who!] && m.body.startsWith("Yours: Lead"),
      ),
    ).toBeDefined();
  });
});

describe("playback and fair share", () => {
  const played = async (body: object) => {
    let run = (await api.post("/playbacks", body)).body;
    while (run.state === "running") run = (await api.get(`/playbacks/${run.id}`)).body;
    expect(run.error).toBeNull();
    return run.result;
  };
  it("the live rules change nothing; a draft shows who would have got what else", async () => {
    for (let i = 0; i < 9; i++) {
      const id = await inquire({ product: i % 3 === 0 ? "lodge" : "barrel" });
      if (i % 2 === 0) await api.post(`/leads/${id}/take`, { personId: (await asked(id))[0] });
      else await api.post(`/leads/${id}/pass`, { personId: (await asked(id))[0], reason: "Driving" });
    }
    await api.post("/rehearsal/clock", { advance: "PT30M" });
    const same = await played({ of: 1 });
    expect(same).toMatchObject({ inquiries: 9, changed: 0 });
    expect(same.rules.find((r: { name: string }) => r.name === "French speakers").fired).toBe(0);
    // As the reports have it.
    const shares = (await api.get("/fair-share")).body.groups as {
      people: { id: string; taken: number }[];
      offered: number;
    }[];
    const { items } = (await api.get("/leads")).body;
    let offers = 0;
    for (const { id } of items)
      offers += (await api.get(`/leads/${id}/events`)).body.items.filter(
        (e: { kind: string }) => e.kind === "offered",
      ).length;
    expect(shares.reduce((sum, g) => sum + g.offered, 0)).toBe(offers);
    const { live } = (await api.get("/setup/routing")).body as { live: RuleSet };
    await api.post("/setup/routing/draft", {
      ...live,
      rules: [rule({ id: "x", name: "All to Sol", to: { person: "p_sol" } })],
    });
    const other = await played({ of: "draft", roster: "now" });
    expect(other.changed).toBe(
      9 - (same.people.find((p: { id: string }) => p.id === "p_sol")?.offered.was ?? 0),
    );
    // Sol sells no lodges: those three go to standby.
    expect(other.people.find((p: { id: string }) => p.id === "p_sol").offered.would).toBe(6);
    expect(other.standby.would).toBe(3);
    expect(other.differences.map((d: { would: string }) => d.would)).toContain("Sol Petrakis");
    expect(other.differences[0].name).toMatch(/^Lead /);
    expect((await api.post("/playbacks", { of: 99 })).status).toBe(404);
    expect((await api.get("/playbacks/none")).status).toBe(404);
  });
});

import { describe, expect, it } from "vitest";
import type { z } from "zod";
import { ROLES } from "../../core/access/access.ts";
import type { Role } from "../../core/policy/people.ts";
import type { CallDefinition } from "../../web/calls/define.ts";
import { DOORS } from "../../web/calls/doors.ts";
import { CALLS } from "../../web/calls/table.ts";
import { Event, Lead, Problem, Queue, Sheet } from "../../web/wire/schemas.ts";
import { rehearsal } from "../support/rehearsal.ts";
import { PEOPLE } from "../support/server.ts";

/** The contract, made from the table of calls: each as every role, with nothing, with the wrong thing, and of nobody. */

const { server, api } = rehearsal();

/** Beginning again would end the test; what has no end is not waited for; moving time would make the rest fall due. */
const LEFT_OUT: readonly string[] = ["POST /rehearsal/begin", "GET /live", "POST /rehearsal/clock"];
const calls = Object.entries<CallDefinition>(CALLS).filter(([key]) => !LEFT_OUT.includes(key));
const ROLE_NAMES = Object.keys(PEOPLE) as Role[];

interface Answer {
  readonly status: number;
  readonly type: string;
  readonly body: unknown;
}

async function ask(key: string, as: Role, sent?: string): Promise<Answer> {
  const [method, pattern] = key.split(" ") as [string, string];
  const response = await fetch(
    `${server().origin}/api/v1${pattern.replace(/\[\w+\]/g, "nothing-by-this-id")}`,
    {
      method,
      redirect: "manual",
      headers: { "content-type": "application/json", cookie: `kb_me=${PEOPLE[as]}` },
      ...(sent !== undefined && { body: sent }),
    },
  );
  const type = response.headers.get("content-type") ?? "";
  const text = await response.text();
  return { status: response.status, type, body: type.includes("json") ? JSON.parse(text) : text };
}

const may = ({ needs }: CallDefinition, role: Role) =>
  ["anybody", "signed-in", "in-person", "rehearsal"].includes(needs) ||
  ROLES[role].some((right) => right === needs);
const takesJson = ([, call]: [string, CallDefinition]) => call.body !== undefined && !call.takes;
const isDoor = (key: string) => key in DOORS;
/** Something of another kind than any call takes. */
const WRONG = JSON.stringify([["nothing takes this"]]);

describe.each(ROLE_NAMES)("every call as a %s", (role) => {
  it("without a body: refused with a problem that says why, and never answered as if it had one", async () => {
    const wrong: string[] = [];
    for (const [key, call] of calls.filter(takesJson)) {
      if (isDoor(key)) continue;
      const { status, type, body } = await ask(key, role);
      const expected = !may(call, role) ? [403] : key.includes("[id]") ? [400, 404] : [400];
      if (!expected.includes(status) || !type.includes("problem+json") || !Problem.safeParse(body).success)
        wrong.push(`${key}: ${status} ${type}`);
    }
    expect(wrong).toEqual([]);
  });

  it("with the wrong body: 422, naming what is wrong", async () => {
    const wrong: string[] = [];
    for (const [key, call] of calls.filter(takesJson)) {
      if (isDoor(key)) continue;
      const { status, body } = await ask(key, role, WRONG);
      const expected = !may(call, role) ? [403] : key.includes("[id]") ? [404, 422] : [422];
      const told = Problem.safeParse(body);
      if (!expected.includes(status) || !told.success || (status === 422 && !told.data.errors?.length))
        wrong.push(`${key}: ${status} ${JSON.stringify(body).slice(0, 120)}`);
    }
    expect(wrong).toEqual([]);
  });

  it("of an id that nothing has: 404 where it is theirs to ask, 403 where not; nothing is made by asking", async () => {
    const wrong: string[] = [];
    const before = (await api.get("/leads")).body;
    for (const [key, call] of calls) {
      if (!key.includes("[id]") || call.takes) continue;
      const { status, body } = await ask(key, role, call.body ? "{}" : undefined);
      // What has to be filled in is asked for before anybody looks whose it is.
      const expected = may(call, role) ? [404, ...(call.body ? [422] : [])] : [403];
      if (!expected.includes(status)) wrong.push(`${key}: ${status} ${JSON.stringify(body).slice(0, 120)}`);
    }
    expect(wrong).toEqual([]);
    expect((await api.get("/leads")).body).toEqual(before);
  });
});

describe("what is answered", () => {
  it("is what the table says: every call that only looks, on a desk with a lead, as an administrator", async () => {
    const made = await api.post("/intake/plan-your-sauna", {
      name: "Wren Sorrel",
      phone: "303 555 0190",
      product: "barrel",
    });
    const id = made.body.leadId as string;
    const wrong: string[] = [];
    let looked = 0;
    for (const [key, { answer, gives }] of calls) {
      if (!key.startsWith("GET ") || gives || (key.includes("[") && !key.startsWith("GET /leads/[id]")))
        continue;
      const query =
        { "GET /outcomes": `?lead=${id}`, "GET /setup/holidays": "?country=US&year=2026" }[key] ?? "";
      const { body: templates } = await api.get("/setup/templates");
      const given = key === "GET /leads/[id]/merge" ? `?template=${templates.items[0].id}` : query;
      const { status, body } = await api.get(key.slice(4).replace("[id]", id) + given);
      const parsed = answer.safeParse(body);
      looked++;
      if (status !== 200 || !parsed.success)
        wrong.push(
          `${key}: ${status} ${parsed.error?.issues.map((i) => `${i.path.join(".")} ${i.message}`)}`,
        );
    }
    expect(wrong).toEqual([]);
    expect(looked).toBeGreaterThan(45);
  });

  it("of a lead at every stage of its way has the shape that is promised", async () => {
    const { body: made } = await api.post("/intake/plan-your-sauna", {
      name: "Alder Sorrel",
      phone: "303 555 0191",
      email: "alder@example.com",
      product: "cabin",
    });
    const id = made.leadId as string;
    const shapes = async () => {
      const looks: [string, z.ZodType, unknown][] = [
        ["lead", Lead, (await api.get(`/leads/${id}`)).body],
        ["sheet", Sheet, (await api.get(`/leads/${id}/sheet`)).body],
        ["queue", Queue, (await api.get("/queue?later")).body],
        ["events", Event.array(), (await api.get(`/leads/${id}/events?limit=200`)).body.items],
      ];
      return looks.flatMap(([name, schema, body]) => {
        const parsed = schema.safeParse(body);
        return parsed.success
          ? []
          : [`${name}: ${parsed.error.issues.map((i) => `${i.path.join(".")} ${i.message}`)}`];
      });
    };
    const acts: [string, object][] = [
      ["take", { personId: "p_mara" }],
      ["notes", { text: "Has a lot of snow" }],
      ["tries", { personId: "p_mara", channel: "call", outcome: "reached", note: "" }],
      ["facts", { company: "Alder & Sons" }],
      ["park", { reason: "Building starts in June" }],
      ["give", { to: "p_noor", reason: "Spanish" }],
      ["close", { reason: "Bought elsewhere" }],
    ];
    expect(await shapes()).toEqual([]);
    for (const [act, body] of acts) {
      const { status, body: answered } = await api.post(`/leads/${id}/${act}`, body);
      expect([act, status < 300, JSON.stringify(answered).slice(0, 200)]).toEqual([
        act,
        true,
        expect.any(String),
      ]);
      expect([act, await shapes()]).toEqual([act, []]);
    }
  });
});

describe("the document", () => {
  it("has every call of the table, what it takes and what it answers", async () => {
    const { paths, openapi } = (await api.get("/openapi.json")).body;
    expect(openapi).toBe("3.1.0");
    const missing = Object.entries<CallDefinition>(CALLS).filter(([key, call]) => {
      const [method, pattern] = key.split(" ") as [string, string];
      const told = paths[pattern.replace(/\[(\w+)\]/g, "{$1}")]?.[method.toLowerCase()];
      const names = [...pattern.matchAll(/\[(\w+)\]/g)].map((m) => m[1]);
      return !(
        told?.summary === call.said &&
        !!told.requestBody === !!(call.body ?? call.takes) &&
        told.responses[call.status ?? 200] &&
        names.every((name) =>
          told.parameters.some((p: { name: string; in: string }) => p.name === name && p.in === "path"),
        )
      );
    });
    expect(missing.map(([key]) => key)).toEqual([]);
    expect(Object.values<object>(paths).flatMap((p) => Object.keys(p))).toHaveLength(
      Object.keys(CALLS).length,
    );
  });
});

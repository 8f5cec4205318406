import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { call, Refused, upload } from "./api.ts";

/** Calls as the browser makes them: the path, what goes along, and what comes of every kind of answer. */

const sent: { url: string; init: RequestInit }[] = [];
let answer: () => Response | Promise<Response>;
const ok = (body: unknown, status = 200) => Response.json(body, { status });

beforeEach(() => {
  sent.length = 0;
  answer = () => ok({});
  vi.stubGlobal("fetch", async (url: string, init: RequestInit = {}) => {
    sent.push({ url, init });
    return answer();
  });
});
afterEach(() => vi.unstubAllGlobals());

describe("a call by its key", () => {
  it("that only looks sends nothing, and gives what is answered", async () => {
    answer = () => ok({ items: [], next: null });
    expect(await call("GET /people")).toEqual({ items: [], next: null });
    expect(sent).toEqual([{ url: "/api/v1/people", init: {} }]);
  });
  it("puts what is named into the path, safely", async () => {
    await call("GET /leads/[id]/sheet", { id: "lead/1?x" });
    expect(sent[0]!.url).toBe("/api/v1/leads/lead%2F1%3Fx/sheet");
  });
  it("asks only what was given, as text", async () => {
    await call("GET /leads", { query: { q: "Ana & Co", limit: 8, cursor: null, owner: undefined } });
    const { pathname, searchParams } = new URL(sent[0]!.url, "http://desk");
    expect(pathname).toBe("/api/v1/leads");
    expect([...searchParams]).toEqual([
      ["q", "Ana & Co"],
      ["limit", "8"],
    ]);
  });
  it("sends a body as JSON", async () => {
    await call("POST /leads/[id]/notes", { id: "lead_1", body: { text: "Has snow" } });
    expect(sent[0]).toMatchObject({
      url: "/api/v1/leads/lead_1/notes",
      init: {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify({ text: "Has snow" }),
      },
    });
  });
  it("that takes none sends none, and is a POST all the same", async () => {
    await call("POST /calls/[id]/hang-up", { id: "call_1" });
    expect(sent[0]!.init).toEqual({ method: "POST" });
  });
  it("keeps a file's own type, and says what it is called", async () => {
    const file = new File(["a,b"], "leads & more.csv", { type: "text/csv" });
    await upload("POST /imports/preview", file.name, file);
    expect(sent[0]!.url).toBe("/api/v1/imports/preview?name=leads+%26+more.csv");
    expect(sent[0]!.init).toMatchObject({
      method: "POST",
      headers: { "content-type": "text/csv" },
      body: file,
    });
  });
  it("names a file of no type by what any bytes are", async () => {
    await upload("POST /files", "x", new File(["x"], "x"));
    expect(sent[0]!.init.headers).toEqual({ "content-type": "application/octet-stream" });
  });
});

describe("an answer that is none", () => {
  it("is thrown with the server's words and the fields it names", async () => {
    const problem = {
      type: "about:blank",
      title: "Something is missing or wrong",
      status: 422,
      detail: "text: Write something.",
      errors: [{ path: "text", message: "Write something." }],
    };
    answer = () => ok(problem, 422);
    const refused = await call("GET /me").catch((error: unknown) => error);
    expect(refused).toBeInstanceOf(Refused);
    expect(refused).toMatchObject({ message: problem.detail, problem });
  });
  it("says what was answered when that is no JSON: a proxy's page, say", async () => {
    answer = () => new Response("<h1>Bad gateway</h1>", { status: 502 });
    await expect(call("GET /me")).rejects.toThrow("The desk answered 502.");
  });
  it("says that the desk can't be reached, and that nothing typed is lost", async () => {
    answer = () => Promise.reject(new TypeError("Failed to fetch"));
    await expect(call("GET /me")).rejects.toThrow("What you typed is kept here");
  });
  it("of nothing at all is taken for nothing", async () => {
    answer = () => new Response(null, { status: 204 });
    expect(await call("GET /calls")).toBeNull();
  });
});

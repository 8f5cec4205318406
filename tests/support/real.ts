import { afterAll, beforeAll } from "vitest";
import { dataFolder, type Running, startServer } from "./server.ts";

/** Somebody with a browser: follows no redirect, keeps the cookies it is given. */
export class Visitor {
  readonly #origin: () => string;
  readonly #headers: Readonly<Record<string, string>>;
  cookie = "";

  /** `headers` are sent with every request, such as an address a proxy would forward. */
  constructor(origin: () => string, headers: Readonly<Record<string, string>> = {}) {
    this.#origin = origin;
    this.#headers = headers;
  }

  /** Open a page; with `fields` send its form. */
  async go(path: string, fields?: Record<string, string>, headers: Record<string, string> = {}) {
    const response = await fetch(this.#origin() + path, {
      redirect: "manual",
      headers: {
        ...this.#headers,
        ...(this.cookie && { cookie: this.cookie }),
        ...(fields && { "sec-fetch-site": "same-origin" }),
        ...headers,
      },
      ...(fields && { method: "POST", body: new URLSearchParams(fields) }),
    });
    const set = response.headers.getSetCookie().map((c) => c.split(";")[0]!);
    if (set.length > 0) this.cookie = set.join("; ");
    return {
      status: response.status,
      location: response.headers.get("location"),
      headers: response.headers,
      text: await response.text(),
    };
  }

  /** Call the API. */
  async call(path: string, body?: unknown, headers: Record<string, string> = {}) {
    const response = await fetch(`${this.#origin()}/api/v1${path}`, {
      headers: {
        ...this.#headers,
        "content-type": "application/json",
        ...(this.cookie && { cookie: this.cookie }),
        ...headers,
      },
      ...(body !== undefined && {
        method: "POST",
        body: typeof body === "string" ? body : JSON.stringify(body),
      }),
    });
    const text = await response.text();
    const isJson = /json/.test(response.headers.get("content-type") ?? "");
    return { status: response.status, headers: response.headers, body: isJson ? JSON.parse(text) : text };
  }
}

export const ADA = { email: "ada@example.com", password: "seven small kites" };

/**
 * A real desk for the tests of one file, set up by Ada. It stands behind a proxy: each visitor has an address of their
 * own (RFC 5737), which the limits by address go by.
 */
export function realDesk(more: Readonly<Record<string, string>> = {}) {
  const env = { KITEBELL_PROXIES: "127.0.0.1", ...more };
  let addresses = 0;
  const from = () => ({ "x-forwarded-for": `198.51.100.${++addresses % 250}` });
  let running: Running;
  let folder: Awaited<ReturnType<typeof dataFolder>>;
  const origin = () => running.origin;
  const ada = new Visitor(origin, from());
  beforeAll(async () => {
    folder = await dataFolder();
    running = await startServer(folder.path, { real: true, env });
    const set = await ada.go("/sign-in", {
      ...ADA,
      company: "Acme",
      name: "Ada First",
      zone: "Europe/London",
    });
    if (set.status !== 302) throw new Error(`The desk could not be set up: ${set.text}`);
  });
  afterAll(async () => {
    await running.stop();
    await folder.remove();
  });
  let count = 0;
  return {
    ada,
    origin,
    folder: () => folder.path,
    visitor: (headers: Record<string, string> = {}) => new Visitor(origin, { ...from(), ...headers }),
    /** Enter somebody, invite them, and have them choose a password. */
    async hire(role: string, name = `Person ${++count}`) {
      const { people } = (await ada.call("/setup/people")).body;
      const email = `${name.toLowerCase().replaceAll(" ", ".")}@example.com`;
      const person = { ...people[0], id: "", name, role, email };
      const saved = (await ada.call("/setup/people", person)).body;
      const { id } = saved.people.find((p: { name: string }) => p.name === name);
      const { url } = (await ada.call(`/access/people/${id}/invite`, {})).body;
      const browser = new Visitor(origin, from());
      const joined = await browser.go(new URL(url).pathname, { password: "kites in the wind" });
      if (joined.location !== "/") throw new Error(joined.text);
      return { id: id as string, email, browser, person: { ...person, id } };
    },
    /** Stop the desk and start it again; `between` is done while it is down. */
    async restart(between: () => void = () => {}) {
      await running.stop();
      between();
      running = await startServer(folder.path, { real: true, env });
    },
  };
}

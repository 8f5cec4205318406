import { type ChildProcess, spawn } from "node:child_process";
import { existsSync } from "node:fs";
import { mkdtemp, rm } from "node:fs/promises";
import { type AddressInfo, createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";

const entry = join(import.meta.dirname, "../../dist/main.mjs");

/** A folder of its own for one test's data. */
export async function dataFolder(): Promise<{ path: string; remove: () => Promise<void> }> {
  const path = await mkdtemp(join(tmpdir(), "kite-bell-"));
  return { path, remove: () => rm(path, { recursive: true, force: true }) };
}

export interface Running {
  readonly origin: string;
  /** Where it receives mail over SMTP. */
  readonly mailPort: number;
  readonly process: ChildProcess;
  /** End it kindly, or with `SIGKILL` at once; resolves when it is gone. */
  stop(signal?: NodeJS.Signals): Promise<void>;
}

interface How {
  readonly args?: readonly string[];
  readonly env?: Readonly<Record<string, string>>;
  /** A real desk, as `npm start` starts it. */
  readonly real?: boolean;
  /** Further flags of node itself. */
  readonly node?: readonly string[];
}

/** Start the built server, in rehearsal unless it is to be real, on a free port; wait until it says it is ready. */
export async function startServer(
  data: string,
  { real = false, args = real ? [] : ["--demo", "--empty"], env = {}, node = [] }: How = {},
): Promise<Running> {
  if (!existsSync(entry)) throw new Error("There is no build to test. Run `npm run build` first.");
  const child = spawn(process.execPath, [...node, entry, "--port", "0", "--data", data, ...args], {
    env: { ...process.env, ...env },
    stdio: node.length > 0 ? ["ignore", "pipe", "pipe", "ipc"] : ["ignore", "pipe", "pipe"],
  });
  return running(child);
}

/** A server that was started just now, once it says that it is ready. */
export async function running(child: ChildProcess): Promise<Running> {
  const gone = new Promise<void>((resolve) => child.once("exit", () => resolve()));
  let said = "";
  const origin = await new Promise<string>((resolve, reject) => {
    child.stdout!.on("data", (chunk: Buffer) => {
      said += chunk;
      const ready = /ready at (\S+)/.exec(said);
      if (ready) resolve(ready[1]!);
    });
    child.stderr!.on("data", (chunk: Buffer) => {
      said += chunk;
    });
    void gone.then(() => reject(new Error(`The server ended before it was ready:\n${said}`)));
  });
  return {
    origin,
    mailPort: Number(/received on port (\d+)/.exec(said)![1]),
    process: child,
    stop: async (signal = "SIGTERM") => {
      child.kill(signal);
      await gone;
    },
  };
}

/** A client of the API as an integrator writes one. */
export function client(origin: string, key = "rehearsal") {
  const base = `${origin}/api/v1`;
  const send = async (method: string, path: string, body?: unknown, headers: Record<string, string> = {}) => {
    const response = await fetch(base + path, {
      method,
      headers: {
        authorization: `Bearer ${key}`,
        ...(body !== undefined && typeof body !== "string" && { "content-type": "application/json" }),
        ...headers,
      },
      ...(body !== undefined && { body: typeof body === "string" ? body : JSON.stringify(body) }),
    });
    const text = await response.text();
    const isJson = /json/.test(response.headers.get("content-type") ?? "");
    return {
      status: response.status,
      type: response.headers.get("content-type"),
      body: isJson ? JSON.parse(text) : text,
    };
  };
  return {
    get: (path: string, headers?: Record<string, string>) => send("GET", path, undefined, headers),
    post: (path: string, body?: unknown, headers?: Record<string, string>) =>
      send("POST", path, body, headers),
  };
}

/** Ask as somebody, by the cookie a rehearsal's browser has. */
export const asPerson =
  (origin: () => string) => async (person: string, method: "GET" | "POST", path: string, body?: unknown) => {
    const response = await fetch(`${origin()}/api/v1${path}`, {
      method,
      headers: {
        cookie: `kb_me=${person}`,
        origin: origin(),
        ...(body !== undefined && { "content-type": "application/json" }),
      },
      ...(body !== undefined && { body: JSON.stringify(body) }),
    });
    const text = await response.text();
    const isJson = /json/.test(response.headers.get("content-type") ?? "");
    return { status: response.status, body: isJson ? JSON.parse(text) : text };
  };

/** A port nobody listens on just now. */
export async function freePort(): Promise<number> {
  const probe = createServer();
  await new Promise<void>((resolve) => probe.listen(0, "127.0.0.1", resolve));
  const { port } = probe.address() as AddressInfo;
  await new Promise((resolve) => probe.close(resolve));
  return port;
}

/** Somebody of each role. */
export const PEOPLE = {
  salesperson: "p_mara",
  coordinator: "p_ines",
  manager: "p_greta",
  administrator: "p_oskar",
} as const;

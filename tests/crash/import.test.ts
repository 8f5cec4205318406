import { expect, it, vi } from "vitest";
import { Sql } from "../../server/db/sql.ts";
import { leadsOf } from "../../server/import/slices.ts";
import { verify } from "../../server/verify-desk.ts";
import { dataFolder, type Running, startServer } from "../support/server.ts";

const ROWS = 12_000;

/** A list in which every hundredth has no way to be reached and every fiftieth stands there twice. */
function table(): string {
  const lines = ["Name,Phone,Postal code"];
  for (let i = 1; i <= ROWS; i++) {
    const who = i % 50 === 0 ? i - 1 : i;
    const phone = i % 100 === 99 ? "" : `+1303${String(2_000_000 + who)}`;
    lines.push(`Visitor ${who},${phone},80${String(i % 1000).padStart(3, "0")}`);
  }
  return lines.join("\n");
}

interface Progress {
  readonly state: string;
  readonly done: number;
  readonly made: number;
  readonly joined: number;
  readonly rejected: number;
}

it("a list that is killed while it is loaded goes on where it was: each row once, and every lead can be found", async () => {
  const folder = await dataFolder();
  let server: Running = await startServer(folder.path);
  const call = async <T>(path: string, body?: string, type = "application/json"): Promise<T> => {
    const init = body === undefined ? {} : { method: "POST", body, headers: { "content-type": type } };
    return (await fetch(`${server.origin}/api/v1${path}`, init)).json() as Promise<T>;
  };
  const { fileId, fields } = await call<{ fileId: string; fields: object }>(
    "/imports/preview?name=l.csv",
    table(),
    "text/csv",
  );
  const options = {
    fileId,
    sourceId: "garden-show",
    fields,
    tags: [],
    route: false,
    name: "l.csv",
    total: ROWS,
  };
  const { id } = await call<{ id: string }>("/imports", JSON.stringify(options));
  let kills = 0;
  let wentOn = 0;
  // The first time as soon as it has begun: however long this process stands still, something is left to do.
  const again = async () => {
    await server.stop("SIGKILL");
    server = await startServer(folder.path);
    kills++;
    if ((await call<Progress>(`/imports/${id}`)).state === "running") wentOn++;
  };
  await again();
  // Asked now and then: asking without a pause would be most of the work.
  const next = () =>
    vi.waitFor(
      async () => {
        const now = await call<Progress>(`/imports/${id}`);
        const far = now.done > kills * 3_000 && kills < 4;
        if (now.state === "running" && !far) throw new Error(`still at ${now.done}`);
        return now;
      },
      { interval: 25, timeout: 120_000 },
    );
  let progress = await next();
  while (progress.state === "running") {
    await again();
    progress = await next();
  }
  expect(wentOn).toBeGreaterThan(0);
  // Of each hundred rows one is unreachable; its neighbour, who would be the same person, comes alone.
  expect(progress).toMatchObject({ state: "done", done: ROWS, made: 11_760, joined: 120, rejected: 120 });
  const found = await call<{ items: { inquiries: number }[] }>("/leads?q=%2B13032000049");
  expect(found.items.map((l) => l.inquiries)).toEqual([2]);
  const body = JSON.stringify({ phone: "+13032011998" });
  expect(await call("/intake/partners", body)).toMatchObject({ matched: "sure" });
  await server.stop();
  const sql = await Sql.open(`${folder.path}/kite-bell.db`);
  expect(verify(sql)).toMatchObject({ leads: 11_760, faults: [] });
  const contacts = sql.get(sql.q.selectFrom("contacts").select((eb) => eb.fn.countAll<number>().as("n")));
  expect(contacts?.n).toBe(11_760);
  expect([...leadsOf(sql, id)]).toHaveLength(11_880);
  sql.close();
  await folder.remove();
}, 480_000);

import AxeBuilder from "@axe-core/playwright";
import { test as base, expect, type Page } from "@playwright/test";
import { takeDemo } from "../support/demo.ts";
import { client, dataFolder, type Running, startServer } from "../support/server.ts";

interface Desk {
  readonly origin: string;
  readonly api: ReturnType<typeof client>;
}

interface Fixtures {
  /** A rehearsal without leads, at nine on a Wednesday, for one test alone. */
  readonly empty: Desk;
  /** The address of a real desk in an empty folder, which nobody has set up. */
  readonly nobodys: Pick<Running, "origin" | "mailPort">;
}

interface Shared {
  /** A desk that each test begins again. */
  readonly bare: Desk;
  /** The demo's desk with its history, shared by the tests of a worker. */
  readonly demo: Desk;
}

/** Tests with a desk to drive. */
export const test = base.extend<Fixtures, Shared>({
  empty: async ({ bare }, use) => {
    expect((await bare.api.post("/rehearsal/begin", { with: "empty" })).status).toBe(200);
    await bare.api.post("/rehearsal/clock", { to: "2026-03-04T16:00:00Z" });
    await use(bare);
  },
  // biome-ignore lint/correctness/noEmptyPattern: Playwright reads the names of the fixtures from this pattern
  nobodys: async ({}, use) => {
    const folder = await dataFolder();
    const server = await startServer(folder.path, { real: true });
    await use(server);
    await server.stop();
    await folder.remove();
  },
  bare: [
    // biome-ignore lint/correctness/noEmptyPattern: Playwright reads the names of the fixtures from this pattern
    async ({}, use) => {
      const folder = await dataFolder();
      const server = await startServer(folder.path);
      await use({ origin: server.origin, api: client(server.origin) });
      await server.stop();
      await folder.remove();
    },
    { scope: "worker" },
  ],
  demo: [
    // biome-ignore lint/correctness/noEmptyPattern: Playwright reads the names of the fixtures from this pattern
    async ({}, use) => {
      const folder = await dataFolder();
      await takeDemo(folder.path);
      const server = await startServer(folder.path, { args: ["--demo"] });
      await use({ origin: server.origin, api: client(server.origin) });
      await server.stop();
      await folder.remove();
    },
    { scope: "worker", timeout: 120_000 },
  ],
});

export { expect };

/** No rule of WCAG 2.2 A or AA that axe can check is broken, in the light or the dark theme. */
export async function expectAccessible(page: Page): Promise<void> {
  for (const theme of ["light", "dark"]) {
    await page.evaluate((t) => {
      document.documentElement.dataset.theme = t;
    }, theme);
    // Themes differ in nothing but colours: names, roles and structure are looked at once. Only what is wrong is told,
    // and no frame of another site is looked into: both cost most of the time and say nothing here.
    const { violations } = await new AxeBuilder({ page })
      .setLegacyMode(true)
      .options({
        resultTypes: ["violations"],
        runOnly:
          theme === "light"
            ? { type: "tag", values: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"] }
            : { type: "rule", values: ["color-contrast"] },
      })
      .analyze();
    const said = violations.map(
      (v) => `${v.id}: ${v.nodes.map((node) => `${node.target} ${node.failureSummary}`).join(" | ")}`,
    );
    expect(said, `${theme} theme`).toEqual([]);
  }
}

/** Wait as long over a form that lies open as a person takes at least: what is faster is held for a robot. */
export async function asAPerson(page: Page): Promise<void> {
  const open = await page.evaluate(() => performance.now());
  await page.waitForFunction((from) => performance.now() > from + 3_000, open);
}

let people = 0;

/** Hand in an inquiry by the website source; gives the lead's id. */
export async function inquire(desk: Desk, more: Record<string, string> = {}): Promise<string> {
  people++;
  const said = {
    name: `Visitor ${people}`,
    phone: `303 555 ${String(1000 + people)}`,
    product: "barrel",
    message: "Will it fit?",
    ...more,
  };
  return (await desk.api.post("/intake/plan-your-sauna", said)).body.leadId;
}

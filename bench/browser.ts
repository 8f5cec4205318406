import { gzipSync } from "node:zlib";
import { chromium } from "@playwright/test";
import { folderOf, percentile, report, start } from "./support.ts";

const OPENINGS = 7;

/** The Desk in headless Chromium on the demo's data: how much JavaScript, and how soon a key does something. */
export async function benchBrowser(): Promise<void> {
  const server = await start(await folderOf("browser"), []);
  const browser = await chromium.launch({
    executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
    args: ["--no-sandbox", "--disable-gpu", "--disable-background-networking"],
  });
  const scripts: Promise<number>[] = [];
  const times: number[] = [];
  for (let i = 0; i < OPENINGS; i++) {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    if (i === 0)
      page.on("response", (response) => {
        if (response.request().resourceType() === "script")
          scripts.push(response.body().then((body) => gzipSync(body).length));
      });
    const begun = performance.now();
    await page.goto(server.origin, { waitUntil: "commit" });
    await page.locator("[data-lead]").first().waitFor();
    await page.keyboard.press("n");
    await page.getByRole("dialog").waitFor();
    times.push(performance.now() - begun);
    await Promise.all(scripts);
    await context.close();
  }
  await browser.close();
  const bytes = (await Promise.all(scripts)).reduce((sum, n) => sum + n, 0);
  await server.stop();
  report("the Desk in headless Chromium, nothing cached", [
    ["JavaScript, gzipped (under 250 kB)", `${(bytes / 1000).toFixed(0)} kB`],
    [
      "from opening to a key's effect (under 1.5 s)",
      `median ${percentile(times, 0.5).toFixed(0)} ms, worst ${Math.max(...times).toFixed(0)} ms of ${OPENINGS}`,
    ],
  ]);
}

import { chromium } from "@playwright/test";
import { folderOf, percentile, report, start } from "./support.ts";

const DEALS = 2_000;
/** How long the deal is dragged about (ms). */
const DRAGGED = 6_000;

/** The board with 2,000 open deals in headless Chromium: how soon it stands, and how smoothly a deal is dragged over it. */
export async function benchBoard(): Promise<void> {
  const server = await start(await folderOf("board"), ["--empty"]);
  const post = async (path: string, body: object) => {
    const response = await fetch(`${server.origin}/api/v1${path}`, {
      method: "POST",
      headers: { authorization: "Bearer rehearsal", "content-type": "application/json" },
      body: JSON.stringify(body),
    });
    return (await response.json()) as Record<string, string>;
  };
  const stages = ["Looking at it", "Priced", "Deciding"];
  for (let n = 0; n < DEALS; n++) {
    const { id } = await post("/leads", {
      name: `Deal ${n}`,
      email: `d${n}@mail.example`,
      route: false,
      ownerId: "p_mara",
    });
    await post(`/leads/${id}/hand-over`, { contact: {}, deal: { value: 1_000 + n, stage: stages[n % 3] } });
  }
  const begun = performance.now();
  const answer = await fetch(`${server.origin}/api/v1/board`, {
    headers: { authorization: "Bearer rehearsal" },
  });
  const bytes = (await answer.arrayBuffer()).byteLength;
  const asked = performance.now() - begun;
  const browser = await chromium.launch({
    executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
    args: ["--no-sandbox", "--disable-gpu", "--disable-background-networking"],
  });
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  await context.addCookies([{ name: "kb_me", value: "p_oskar", url: server.origin }]);
  const page = await context.newPage();
  const opened = performance.now();
  await page.goto(`${server.origin}/board`, { waitUntil: "commit" });
  const tag = page.getByRole("button", { name: /^Deal \d+/ }).first();
  await tag.waitFor();
  const shown = performance.now() - opened;
  const box = await tag.boundingBox();
  if (!box) throw new Error("No deal is in sight.");
  await page.mouse.move(box.x + 30, box.y + 10);
  await page.mouse.down();
  await page.mouse.move(box.x + 60, box.y + 40, { steps: 5 });
  await page.evaluate(() => {
    const frames: number[] = [];
    (window as unknown as { frames: number[] }).frames = frames;
    let last = performance.now();
    const next = (now: number) => {
      frames.push(now - last);
      last = now;
      requestAnimationFrame(next);
    };
    requestAnimationFrame(next);
  });
  const until = performance.now() + DRAGGED;
  for (let n = 0; performance.now() < until; n++)
    await page.mouse.move(300 + 250 * Math.sin(n / 12), 420 + 220 * Math.cos(n / 17));
  const frames = await page.evaluate(() => (window as unknown as { frames: number[] }).frames.slice(2));
  await page.mouse.up();
  await browser.close();
  await server.stop();
  const mean = frames.reduce((sum, f) => sum + f, 0) / frames.length;
  report(`the board with ${DEALS} open deals`, [
    ["asked for over HTTP", `${asked.toFixed(0)} ms, ${(bytes / 1_000).toFixed(0)} kB`],
    ["from opening to the first deal", `${shown.toFixed(0)} ms`],
    ["while a deal is dragged (50 a second)", `${(1_000 / mean).toFixed(0)} frames a second`],
    ["a frame at p95", `${percentile(frames, 0.95).toFixed(1)} ms`],
  ]);
}

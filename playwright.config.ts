import { defineConfig } from "@playwright/test";

/** End-to-end tests drive the built app in Debian's headless Chromium; each worker starts its own server. */
export default defineConfig({
  testDir: "tests/e2e",
  // Pages wait as much as they work: two at a time even on two cores.
  workers: 2,
  // Bounds for what hangs, not for what is slow: a shared machine has been seen to stand still for fifty seconds, and to go at a quarter of its speed.
  timeout: 600_000,
  expect: { timeout: 60_000 },
  reporter: [["list"]],
  forbidOnly: true,
  use: {
    contextOptions: { reducedMotion: "reduce" },
    viewport: { width: 1280, height: 800 },
    // Recording every test costs a third of the time: `TRACE=retain-on-failure npm run test:e2e` when one fails.
    trace: process.env.TRACE === "retain-on-failure" ? "retain-on-failure" : "off",
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
      args: [
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
      ],
    },
  },
});

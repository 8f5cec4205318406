import { readFile } from "node:fs/promises";
import type { Page } from "@playwright/test";
import { expect, expectAccessible, inquire, test } from "./fixtures.ts";

/** Looking back: five pages of figures, each with what it means, its table and its leads. */

const be = (origin: string, person: string) => ({ name: "kb_me", value: person, url: origin });
const plot = (page: Page, name: string | RegExp) =>
  page.getByRole("region", { name, exact: typeof name === "string" });
const tab = (page: Page, name: string) => page.getByRole("tab", { name, exact: true });
const saved = async (page: Page, press: () => Promise<void>) => {
  const [download] = await Promise.all([page.waitForEvent("download"), press()]);
  return { name: download.suggestedFilename(), bytes: await readFile((await download.path())!) };
};

test("the five pages tell of the demo's weeks, go on by keyboard, and lead to tables, files and leads", async ({
  page,
  context,
  demo,
}) => {
  test.setTimeout(120_000);
  await context.addCookies([be(demo.origin, "p_greta")]);
  await page.goto(`${demo.origin}/`);
  await page.getByRole("navigation", { name: "Views" }).getByRole("link", { name: "Figures" }).click();
  const waiting = plot(page, "Share of leads still waiting");
  await expect(waiting).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText("until half had it", { exact: true })).toBeVisible();
  // The chart, its table and both files tell the same.
  await expect(waiting.getByRole("img", { name: /^Share still waiting\. first try: / })).toBeVisible();
  await waiting.getByRole("button", { name: "Table" }).click();
  await expect(waiting.getByRole("img").first()).toBeHidden();
  const rows = await waiting.getByRole("row").count();
  const csv = await saved(page, () => waiting.getByRole("button", { name: "CSV" }).click());
  expect(csv.name).toBe("response.csv");
  expect(csv.bytes.toString("utf8").split("\r\n")).toHaveLength(rows);
  await waiting.getByRole("button", { name: "Chart" }).click();
  const png = await saved(page, () => waiting.getByRole("button", { name: "PNG" }).click());
  expect([png.name, png.bytes.subarray(1, 4).toString("latin1")]).toEqual(["response.png", "PNG"]);
  expect(png.bytes.length).toBeGreaterThan(5_000);
  // By another group, and before against after; both stand in the address.
  await page.getByLabel("By", { exact: true }).selectOption({ label: "hour of the week" });
  await expect(plot(page, "By hour of the week they came in")).toBeVisible();
  await page.getByLabel("Before and after").fill("2026-02-10");
  await expect(plot(page, "Before and after")).toContainText("leads before");
  await page.reload();
  await expect(plot(page, "Before and after")).toBeVisible({ timeout: 30_000 });
  // The leads behind a figure, and on to one of them.
  const others = page.getByRole("button", { name: "the others" });
  await others.click();
  const behind = page.getByRole("dialog", { name: "Not tried within the target" });
  await expect(behind.getByText(/leads: not tried within the target\./)).toBeVisible();
  await expect(behind.getByRole("listitem").first().getByRole("link")).toHaveAttribute(
    "href",
    /^\/leads\?lead=/,
  );
  await page.keyboard.press("Escape");
  await expect(behind).toHaveCount(0);
  await expect(others).toBeFocused();
  // The other pages by the arrow keys.
  await tab(page, "Response").focus();
  await page.keyboard.press("ArrowRight");
  await expect(plot(page, "What one more try brought")).toBeVisible({ timeout: 30_000 });
  await expect(plot(page, "What an earlier first try was worth: won")).toContainText("It cannot show");
  await page.keyboard.press("ArrowRight");
  await expect(page.getByRole("table").getByRole("row", { name: /^All/ })).toBeVisible({ timeout: 30_000 });
  await page.keyboard.press("ArrowRight");
  await expect(page.getByRole("row", { name: /^Tomasz Lindqvist/ })).toContainText(
    "fewer, hardly by chance",
    {
      timeout: 30_000,
    },
  );
  await page.keyboard.press("ArrowRight");
  const week = plot(page, "On duty / needed");
  await expect(week).toBeVisible({ timeout: 30_000 });
  await expectAccessible(page);
  // One more on a Saturday is one more on duty.
  const saturday = async () =>
    (await week.getByRole("img").first().getAttribute("aria-label"))!
      .split("; ")
      .find((c) => c.startsWith("Sat 10:00"))!;
  const before = Number(/, (\d+) on duty/.exec(await saturday())![1]);
  await page.getByLabel("What if on").selectOption({ label: "Sat" });
  await expect.poll(async () => Number(/, (\d+) on duty/.exec(await saturday())![1])).toBe(before + 1);
  // What is out of bounds is said, and changes nothing.
  await page.getByLabel("Per cent in time").fill("120");
  await expect(page.getByRole("alert").filter({ hasText: "From 1 to 99." })).toBeVisible();
  await page.getByLabel("Per cent in time").fill("90");
  await expect(week).toContainText("So that 90 of 100 leads");
});

test("an empty desk says what will come, spend is entered and taken out, and sets itself against what came", async ({
  page,
  context,
  empty,
}) => {
  await context.addCookies([be(empty.origin, "p_ines")]);
  await page.goto(`${empty.origin}/figures?page=sources`);
  await expect(page.getByText("Nobody inquired in these days")).toBeVisible();
  await inquire(empty, { name: "Ana Ruiz", product: "barrel" });
  await page.reload();
  const row = page.getByRole("table").getByRole("row", { name: /^Website: plan your sauna/ });
  await expect(row).toBeVisible();
  await page.getByRole("button", { name: "Enter spend" }).click();
  const dialog = page.getByRole("dialog", { name: "What sources cost" });
  await expect(dialog.getByText("Nothing is entered yet")).toBeVisible();
  await dialog.getByLabel("Source", { exact: true }).selectOption({ label: "Website: plan your sauna" });
  await dialog.getByLabel("Month").fill("2026-03");
  await dialog.getByLabel("Amount").fill("120.50");
  await dialog.getByRole("button", { name: "Keep" }).click();
  await expect(dialog.getByRole("row", { name: /Website: plan your sauna/ })).toContainText("120.5 USD");
  await expectAccessible(page);
  // A table with a mistake is kept not at all, and says where the mistake is.
  const load = (text: string) =>
    dialog
      .getByLabel("Table of spend")
      .setInputFiles({ name: "spend.csv", mimeType: "text/csv", buffer: Buffer.from(text) });
  await load("source,month,amount\nad-barrel,2026-03,80\nnone such,2026-03,5\n");
  await expect(dialog.getByRole("alert")).toContainText("Line 3, source: there is no source “none such”.");
  await expect(dialog.getByRole("row")).toHaveCount(2);
  await load("source,month,amount\nad-barrel,2026-03,80\n");
  await expect(dialog.getByRole("row")).toHaveCount(3);
  await dialog
    .getByRole("row", { name: /barrel/ })
    .getByRole("button", { name: "Take out" })
    .click();
  await expect(dialog.getByRole("row")).toHaveCount(2);
  await dialog.getByRole("button", { name: "Close" }).click();
  await expect(row).toContainText("$121");
});

test("figures are read on a phone, in the dark, and not by a salesperson", async ({
  page,
  context,
  empty,
}) => {
  await inquire(empty, { name: "Bo Lind", product: "plunge" });
  await page.setViewportSize({ width: 390, height: 844 });
  await context.addCookies([be(empty.origin, "p_ines")]);
  await page.goto(`${empty.origin}/figures`);
  await expect(plot(page, "Share of leads still waiting")).toBeVisible();
  await page.evaluate(() => {
    document.documentElement.dataset.theme = "dark";
  });
  await expectAccessible(page);
  for (const name of ["Effort", "Sources", "People", "Staffing"]) {
    await tab(page, name).click();
    await expect(page.getByText("Reading the record")).toHaveCount(0);
    const wider = await page.evaluate(() => document.documentElement.scrollWidth - innerWidth);
    expect([name, wider]).toEqual([name, 0]);
  }
  await context.addCookies([be(empty.origin, "p_mara")]);
  await page.goto(`${empty.origin}/`);
  await page.getByRole("button", { name: "Menu" }).click();
  await expect(
    page.getByRole("navigation", { name: "More views" }).getByRole("link", { name: "Leads" }),
  ).toBeVisible();
  await expect(page.getByRole("link", { name: "Figures" })).toHaveCount(0);
  expect((await page.request.get(`${empty.origin}/api/v1/figures/response`)).status()).toBe(403);
});

test("how many are needed is found out by running the desk; one nobody came to says so", async ({
  page,
  context,
  empty,
}) => {
  await context.addCookies([be(empty.origin, "p_ines")]);
  await page.goto(`${empty.origin}/figures?page=staffing`);
  await page.getByRole("button", { name: "Find out by running the desk" }).click();
  await expect(
    page.getByRole("alert").filter({ hasText: "It could not be found out: Nobody new inquired" }),
  ).toBeVisible();
  for (let n = 0; n < 4; n++) await inquire(empty, { name: `Ana ${n}`, product: "barrel" });
  await page.reload();
  await page.getByRole("button", { name: "Find out by running the desk" }).click();
  const told = plot(page, "On duty / needed, by running the desk");
  await expect(told).toContainText("60 weeks were run with one on duty", { timeout: 120_000 });
  await told.getByRole("button", { name: "Table" }).click();
  await expect(told.getByRole("row", { name: /^Wed 9:00 \d+ (\d+|over \d+) \d+ [01]\.\d{4}/ })).toBeVisible();
  await expectAccessible(page);
});

test("the weekly letter is composed by choosing, seen as it arrives, kept over a reload, and sent", async ({
  page,
  context,
  empty,
}) => {
  await context.addCookies([be(empty.origin, "p_ines")]);
  await inquire(empty, { name: "Ana Ruiz", product: "barrel" });
  await empty.api.post("/rehearsal/clock", { advance: "P1D" });
  await page.goto(`${empty.origin}/figures?page=letter`);
  await expect(
    page.getByRole("status").filter({ hasText: "It goes out Mon 9 Mar 08:00 to Greta" }),
  ).toBeVisible();
  const mail = page.frameLocator('iframe[title="The letter as it arrives"]');
  await expect(mail.getByRole("heading", { name: "Sources" })).toBeVisible();
  // Pictures that could not be read would have no width.
  const widths = await mail
    .getByRole("img")
    .evaluateAll((all) => all.map((i) => (i as HTMLImageElement).naturalWidth));
  expect(new Set(widths)).toEqual(new Set([1280]));
  await expectAccessible(page);
  const parts = page.getByRole("group", { name: "What it tells" });
  await parts.getByRole("checkbox", { name: /^Sources/ }).uncheck();
  await expect(mail.getByRole("heading", { name: "Sources" })).toHaveCount(0);
  // By keyboard: staffing is put on top.
  const grip = parts.getByRole("button", { name: "Move Staffing" });
  await grip.focus();
  await page.keyboard.press("Space");
  for (let at = 5; at >= 1; at--) {
    await page.keyboard.press("ArrowUp");
    await expect(page.getByText(`Staffing is over place ${at}.`)).toBeAttached();
  }
  await page.keyboard.press("Space");
  await expect(mail.getByRole("heading", { level: 2 }).first()).toHaveText("Staffing, the week ahead");
  await page.getByLabel("On", { exact: true }).selectOption("Friday");
  await expect(page.getByText(/It goes out Fri 6 Mar 08:00/)).toBeVisible();
  await page.getByLabel("every manager").uncheck();
  await page.getByRole("group", { name: "To" }).getByRole("checkbox", { name: /^Ines/ }).check();
  await expect(
    page.getByText(/It goes out .* to .*Greta.*Ines|It goes out .* to .*Ines.*Greta/),
  ).toBeVisible();
  await page.reload();
  await expect(page.getByLabel("On", { exact: true })).toHaveValue("5");
  await expect(parts.getByRole("checkbox").first()).toHaveAccessibleName(/^Staffing/);
  await page.getByRole("button", { name: "As plain text" }).click();
  await expect(page.getByText("1 lead came in; 0 the week before.")).toBeVisible();
  await page.getByRole("button", { name: "Send me one now" }).click();
  await expect(page.getByText("Sent to you.")).toBeVisible();
  const arrived = async () => {
    const { body } = await empty.api.get("/rehearsal/outside");
    const mails = body.items as { to: string; subject?: string }[];
    return mails.filter((m) => m.subject?.startsWith("The lead desk")).map((m) => m.to);
  };
  await expect.poll(arrived).toEqual(["ines@tarnholt.example"]);
});

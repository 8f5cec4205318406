import type { Page } from "@playwright/test";
import { expect, expectAccessible, inquire, test } from "./fixtures.ts";

/** Cadences and rounds as people use them: by keyboard, in two browsers, on the phone. */

type Desk = Parameters<typeof inquire>[0];
const be = (origin: string, person: string) => ({ name: "kb_me", value: person, url: origin });
const heading = (page: Page) => page.locator("article h1");
const named = async (page: Page) => (await heading(page).textContent()) ?? "";
const progress = (page: Page) => page.getByTestId("progress");

/** Leads of Mara’s whose call is due today. */
async function due(desk: Desk, count: number): Promise<void> {
  for (let n = 1; n <= count; n++) {
    const id = await inquire(desk, { name: `Due ${String(n).padStart(2, "0")}` });
    await desk.api.post(`/leads/${id}/take`, { personId: "p_mara" });
    await desk.api.post(`/leads/${id}/tries`, { personId: "p_mara", channel: "call", outcome: "reached" });
    await desk.api.post(`/leads/${id}/next-step`, {
      kind: "call",
      note: "Call as agreed",
      dueAt: new Date(Date.parse("2026-03-05T16:30:00Z") + n * 60_000).toISOString(),
    });
  }
  await desk.api.post("/rehearsal/clock", { to: "2026-03-05T16:00:00Z" });
}

test("twenty leads to zero by keyboard alone, and a new inquiry steps in front", async ({
  page,
  context,
  empty,
}) => {
  test.setTimeout(120_000);
  await due(empty, 20);
  await context.addCookies([be(empty.origin, "p_mara")]);
  await page.goto(empty.origin);
  await expect(page.getByRole("region", { name: "Queue" })).toBeVisible();
  await page.keyboard.press("r");
  await expect(progress(page)).toContainText("0 of 20");
  const seen = new Set<string>();
  for (let n = 0; n < 20; n++) {
    const name = await named(page);
    expect(seen.has(name), `${name} comes twice`).toBe(false);
    seen.add(name);
    if (n === 0) await expect(page.getByRole("article")).toContainText("Call as agreed");
    if (n === 9) {
      // Put off to the end with a reason; it comes again.
      await page.keyboard.press("s");
      await expect(page.getByRole("dialog")).toBeVisible();
      await page.keyboard.press("1");
      seen.delete(name);
      await expect(heading(page)).not.toHaveText(name);
      seen.add(await named(page));
      await inquire(empty, { name: "Steps In Front", phone: "303 555 8801" }).then((id) =>
        empty.api.post(`/leads/${id}/take`, { personId: "p_mara" }),
      );
      await expect(page.getByRole("alert")).toContainText("Steps In Front steps in front");
      await page.keyboard.press("j");
      await expect(heading(page)).toHaveText("Steps In Front");
      await log(page, "1");
    }
    const before = await named(page);
    seen.add(before);
    await log(page, "1");
    if (n < 19) await expect(heading(page)).not.toHaveText(before);
  }
  await expect(page.getByRole("region", { name: "The end of the rounds" })).toContainText("Nothing is due");
  await expect(page.getByRole("region", { name: "The end of the rounds" })).toContainText("21");
  await expectAccessible(page);
  // What comes now steps up on its own.
  const id = await inquire(empty, { name: "One More", phone: "303 555 8802" });
  await empty.api.post(`/leads/${id}/take`, { personId: "p_mara" });
  await expect(heading(page)).toHaveText("One More");
});

/** Log what came of the call: one key for the dialog, one for the outcome. */
async function log(page: Page, key: string): Promise<void> {
  const before = await named(page);
  await page.keyboard.press("o");
  await expect(page.getByRole("dialog")).toBeVisible();
  await expect(page.getByRole("dialog").getByRole("button", { name: /Reached/ })).toBeVisible();
  await page.keyboard.press(key);
  await expect(page.getByRole("dialog")).toHaveCount(0);
  await expect(heading(page).filter({ hasText: before })).toHaveCount(0);
}

test("two browsers never meet on the same lead, and each sees who has it", async ({
  page,
  context,
  browser,
  empty,
}) => {
  await due(empty, 3);
  await context.addCookies([be(empty.origin, "p_ines")]);
  const other = await browser.newContext();
  await other.addCookies([be(empty.origin, "p_greta")]);
  const second = await other.newPage();
  await page.goto(`${empty.origin}/rounds`);
  const first = await named(page);
  await second.goto(`${empty.origin}/rounds`);
  await expect(heading(second)).not.toHaveText(first);
  const theirs = await named(second);
  // The one that is left goes to whoever is first; the other hears whose the rest are.
  await page.keyboard.press(".");
  await expect(heading(page)).not.toHaveText(first);
  await expect(heading(page)).not.toHaveText(theirs);
  await second.keyboard.press(".");
  await expect(heading(second)).toHaveText(first);
  await page.goto(empty.origin);
  await expect(page.getByRole("region", { name: "Queue" })).toBeVisible();
  await other.close();
});

test("a cadence is drawn, changed, published and begun; the sheet tells where it stands and steers it", async ({
  page,
  context,
  empty,
}) => {
  test.setTimeout(120_000);
  await context.addCookies([be(empty.origin, "p_oskar")]);
  await page.goto(`${empty.origin}/setup/cadences`);
  await page.getByRole("button", { name: "Begin a cadence" }).click();
  await page.getByRole("region", { name: "The rest" }).getByLabel("Name").fill("Spring");
  await page.getByRole("button", { name: /^1\. a call/ }).click();
  await page.getByLabel("What", { exact: true }).selectOption({ label: "an email" });
  await page.getByLabel("What it says").fill("Hello {{ lead.shoe }}");
  await page.getByRole("button", { name: "Publish" }).click();
  await expect(
    page.getByRole("status").or(page.getByRole("alert")).filter({ hasText: "shoe" }).first(),
  ).toBeVisible();
  await page.getByLabel("What it says").fill("Hello {{ lead.first_name }}");
  await page.getByLabel("Subject").fill("Is it time?");
  await page.getByRole("button", { name: "Add a touch" }).click();
  await page.getByLabel("What to say").fill("Ask how it went");
  // The score shows both at their distance, and what to look at.
  await expect(page.locator("figure svg g[data-kind=email]")).toHaveCount(1);
  await expect(page.locator("figure svg g[data-kind=call]")).toHaveCount(1);
  await expectAccessible(page);
  await page.reload();
  await expect(page.getByRole("button", { name: /^2\. a call: Ask how it went/ })).toBeVisible();
  await page.getByRole("button", { name: "Publish" }).click();
  await expect(page.getByText("In force as version 1.")).toBeVisible();
  await page.getByRole("button", { name: "‹ All cadences" }).click();
  await expect(page.getByRole("listitem").filter({ hasText: "Spring" })).toContainText("live · version 1");

  const id = await inquire(empty, { name: "Odile Waits", email: "odile@example.com" });
  await empty.api.post(`/leads/${id}/take`, { personId: "p_oskar" });
  await empty.api.post(`/leads/${id}/tries`, { personId: "p_oskar", channel: "call", outcome: "reached" });
  await page.goto(`${empty.origin}/?lead=${id}`);
  await expect(page.getByRole("heading", { name: "Odile Waits" })).toBeVisible();
  await page.keyboard.press("a");
  await page.getByLabel("Cadence", { exact: true }).selectOption({ label: "Spring" });
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "Start", exact: true }).click();
  const lines = page.getByRole("region", { name: "Cadences" });
  await expect(lines).toContainText("Spring next mail tomorrow");
  await page.keyboard.press("u");
  await expect(lines).toHaveCount(0);
  await page.keyboard.press("a");
  await page.getByLabel("Cadence", { exact: true }).selectOption({ label: "Spring" });
  await page.getByRole("button", { name: "Start", exact: true }).click();
  await lines.getByRole("button", { name: "Cadence ▾" }).click();
  await page.getByRole("menuitem", { name: "Pause …" }).click();
  await page.getByLabel("Until (their time)").fill("friend");
  await expect(page.getByRole("dialog")).toContainText("Not understood");
  await page.getByLabel("Until (their time)").fill("in 2 weeks");
  await expect(page.getByRole("dialog")).toContainText("18 Mar");
  await page.getByRole("button", { name: "Pause", exact: true }).click();
  await expect(lines).toContainText("pauses: paused by hand");
  // A reply stops it, and stands on top.
  await empty.api.post("/rehearsal/email", {
    from: "odile@example.com",
    to: "hello@tarnholt.example",
    subject: "Re",
    body: "Yes, it is time.",
  });
  await expect(lines).toContainText("Spring: they wrote");
});

test("on the phone a salesperson does the rounds with a thumb", async ({ page, context, empty }) => {
  await due(empty, 2);
  await page.setViewportSize({ width: 390, height: 844 });
  await context.addCookies([be(empty.origin, "p_mara")]);
  await page.goto(`${empty.origin}/rounds`);
  const call = page.getByRole("button", { name: "Call", exact: true });
  await expect(call).toBeVisible();
  const box = (await call.boundingBox())!;
  expect(box.y).toBeGreaterThan(600);
  expect(box.height).toBeGreaterThanOrEqual(44);
  // Nothing is wider than the phone.
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  const first = await named(page);
  await page.getByRole("button", { name: "Not today" }).click();
  await page.getByLabel("Or in words, their time").fill("next monday");
  await expect(page.getByRole("dialog")).toContainText("That is Mon 09:00");
  await page.getByRole("button", { name: "Set it" }).click();
  await expect(heading(page)).not.toHaveText(first);
  await expect(progress(page)).toContainText("1 of 2");
  await expectAccessible(page);
});

test("figures of a cadence lead to their leads", async ({ page, context, demo }) => {
  await context.addCookies([be(demo.origin, "p_oskar")]);
  await page.goto(`${demo.origin}/setup/cadences?cadence=cad_not_reached&look=figures`);
  await expect(page.getByRole("region", { name: "Version 1" })).toContainText("they were reached");
  const figure = page.getByRole("button", { name: /replied at touch 3$/ });
  const count = Number(await figure.textContent());
  expect(count).toBeGreaterThan(5);
  await figure.click();
  await expect(page.getByRole("dialog").getByRole("listitem")).toHaveCount(count);
  await expectAccessible(page);
});

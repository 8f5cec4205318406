import type { Page } from "@playwright/test";
import { expect, expectAccessible, inquire, test } from "./fixtures.ts";

/** Search from every view, the day in figures, and the same done with many: as people go about it. */

const be = (origin: string, person: string) => ({ name: "kb_me", value: person, url: origin });
const box = (page: Page) =>
  page.getByRole("combobox", { name: "Find a lead" }).or(page.getByLabel("Find a lead"));
const option = (page: Page) => page.getByRole("listbox", { name: "Found leads" }).getByRole("option");

test("search forgives a typing error, marks what was found, and finds notes, numbers, places and things to do", async ({
  page,
  context,
  empty,
}) => {
  const id = await inquire(empty, { name: "Tendai Whitcombe", phone: "(303) 555-0172" });
  await inquire(empty, { name: "Bo Lind" });
  await empty.api.post(`/leads/${id}/notes`, {
    personId: "p_ines",
    text: "Needs snow load papers for the roof",
  });
  await context.addCookies([be(empty.origin, "p_ines")]);
  // From a view that is not the Desk, by Ctrl and K, also while a field has the focus.
  await page.goto(`${empty.origin}/board`);
  await expect(box(page)).toBeVisible();
  await page.keyboard.press("Control+k");
  await page.keyboard.type("whitkombe");
  await expect(option(page)).toHaveCount(1);
  await expect(option(page).locator("mark")).toHaveText("Whitcombe");
  await expectAccessible(page);
  await box(page).fill("0172");
  await expect(option(page).locator("mark")).toHaveText("0172");
  await box(page).fill("snow papers");
  await expect(option(page).locator("mark")).toHaveText(["snow", "papers"]);
  await expect(option(page)).toContainText("written here");
  await box(page).fill("zzyzx");
  await expect(page.getByText("Nothing has “zzyzx”")).toBeVisible();
  // A place, and something to do, by their names.
  await box(page).fill("desk hours");
  await expect(option(page)).toHaveText(["→ Set-up: Desk hours"]);
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { level: 1, name: "Desk hours" })).toBeVisible();
  await page.keyboard.press("/");
  await page.keyboard.type("new inq");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("dialog")).toBeVisible();
  await page.keyboard.press("Escape");
  // And a lead opens where one is.
  await page.goto(`${empty.origin}/leads`);
  await expect(page.locator("button[data-row]")).toHaveCount(2);
  await page.keyboard.press("/");
  await page.keyboard.type("tendai");
  await expect(option(page)).toHaveCount(1);
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { level: 1, name: "Tendai Whitcombe" })).toBeVisible();
  await expect(page).toHaveURL(/\/leads\?lead=/);
});

test("a salesperson finds by what was written only what is theirs", async ({ page, context, empty }) => {
  const hers = await inquire(empty, { name: "Ana Ruiz", message: "About the tarn view" });
  const his = await inquire(empty, { name: "Bo Lind", message: "About the tarn path" });
  for (const [id, to] of [
    [hers, "p_mara"],
    [his, "p_luc"],
  ])
    await empty.api.post(`/leads/${id}/give`, { to, reason: "x" });
  await context.addCookies([be(empty.origin, "p_mara")]);
  await page.goto(empty.origin);
  await page.getByLabel("Find a lead").fill("tarn");
  await expect(option(page)).toHaveCount(1);
  await expect(option(page)).toContainText("Ana Ruiz");
});

test("the day leads from its figures to their leads, goes back a day, and hangs on the wall", async ({
  page,
  context,
  empty,
}) => {
  await inquire(empty, { name: "Ana Ruiz" });
  await inquire(empty, { name: "Bo Lind" });
  await context.addCookies([be(empty.origin, "p_greta")]);
  await page.goto(`${empty.origin}/today`);
  const figure = (name: string) => page.getByRole("listitem").filter({ hasText: name }).locator("b");
  await expect(figure("to answer")).toHaveText("2");
  await expect(figure("came in")).toHaveText("2");
  await expectAccessible(page);
  // Live: one more comes, and the figure moves.
  await inquire(empty, { name: "Cleo Marsh" });
  await expect(figure("to answer")).toHaveText("3");
  await page.getByRole("link", { name: /to answer/ }).click();
  await expect(page.getByText("Where state is to be answered now.")).toBeVisible();
  await expect(page.locator("button[data-row]")).toHaveCount(3);
  await page.goBack();
  await page.getByRole("button", { name: "The day before" }).click();
  await expect(figure("came in")).toHaveText("0");
  await expect(page.getByRole("heading", { level: 1 })).not.toHaveText("Today");
  await expect(page.getByRole("listitem").filter({ hasText: "to answer" })).toHaveCount(0);
  await page.getByRole("button", { name: "Today", exact: true }).click();
  await page.getByRole("button", { name: "For the wall" }).click();
  const wall = page.getByRole("main", { name: "The day, for the wall" });
  await expect(wall).toBeVisible();
  await expect(page.getByRole("navigation", { name: "Views" })).toHaveCount(0);
  // Readable from three metres: a figure is a sixth of the screen’s height.
  const high = (await wall.locator("b").first().boundingBox())!.height;
  expect(high).toBeGreaterThan(800 / 6);
  await expectAccessible(page);
  await page.getByRole("button", { name: "Back" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "Today" })).toBeVisible();
});

test("my day lists what I did, and takes it back", async ({ page, context, empty }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  const id = await inquire(empty, { name: "Ana Ruiz" });
  await empty.api.post(`/leads/${id}/take`, { personId: "p_mara" });
  await empty.api.post(`/leads/${id}/tries`, { personId: "p_mara", channel: "call", outcome: "voicemail" });
  await context.addCookies([be(empty.origin, "p_mara")]);
  await page.goto(`${empty.origin}/today`);
  const mine = page.getByRole("region", { name: "My day" });
  const done = mine.getByRole("listitem").filter({ hasText: "voicemail" });
  await expect(done).toHaveCount(1);
  await expect(page.getByText("to zero")).toHaveCount(0);
  await expectAccessible(page);
  await done.getByRole("button", { name: "Undo" }).click();
  await expect(done.getByRole("button", { name: "Undo" })).toHaveCount(0);
  await expect.poll(async () => (await empty.api.get(`/leads/${id}`)).body.tries).toBe(0);
});

test("all of a filter are tagged at once, with what it comes to said before, and taken back by a key", async ({
  page,
  context,
  empty,
}) => {
  for (let n = 0; n < 4; n++)
    await inquire(empty, { name: `Visitor ${n}`, product: n % 2 ? "plunge" : "barrel" });
  await context.addCookies([be(empty.origin, "p_ines")]);
  const where = JSON.stringify({ all: [{ field: "product", is: "equal", value: "plunge" }] });
  await page.goto(`${empty.origin}/leads?where=${encodeURIComponent(where)}`);
  await expect(page.locator("button[data-row]")).toHaveCount(2);
  await page.locator("tbody input[type=checkbox]").first().click();
  const bar = page.getByRole("toolbar", { name: "What to do with them" });
  await bar.getByRole("button", { name: "All 2 of the list" }).click();
  await expect(bar).toContainText("2 leads");
  await bar.getByRole("button", { name: "Tag", exact: true }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("Tags, separated by commas").fill("spring, warm");
  await expect(dialog.getByRole("status")).toContainText("2 of 2");
  await expectAccessible(page);
  await dialog.getByRole("button", { name: "Tag", exact: true }).click();
  await expect(page.getByText("2 leads tagged spring, warm.")).toBeVisible();
  const tagged = async () => {
    const tags = JSON.stringify({ all: [{ field: "tag", is: "equal", value: "warm" }] });
    return (await empty.api.get(`/leads?where=${encodeURIComponent(tags)}`)).body.count;
  };
  await expect.poll(tagged).toBe(2);
  await page.keyboard.press("u");
  await expect.poll(tagged).toBe(0);
});

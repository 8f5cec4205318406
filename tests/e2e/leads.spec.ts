import { readFile } from "node:fs/promises";
import type { Page } from "@playwright/test";
import { expect, expectAccessible, inquire, test } from "./fixtures.ts";

/** Every lead in one table: filtered in words, kept as a list, opened and marked by keyboard and mouse, on the phone too. */

const be = (origin: string, person: string) => ({ name: "kb_me", value: person, url: origin });
const names = (page: Page) => page.locator("button[data-row]");
const heading = (page: Page) => page.getByRole("heading", { level: 1 }).first();

test("leads are filtered in words, the filter is kept as a list, and is there for colleagues and after a reload", async ({
  page,
  context,
  empty,
}) => {
  for (const [name, product] of [
    ["Ana Ruiz", "barrel"],
    ["Bo Lind", "plunge"],
    ["Cleo Marsh", "barrel"],
  ])
    await inquire(empty, { name: name!, product: product! });
  await context.addCookies([be(empty.origin, "p_ines")]);
  await page.goto(`${empty.origin}/leads`);
  await expect(names(page)).toHaveCount(3);
  await expect(page.getByText("A filter you use again is kept here")).toBeVisible();
  await page.keyboard.press("l");
  await page.getByRole("button", { name: "Only when …" }).click();
  const filter = page.getByRole("region", { name: "Filter" });
  await filter.locator("select").last().selectOption({ label: "Plunge tub" });
  await expect(page.getByText("Where product is Plunge tub.")).toBeVisible();
  await expect(names(page)).toHaveText(["Bo Lind"]);
  await expectAccessible(page);
  await page.getByRole("button", { name: "Keep as a list" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("Name").fill("Plunge tubs");
  await dialog.getByLabel("Who sees it").selectOption("everybody");
  await dialog.getByRole("button", { name: "Keep as a new list" }).click();
  await expect(heading(page)).toHaveText("Plunge tubs");
  const rail = page.getByRole("navigation", { name: "Lists" });
  await expect(rail.getByRole("button", { name: /^Plunge tubs/ })).toContainText("1");
  // One more comes: the count moves by itself, here and in the rail.
  await inquire(empty, { name: "Dag Olsen", product: "plunge" });
  await expect(page.getByRole("status").filter({ hasText: /^2/ })).toBeVisible();
  await expect(rail.getByRole("button", { name: /^Plunge tubs/ })).toContainText("2");
  await page.reload();
  await expect(heading(page)).toHaveText("Plunge tubs");
  await expect(names(page)).toHaveCount(2);
  // Changed and put back, without the list being touched.
  await page.getByRole("button", { name: "Name", exact: true }).click();
  await expect(names(page)).toHaveText(["Bo Lind", "Dag Olsen"]);
  await page.getByRole("button", { name: "Name", exact: false }).first().click();
  await expect(names(page)).toHaveText(["Dag Olsen", "Bo Lind"]);
  await page.getByRole("button", { name: "As it was" }).click();
  await expect(page.getByRole("button", { name: "As it was" })).toHaveCount(0);
  // A colleague finds it, may not change it, and keeps it under a name of their own.
  await context.addCookies([be(empty.origin, "p_mara")]);
  await page.reload();
  await page
    .getByRole("navigation", { name: "Lists" })
    .getByRole("button", { name: /^Plunge tubs/ })
    .click();
  await page.getByRole("button", { name: "Keep", exact: true }).click();
  await expect(page.getByRole("dialog").getByRole("button", { name: "Keep as a new list" })).toBeVisible();
  await expect(page.getByRole("button", { name: "Remove the list" })).toHaveCount(0);
});

test("the table is walked by the keyboard with the sheet beside it, and many are marked in one stretch and given", async ({
  page,
  context,
  empty,
}) => {
  for (let n = 0; n < 6; n++) await inquire(empty, { name: `Visitor No ${n}` });
  await context.addCookies([be(empty.origin, "p_ines")]);
  await page.goto(`${empty.origin}/leads`);
  await expect(names(page)).toHaveCount(6);
  await names(page).first().focus();
  await page.keyboard.press("ArrowDown");
  await expect(names(page).nth(1)).toBeFocused();
  await page.keyboard.press("Enter");
  const sheet = page.getByRole("heading", { level: 1 }).last();
  await expect(sheet).toHaveText((await names(page).nth(1).textContent())!);
  await names(page).nth(1).focus();
  await page.keyboard.press("ArrowDown");
  await expect(sheet).toHaveText((await names(page).nth(2).textContent())!);
  await page.keyboard.press("Escape");
  await expect(page).not.toHaveURL(/lead=/);
  await expect(names(page).nth(2)).toBeFocused();
  const boxes = page.locator("tbody input[type=checkbox]");
  await boxes.nth(1).click();
  await boxes.nth(4).click({ modifiers: ["Shift"] });
  const bar = page.getByRole("toolbar", { name: "What to do with them" });
  await expect(bar).toContainText("4 leads");
  await expectAccessible(page);
  await bar.getByRole("button", { name: "Give to…" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("Person or group").selectOption("p_noor");
  await dialog.getByLabel("Why: both sides read it").fill("Noor has time today");
  await dialog.getByRole("button", { name: "Give", exact: true }).click();
  await expect(bar).toHaveCount(0);
  await expect(page.getByRole("cell", { name: "Noor Castellanos", exact: true })).toHaveCount(4);
  // The rows may be there before it is said that it can be taken back.
  await expect(page.getByRole("button", { name: "Undo" })).toBeVisible();
  await page.keyboard.press("u");
  await expect(page.getByRole("cell", { name: "Noor Castellanos", exact: true })).toHaveCount(0);
});

test("columns are chosen, ordered and pulled wide, and the table taken along is the same", async ({
  page,
  context,
  empty,
}) => {
  await inquire(empty, { name: "Ana Ruiz", company: "Cedar Inn" });
  await context.addCookies([be(empty.origin, "p_ines")]);
  await page.goto(`${empty.origin}/leads`);
  await page.getByRole("button", { name: "Columns" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("Add a column").selectOption({ label: "Company" });
  await dialog
    .getByRole("listitem")
    .filter({ hasText: "Product" })
    .getByRole("button", { name: "Remove" })
    .click();
  await expectAccessible(page);
  await page.keyboard.press("Escape");
  const heads = page.locator("thead th");
  await expect(heads.last()).toHaveText("Company");
  await expect(heads.filter({ hasText: "Product" })).toHaveCount(0);
  await expect(page.getByRole("cell", { name: "Cedar Inn" })).toBeVisible();
  const wide = heads.filter({ hasText: "Stage" });
  const box = await wide.boundingBox();
  await page.mouse.move(box!.x + box!.width - 4, box!.y + 10);
  await page.mouse.down();
  await page.mouse.move(box!.x + box!.width + 96, box!.y + 10, { steps: 4 });
  await page.mouse.up();
  await expect.poll(async () => Math.round((await wide.boundingBox())!.width - box!.width)).toBe(100);
  await page.getByRole("button", { name: /^Export/ }).click();
  const coming = page.waitForEvent("download");
  await page.getByRole("menuitem", { name: "CSV table" }).click();
  const table = await readFile(await (await coming).path(), "utf8");
  expect(table.split("\r\n")[0]).toBe((await heads.allTextContents()).map((t) => t.trim()).join(","));
  // Widths are this browser's: they are there the next time.
  await page.reload();
  await page.getByRole("button", { name: "Columns" }).waitFor();
  expect(await page.evaluate(() => localStorage.getItem("kb_list_widths"))).toContain("stage");
});

test("a filter that fits nobody says so, and one a salesperson asks finds only what is theirs", async ({
  page,
  context,
  empty,
}) => {
  const hers = await inquire(empty, { name: "Ana Ruiz" });
  await inquire(empty, { name: "Bo Lind" });
  await empty.api.post(`/leads/${hers}/give`, { to: "p_mara", reason: "x" });
  await empty.api.post(`/leads/${hers}/take`, { personId: "p_mara" });
  await context.addCookies([be(empty.origin, "p_mara")]);
  await page.goto(`${empty.origin}/leads`);
  await expect(page.getByText("Every lead that is yours.")).toBeVisible();
  await expect(names(page).filter({ hasText: "Ana Ruiz" })).toBeVisible();
  await page.getByRole("button", { name: /^Filter/ }).click();
  await page.getByRole("button", { name: "Only when …" }).click();
  await page
    .getByRole("region", { name: "Filter" })
    .locator("select")
    .last()
    .selectOption({ label: "Lodge package" });
  await expect(page.getByText("No lead fits")).toBeVisible();
  await expect(page.getByRole("checkbox")).toHaveCount(0);
});

test("on a phone a lead is a card, lists lie above, and back leads back", async ({
  page,
  context,
  empty,
}) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await inquire(empty, { name: "Ana Ruiz" });
  await context.addCookies([be(empty.origin, "p_ines")]);
  await page.goto(`${empty.origin}/leads`);
  await expect(names(page)).toHaveText(["Ana Ruiz"]);
  const card = page.getByRole("row").filter({ hasText: "Ana Ruiz" });
  expect((await card.boundingBox())!.height).toBeGreaterThanOrEqual(56);
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await expectAccessible(page);
  await names(page).first().click();
  await expect(page.getByRole("heading", { level: 1, name: "Ana Ruiz" })).toBeVisible();
  await page.goBack();
  await expect(names(page)).toHaveText(["Ana Ruiz"]);
});

test("a list is pinned on top, watched, sent by itself, and is where one begins", async ({
  page,
  context,
  empty,
}) => {
  await inquire(empty, { name: "Ana Ruiz", product: "barrel" });
  await context.addCookies([be(empty.origin, "p_ines")]);
  const kept = await empty.api.post("/lists", {
    name: "Barrels",
    where: { all: [{ field: "product", is: "equal", value: "barrel" }] },
    columns: ["name", "came"],
    shared: "desk",
  });
  await page.goto(`${empty.origin}/leads?list=${kept.body.id}`);
  await expect(heading(page)).toHaveText("Barrels");
  await expect(page.getByRole("button", { name: /^Lists/ })).toHaveCount(0);
  await page.getByRole("button", { name: "Pin Barrels" }).click();
  const top = page.getByRole("banner").getByRole("button", { name: /^Lists/ });
  await expect(top).toBeVisible();
  await page.getByRole("button", { name: "Watch", exact: true }).click();
  const dialog = page.getByRole("dialog", { name: "Watch “Barrels”" });
  await dialog.getByLabel("Begin here").check();
  await expect(dialog.getByLabel("Begin here")).toBeChecked();
  await dialog.getByLabel("Tell me of each lead that comes into it").check();
  const most = dialog.getByLabel("Tell me when it has more leads than");
  await most.fill("many");
  await expect(dialog.getByText("Give a number of leads, or nothing for never.")).toBeVisible();
  await most.fill("40");
  await most.press("Enter");
  await expect
    .poll(async () => (await (await page.request.get(`${empty.origin}/api/v1/lists`)).json()).items[0].tell)
    .toEqual({ enters: true, over: 40 });
  await dialog.getByLabel("To", { exact: true }).selectOption({ label: "Ines Okafor" });
  await dialog.getByLabel("When", { exact: true }).selectOption({ label: "every Friday" });
  await dialog.getByLabel("At", { exact: true }).fill("16:45");
  await dialog.getByRole("button", { name: "Send it" }).click();
  const sends = dialog.getByRole("listitem");
  await expect(sends).toContainText("To Ines Okafor every Friday at 16:45, as CSV table");
  await expectAccessible(page);
  await sends.getByRole("button", { name: "Send now" }).click();
  await expect(page.getByText("1 lead to Ines Okafor.").first()).toBeVisible();
  const sent = async () => (await empty.api.get("/rehearsal/outside?channel=email&limit=50")).body.items;
  await expect
    .poll(
      async () => (await sent()).filter((m: { subject: string }) => m.subject === "Barrels: 1 lead").length,
    )
    .toBe(1);
  await sends.getByRole("button", { name: "Stop" }).click();
  await expect(dialog.getByText("It is sent nowhere.")).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("button", { name: "Watched" })).toBeVisible();
  // Opened by its address alone the app begins with the list; the view named Desk is the Desk still.
  await page.goto(empty.origin);
  await expect(heading(page)).toHaveText("Barrels");
  await page.getByRole("navigation", { name: "Views" }).getByRole("link", { name: "Desk" }).click();
  await expect(page.getByRole("heading", { name: /^Answer now/ })).toBeVisible();
  await top.click();
  await page.getByRole("menuitem", { name: /^Barrels, 1/ }).click();
  await expect(heading(page)).toHaveText("Barrels");
  // Its leads as a file, by the menu.
  await page.getByRole("button", { name: /^Export/ }).click();
  const coming = page.waitForEvent("download");
  await page.getByRole("menuitem", { name: "vCards" }).click();
  expect((await coming).suggestedFilename()).toBe("leads.vcf");
  // No longer the first: the address alone is the Desk again.
  await page.getByRole("button", { name: "Watched" }).click();
  await dialog.getByLabel("Begin here").uncheck();
  await expect(dialog.getByLabel("Begin here")).not.toBeChecked();
  await page.goto(empty.origin);
  await expect(page.getByRole("heading", { name: /^Answer now/ })).toBeVisible();
});

test("a list is watched and sent on a phone, where it stands in the menu", async ({
  page,
  context,
  empty,
}) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await context.addCookies([be(empty.origin, "p_ines")]);
  const kept = await empty.api.post("/lists", { name: "Everybody", columns: ["name"], pinned: true });
  await page.goto(empty.origin);
  await page.getByRole("button", { name: "Menu" }).click();
  await page
    .getByRole("dialog", { name: "Menu" })
    .getByRole("link", { name: /^Everybody/ })
    .click();
  await expect(page).toHaveURL(new RegExp(`list=${kept.body.id}`));
  await page.getByRole("button", { name: "Watch", exact: true }).click();
  const dialog = page.getByRole("dialog", { name: /^Watch/ });
  await dialog.getByLabel("Tell me of each lead that comes into it").check();
  await expect(dialog.getByRole("button", { name: "Send it" })).toBeVisible();
  const { width } = (await dialog.boundingBox())!;
  expect(width).toBeLessThanOrEqual(390);
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
});

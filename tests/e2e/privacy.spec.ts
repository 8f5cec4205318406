import type { Page } from "@playwright/test";
import { expect, expectAccessible, inquire, test } from "./fixtures.ts";

const as = (page: Page, origin: string, person: string) =>
  page.context().addCookies([{ name: "kb_me", value: person, url: origin }]);

test("somebody is to be erased, kept after all, and erased in the night; a list does not bring them back unseen", async ({
  page,
  empty,
}) => {
  const id = await inquire(empty, { name: "Quillon Zephyrmark", phone: "303 555 0187" });
  await as(page, empty.origin, "p_oskar");
  await page.goto(`${empty.origin}/?lead=${id}`);
  const ask = async () => {
    await page.getByRole("button", { name: "More ▾" }).click();
    await page.getByRole("menuitem", { name: /What is kept/ }).click();
    await expect(page.getByRole("dialog")).toContainText("1 lead");
  };
  await ask();
  await expectAccessible(page);
  const download = page.waitForEvent("download");
  await page.getByRole("link", { name: "Download all of it" }).click();
  expect((await download).suggestedFilename()).toBe("Quillon Zephyrmark.zip");
  await page.getByRole("button", { name: "Erase them tonight" }).click();
  await expect(page.getByText(/Everything that names them will be erased/)).toBeVisible();
  await page.getByRole("button", { name: "Keep them …" }).click();
  await page.getByRole("button", { name: "Keep Quillon Zephyrmark" }).click();
  await expect(page.getByText(/names them will be erased/)).toHaveCount(0);
  await expect(page.getByRole("button", { name: "More ▾" })).toBeVisible();

  await ask();
  await page.getByRole("button", { name: "Erase them tonight" }).click();
  await page.goto(`${empty.origin}/setup/privacy`);
  await expect(page.getByRole("row", { name: /Quillon Zephyrmark/ })).toContainText("Asked for by Oskar");
  await expectAccessible(page);
  await empty.api.post("/rehearsal/clock", { to: "2026-03-05T16:00:00Z" });
  await expect(page.getByText("Nobody is to be erased")).toBeVisible();
  await expect(page.getByRole("row", { name: /of 1 lead/ })).toContainText("none");
  await page.goto(`${empty.origin}/?lead=${id}`);
  await expect(page.getByRole("heading", { level: 1, name: "Erased person" })).toBeVisible();
  await expect(page.getByRole("button", { name: "Open again" })).toHaveCount(0);

  await page.goto(`${empty.origin}/setup/imports`);
  await page.locator("input[type=file]").setInputFiles({
    name: "fair.csv",
    mimeType: "text/csv",
    buffer: Buffer.from("Name,Phone\nQ Z,303-555-0187\nSome Body,303-555-0155\n"),
  });
  await page.getByRole("button", { name: "Check the whole file" }).click();
  const would = page.getByRole("region", { name: "What it would do" });
  await expect(would).toContainText("1 refused");
  await expect(would).toContainText("was erased on request");
  await would.getByRole("checkbox", { name: /asked to be known again/ }).check();
  await expect(would).toContainText("0 refused");
  await expect(would).toContainText("2 new");
});

test("whoever may not sees neither the way to it nor the page", async ({ page, empty }) => {
  const id = await inquire(empty, { name: "Quillon Zephyrmark", phone: "303 555 0187" });
  await as(page, empty.origin, "p_greta");
  await page.goto(`${empty.origin}/?lead=${id}`);
  await page.getByRole("button", { name: "More ▾" }).click();
  await expect(page.getByRole("menuitem", { name: /Close/ })).toBeVisible();
  await expect(page.getByRole("menuitem", { name: /What is kept/ })).toHaveCount(0);
  await page.goto(`${empty.origin}/setup`);
  await expect(page.getByRole("link", { name: "People’s data" })).toHaveCount(0);
});

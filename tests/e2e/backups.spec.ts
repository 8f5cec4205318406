import { expect, expectAccessible, inquire, test } from "./fixtures.ts";

test("backups are sealed, copied to a bucket that is tried first, and made; what lies there is seen in Rehearsal", async ({
  page,
  empty,
}) => {
  await inquire(empty, { name: "Ana Ruiz", phone: "303 555 0123" });
  await page.context().addCookies([{ name: "kb_me", value: "p_oskar", url: empty.origin }]);
  await page.goto(`${empty.origin}/rehearsal`);
  await page.getByText("A bucket for backups").click();
  const url = (await page.locator("code", { hasText: /^http:.*tarnholt$/ }).textContent()) ?? "";
  await page.goto(`${empty.origin}/setup/backups`);
  const away = page.locator("form", { has: page.getByRole("heading", { name: "Copies in a bucket" }) });
  // Open ones are copied nowhere.
  await expect(away.getByRole("button", { name: "Copy them there" })).toBeDisabled();
  await page.getByLabel(/^Passphrase/).fill("correct horse battery");
  await page.getByRole("button", { name: "Seal them" }).click();
  await away.getByLabel("Address").fill(url);
  await away.getByLabel("Key", { exact: true }).fill("rehearsal");
  await away.getByLabel("Its secret").fill("not that one");
  await away.getByRole("button", { name: "Copy them there" }).click();
  await expect(page.getByText(/did not let us write try/)).toBeVisible();
  // What was typed stays, and is mended.
  await expect(away.getByLabel("Address")).toHaveValue(url);
  await away.getByLabel("Its secret").fill("rehearsal-secret");
  await away.getByRole("button", { name: "Copy them there" }).click();
  await expect(away.getByRole("button", { name: "Copy no more" })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole("button", { name: "Back up now" }).click();
  await expect(page.getByText(/The newest is .* old and has been checked/)).toBeVisible({ timeout: 120_000 });
  await page.setViewportSize({ width: 390, height: 844 });
  await expectAccessible(page);
  await page.goto(`${empty.origin}/rehearsal`);
  await page.getByText(/A bucket for backups, \d+ files in it/).click();
  await expect(page.getByText(/desk-\d{8}-\d{6}Z\/backup\.json/)).toBeVisible();
});

import { expect, expectAccessible, inquire, test } from "./fixtures.ts";

test("one learns the desk in one’s role, beside whatever is open: each step notices that it was done", async ({
  page,
  empty,
}) => {
  await page.context().addCookies([{ name: "kb_me", value: "p_mara", url: empty.origin }]);
  const id = await inquire(empty, { name: "Wanda Fell", phone: "303 555 0171" });
  await page.goto(`${empty.origin}/rehearsal`);
  const learning = page.getByRole("complementary", { name: "Learning the desk" });
  await expect(learning).toHaveCount(0);
  await page.getByRole("button", { name: "Learn the desk as a salesperson" }).click();
  await expect(learning).toContainText("0 of 7 done");
  await expectAccessible(page);
  await learning.getByRole("link", { name: "Take what is offered to you" }).click();
  await expect(page).toHaveURL(`${empty.origin}/`);
  // Whoever was asked by the rules, she takes it.
  await empty.api.post(`/leads/${id}/take`, { personId: "p_mara" });
  await expect(learning).toContainText("1 of 7 done");
  await expect(learning.getByRole("status")).toContainText("Call, and say what came of it");
  await page.goto(`${empty.origin}/?lead=${id}`);
  await page.getByRole("button", { name: "Note", exact: true }).click();
  await page.getByRole("dialog").getByRole("textbox").first().fill("Wants cedar");
  await page.keyboard.press("Control+Enter");
  await expect(learning).toContainText("2 of 7 done");
  await page.goto(`${empty.origin}/rounds`);
  await expect(learning).toContainText("3 of 7 done");
  await expectAccessible(page);
  await learning.getByRole("button", { name: "Leave it" }).click();
  await expect(learning).toHaveCount(0);
  await page.reload();
  await expect(page.getByRole("navigation").first()).toBeVisible();
  await expect(learning).toHaveCount(0);
});

import AxeBuilder from "@axe-core/playwright";
import type { Page } from "@playwright/test";
import { expect, test } from "./fixtures.ts";

/** Every view and every dialog, by all of axe's rules and in both themes, with the demo's history in them. */

/** Each of these looks at many places, and a shared machine has been seen at a quarter of its speed: past this it hangs (ms). */
const HANGS = 900_000;
/** Rules that depend on the theme. */
const OF_COLOUR = ["color-contrast", "link-in-text-block"];

/** What is wrong with what is on the screen, theme by theme; empty when nothing is. */
async function wrongWith(page: Page, where: string): Promise<string[]> {
  const wrong: string[] = [];
  for (const theme of ["light", "dark"]) {
    await page.evaluate((t) => {
      document.documentElement.dataset.theme = t;
    }, theme);
    // Themes differ in nothing but colours: all rules once, those of colour in each.
    const rules = theme === "light" ? {} : { runOnly: { type: "rule" as const, values: OF_COLOUR } };
    const { violations } = await new AxeBuilder({ page })
      .setLegacyMode(true)
      .options({ resultTypes: ["violations"], ...rules })
      .analyze();
    for (const { id, nodes } of violations)
      wrong.push(
        `${where}, ${theme}: ${id}: ${nodes
          .map((n) => n.target)
          .join(" | ")
          .slice(0, 300)}`,
      );
  }
  return wrong;
}

const ADMIN = "p_oskar";
const VIEWS = [
  ["/", "/leads", "/today", "/figures", "/figures?page=effort", "/figures?page=sources"],
  [
    "/figures?page=people",
    "/figures?page=staffing",
    "/figures?page=letter",
    "/lab",
    "/rounds",
    "/board",
    "/customers",
    "/list",
    "/parked",
    "/account",
    "/rehearsal",
    "/api",
    "/no-such-place",
  ],
  ["first-steps", "company", "products", "territories", "words", "sources", "ads", "imports"],
  ["quarantine", "fields", "replies", "templates", "restraint", "calls", "people", "routing"],
  ["playback", "shares", "bells", "cadences", "hours", "waking", "alerts", "ways", "access", "changes"],
  ["stages", "questions", "worksheets", "hooks"],
].map((part) => part.map((place) => (place.startsWith("/") ? place : `/setup/${place}`)));

for (const [at, part] of VIEWS.entries())
  test(`views ${at + 1} of ${VIEWS.length} are free of faults in both themes, by all rules`, async ({
    page,
    context,
    demo,
  }) => {
    test.setTimeout(HANGS);
    page.setDefaultTimeout(60_000);
    await context.addCookies([{ name: "kb_me", value: ADMIN, url: demo.origin }]);
    const wrong: string[] = [];
    for (const path of part) {
      await page.goto(demo.origin + path);
      await page.waitForLoadState("networkidle");
      wrong.push(...(await wrongWith(page, path)));
    }
    expect(wrong).toEqual([]);
  });

test("dialogs of the desk are free of faults, are reached by a key each, and Escape leads back", async ({
  page,
  context,
  demo,
}) => {
  test.setTimeout(HANGS);
  page.setDefaultTimeout(60_000);
  await context.addCookies([{ name: "kb_me", value: "p_greta", url: demo.origin }]);
  await page.goto(demo.origin);
  const heading = page.getByRole("heading", { level: 1 });
  await expect(heading).toHaveText("Halvard Osei");
  const wrong: string[] = [];
  for (const key of ["o", "g", "p", "d", "m", "v", "b", "a", "f", "x", "n", "?"]) {
    await page.keyboard.press(key);
    await expect(page.getByRole("dialog")).toBeVisible();
    wrong.push(...(await wrongWith(page, `dialog of ${key}`)));
    await page.keyboard.press("Escape");
    await expect(page.getByRole("dialog")).toHaveCount(0);
    await expect(heading).toHaveText("Halvard Osei");
  }
  // The menu of what is done less often: opened, walked and left by keys alone.
  await page.getByRole("button", { name: "More ▾" }).focus();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("menu")).toBeVisible();
  wrong.push(...(await wrongWith(page, "More")));
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Escape");
  await expect(page.getByRole("menu")).toHaveCount(0);
  await expect(page.getByRole("button", { name: "More ▾" })).toBeFocused();
  await page.keyboard.press("t");
  wrong.push(...(await wrongWith(page, "writing")));
  expect(wrong).toEqual([]);
});

/** Where it is, what opens it, and who: by the keyboard alone. */
const DIALOGS: readonly (readonly [path: string, button: string | RegExp])[] = [
  ["/setup/sources", "Add a source"],
  ["/setup/quarantine", /^Correct and take in/],
  ["/setup/bells", "A call within five minutes"],
  ["/setup/bells", "Add a ladder"],
  ["/setup/waking", "Add a rule"],
  ["/setup/waking", "Managers hear when a parked lead looks at us"],
  ["/setup/routing", "Lodge packages"],
  ["/setup/territories", "Add a territory"],
  ["/setup/fields", /^Add a field/],
];
test("dialogs of Set-up are free of faults, open by the keyboard and give the focus back", async ({
  page,
  context,
  demo,
}) => {
  test.setTimeout(HANGS);
  page.setDefaultTimeout(60_000);
  await context.addCookies([{ name: "kb_me", value: ADMIN, url: demo.origin }]);
  const wrong: string[] = [];
  for (const [path, name] of DIALOGS) {
    await page.goto(demo.origin + path);
    const opener = page
      .getByRole("button", { name, ...(typeof name === "string" && { exact: true }) })
      .first();
    await opener.focus();
    await page.keyboard.press("Enter");
    await expect(page.getByRole("dialog")).toBeVisible();
    wrong.push(...(await wrongWith(page, `${path}, ${name}`)));
    await page.keyboard.press("Escape");
    await expect(page.getByRole("dialog")).toHaveCount(0);
    await expect(opener).toBeFocused();
  }
  expect(wrong).toEqual([]);
});

test("on a phone the menu holds what the bar has no room for, and is free of faults", async ({
  page,
  context,
  demo,
}) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await context.addCookies([{ name: "kb_me", value: ADMIN, url: demo.origin }]);
  await page.goto(demo.origin);
  await page.getByRole("button", { name: "Menu" }).click();
  const menu = page.getByRole("dialog", { name: "Menu" });
  await expect(menu.getByRole("link", { name: "Set-up" })).toBeVisible();
  await expect(menu).toContainText("on duty");
  await menu.getByRole("button", { name: /theme/ }).click();
  await expect.poll(() => page.evaluate(() => document.documentElement.dataset.theme)).toBe("dark");
  expect(await wrongWith(page, "menu")).toEqual([]);
  await menu.getByRole("link", { name: "Set-up" }).click();
  await page.getByLabel("Place in Set-up").selectOption({ label: "Company" });
  await expect(page.getByRole("heading", { level: 1, name: "Company" })).toBeVisible();
});

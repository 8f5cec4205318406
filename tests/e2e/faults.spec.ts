import { expect, expectAccessible, inquire, test } from "./fixtures.ts";

/** What broke when it was used, each tried the way the person went. */

test("a why is opened, closed and left behind, and the desk stays", async ({ page, empty }) => {
  const broken: string[] = [];
  page.on("pageerror", (error) => broken.push(String(error)));
  await inquire(empty, { name: "Ana Query" });
  await inquire(empty, { name: "Bo Next" });
  await page.goto(empty.origin);
  const why = page.getByRole("button", { name: "why", exact: true });
  await why.first().click();
  await expect(why.first()).toHaveAttribute("aria-expanded", "true");
  await why.first().click();
  await expect(why.first()).toHaveAttribute("aria-expanded", "false");
  await why.last().click();
  const before = await page.locator("h1").textContent();
  await page.keyboard.press("ArrowDown");
  await expect(page.locator("h1")).not.toHaveText(before!);
  await expect(page.getByRole("region", { name: "Answer now" })).toBeVisible();
  expect(broken).toEqual([]);
});

test("a part that breaks says so in its place, is told to the log, and is shown again", async ({
  page,
  empty,
}) => {
  const told: string[] = [];
  page.on("request", (request) => request.url().endsWith("/faults") && told.push(request.postData() ?? ""));
  await inquire(empty, { name: "Ana Broken" });
  let spoil = true;
  // An answer nobody expected, as after a half-done update.
  await page.route("**/api/v1/queue*", async (route) => {
    const response = await route.fetch();
    const body = await response.json();
    await route.fulfill({ response, json: spoil ? { ...body, bands: null } : body });
  });
  await page.goto(empty.origin);
  const broken = page.getByRole("alert").filter({ hasText: "This view can’t be shown" });
  await expect(broken).toBeVisible();
  await expect(page.getByRole("navigation")).toBeVisible();
  await expect.poll(() => told.join()).toContain("This view");
  spoil = false;
  await page.unroute("**/api/v1/queue*");
  await broken.getByRole("button", { name: "Load the page again" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Ana Broken");
});

test("somebody becomes a salesperson and gets back; what is refused is said on screen", async ({
  page,
  empty,
}) => {
  await inquire(empty, { name: "Ana Ruiz" });
  await page.goto(empty.origin);
  const who = page.getByLabel("Who you are in this rehearsal");
  await who.selectOption({ label: "Mara Whitehorse" });
  await expect(page.getByLabel("Who you are in this rehearsal").locator("option:checked")).toHaveText(
    "Mara Whitehorse",
  );
  await who.selectOption({ label: "Greta Mbeki" });
  await expect(page.getByLabel("Who you are in this rehearsal").locator("option:checked")).toHaveText(
    "Greta Mbeki",
  );
  await expect(page.getByRole("link", { name: "The list" })).toBeVisible();
  // Refused by the server, by a call nobody waits for.
  await page.route("**/api/v1/rehearsal/me", (route) =>
    route.fulfill({
      status: 403,
      contentType: "application/problem+json",
      body: JSON.stringify({ type: "about:blank", title: "No", status: 403, detail: "Not today." }),
    }),
  );
  await who.selectOption({ label: "Oskar Vance" });
  await expect(page.getByText("Not today.")).toBeVisible();
});

test("a salesperson who adds a lead to be routed is told where it went, and sees nothing they may not", async ({
  page,
  empty,
}) => {
  await page.context().addCookies([{ name: "kb_me", value: "p_mara", url: empty.origin }]);
  await page.goto(empty.origin);
  for (const n of [1, 2]) {
    await page.getByRole("button", { name: "New", exact: true }).click();
    await page.getByLabel("Name", { exact: true }).fill(`Walk In ${n}`);
    await page.getByLabel("Phone", { exact: true }).fill(`(303) 555-013${n}`);
    await page.getByRole("button", { name: "Put on the desk" }).click();
    await expect(page.getByLabel("Name", { exact: true })).toBeHidden();
  }
  await expect(page.getByText(/Walk In \d is on the desk/).first()).toBeVisible();
  await expect(page.getByText("This lead can't be shown")).toBeHidden();
});

test("what is typed in Set-up stays over a reload and a colleague's change", async ({ page, empty }) => {
  await page.goto(`${empty.origin}/setup/restraint`);
  const most = page.getByLabel("Automatic messages to one lead a day, at most");
  await most.fill("4");
  const { body } = await empty.api.get("/setup/restraint");
  await empty.api.post("/setup/restraint", { ...body, allowed: { from: "09:00", to: "20:00" } });
  await page.reload();
  await expect(most).toHaveValue("4");
  await page.getByRole("button", { name: "Put in force" }).click();
  await expect(page.getByText("In force from now on.")).toBeVisible();
  await page.reload();
  await expect(most).toHaveValue("4");
});

test("the document never scrolls into nothing, and no view breaks, wide and on a phone", async ({
  page,
  demo,
}) => {
  const broken: string[] = [];
  page.on("pageerror", (error) => broken.push(`${page.url()}: ${error}`));
  page.on("console", (said) => said.type() === "error" && broken.push(`${page.url()}: ${said.text()}`));
  await page.context().addCookies([{ name: "kb_me", value: "p_oskar", url: demo.origin }]);
  const views = [
    "/",
    "/list",
    "/parked",
    "/account",
    "/setup",
    "/setup/sources",
    "/setup/fields",
    "/setup/replies",
    "/setup/templates",
  ];
  views.push(
    "/setup/restraint",
    "/setup/calls",
    "/setup/alerts",
    "/setup/people",
    "/setup/routing",
    "/setup/bells",
    "/setup/hours",
  );
  views.push(
    "/setup/waking",
    "/setup/quarantine",
    "/setup/imports",
    "/setup/access",
    "/setup/changes",
    "/rehearsal",
  );
  for (const path of views) {
    await page.setViewportSize({ width: 1280, height: 800 });
    await page.goto(demo.origin + path);
    await expect(page.locator("main, [class*=page]").first()).toBeVisible();
    // What a view asked for has come: no request but the live stream is open.
    await page.waitForLoadState("networkidle");
    for (const [width, height] of [
      [1280, 800],
      [390, 844],
    ] as const) {
      await page.setViewportSize({ width, height });
      const over = await page.evaluate(() => {
        const { scrollHeight, clientHeight, scrollWidth, clientWidth } = document.documentElement;
        return [scrollHeight - clientHeight, scrollWidth - clientWidth];
      });
      expect([path, width, ...over]).toEqual([path, width, 0, 0]);
    }
  }
  expect(broken).toEqual([]);
});

test("an address that leads nowhere gets people a page and programs a problem", async ({ page, empty }) => {
  const response = await page.goto(`${empty.origin}/no-such-place`);
  expect(response?.status()).toBe(404);
  await expect(page.getByRole("heading", { name: "Nothing is here" })).toBeVisible();
  await expectAccessible(page);
  await page.goto(`${empty.origin}/setup/sources`);
  await expect(page).toHaveURL(/\/setup$/);
  const program = await fetch(`${empty.origin}/no-such-place`, { headers: { accept: "application/json" } });
  expect([program.status, program.headers.get("content-type")]).toEqual([404, "application/problem+json"]);
});

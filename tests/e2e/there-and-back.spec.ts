import type { Page } from "@playwright/test";
import { expect, expectAccessible, inquire, test } from "./fixtures.ts";

/** Going somewhere and back again: what lies open has an address, what was typed stays, keys work everywhere. */

const be = (origin: string, person: string) => ({ name: "kb_me", value: person, url: origin });
const phone = { width: 390, height: 844 };

test("on a phone, Back goes from the sheet to the queue, and a reload stays where one was", async ({
  page,
  empty,
}) => {
  await page.setViewportSize(phone);
  await inquire(empty, { name: "Ana Back" });
  await page.goto(`${empty.origin}/list`);
  await page.getByRole("link", { name: "Desk", exact: true }).click();
  const row = page.getByRole("region", { name: "Answer now" }).getByText("Ana Back");
  await row.click();
  const sheet = page.getByRole("heading", { level: 1, name: "Ana Back" });
  await expect(sheet).toBeVisible();
  await expect(page).toHaveURL(/\?lead=/);
  await page.reload();
  await expect(sheet).toBeVisible();
  await page.goBack();
  await expect(row).toBeVisible();
  await expect(page).not.toHaveURL(/lead=/);
  await page.goForward();
  await expect(sheet).toBeVisible();
  await page.getByRole("button", { name: "‹ Queue" }).click();
  await expect(row).toBeVisible();
  await page.goBack();
  await expect(page).toHaveURL(/\/list$/);
});

test("a person, a group, a rule, a target and a template lie open at an address; Back closes them", async ({
  page,
  context,
  empty,
}) => {
  await context.addCookies([be(empty.origin, "p_greta")]);
  const opens = async (
    place: string,
    name: string,
    address: RegExp,
    shown: () => ReturnType<Page["locator"]>,
  ) => {
    await page.goto(`${empty.origin}/setup/${place}`);
    await page.getByRole("button", { name, exact: true }).first().click();
    await expect(shown()).toBeVisible();
    await expect(page).toHaveURL(address);
    await page.reload();
    await expect(shown()).toBeVisible();
    await page.goBack();
    await expect(shown()).toHaveCount(0);
    await expect(page).toHaveURL(new RegExp(`/setup/${place}$`));
  };
  await opens("people", "Noor Castellanos", /person=p_noor$/, () =>
    page.getByRole("heading", { level: 1, name: "Noor Castellanos" }),
  );
  const dialog = () => page.getByRole("dialog");
  await opens("people", "French", /group=/, dialog);
  await opens("routing", "Lodge packages", /rule=r_lodge$/, dialog);
  await opens("bells", "New ladder".replace("New ladder", "Add a ladder"), /ladder=new$/, dialog);
  const template = (await empty.api.get("/setup/templates")).body.items[0];
  await opens("templates", template.name, /template=/, () =>
    page.getByRole("heading", { level: 1, name: template.name }),
  );
});

test("what was typed stays over closing and a reload; leaving it can be taken back", async ({
  page,
  context,
  empty,
}) => {
  await context.addCookies([be(empty.origin, "p_greta")]);
  const stays = async (place: string, open: string, field: string, typed: string) => {
    await page.goto(`${empty.origin}/setup/${place}`);
    const opened = page.getByRole("button", { name: open, exact: true }).first();
    await opened.click();
    await page.getByLabel(field, { exact: true }).first().fill(typed);
    await page.reload();
    await expect(page.getByLabel(field, { exact: true }).first()).toHaveValue(typed);
    await page.goBack();
    await opened.click();
    await expect(page.getByLabel(field, { exact: true }).first()).toHaveValue(typed);
    await page.getByRole("button", { name: "Discard changes" }).last().click();
    await page.getByRole("button", { name: "Undo" }).click();
    await opened.click();
    await expect(page.getByLabel(field, { exact: true }).first()).toHaveValue(typed);
  };
  await stays("people", "Noor Castellanos", "Name", "Noor C.");
  await stays("routing", "Lodge packages", "Name", "Lodges first");
  const template = (await empty.api.get("/setup/templates")).body.items[0];
  await stays("templates", template.name, "Name", "Another name");
});

test("a rule, a target or a ladder that is begun and left leaves nothing behind", async ({
  page,
  context,
  empty,
}) => {
  await context.addCookies([be(empty.origin, "p_greta")]);
  await page.goto(`${empty.origin}/setup/routing`);
  const rules = page.getByRole("button", { name: /^Move / });
  await expect(rules.first()).toBeVisible();
  const before = await rules.count();
  await page.getByRole("button", { name: "Add a rule" }).click();
  await page.getByRole("dialog").getByRole("button", { name: "Close" }).click();
  await expect(rules).toHaveCount(before);
  await expect(page.getByRole("region", { name: "The draft" })).toHaveCount(0);
  await page.getByRole("button", { name: "Add a rule" }).click();
  await page.getByRole("button", { name: "Keep in the draft" }).click();
  await expect(rules).toHaveCount(before + 1);
  // Thrown away, and brought back.
  await page.getByRole("button", { name: "Throw it away" }).click();
  await expect(rules).toHaveCount(before);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(rules).toHaveCount(before + 1);
  await page.goto(`${empty.origin}/setup/bells`);
  await page.getByRole("button", { name: "Add a ladder" }).click();
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "Add a target for a new inquiry" }).click();
  await page.keyboard.press("Escape");
  await expect(page.getByText("New ladder")).toHaveCount(0);
  await expect(page.getByRole("button", { name: "Put in force" })).toHaveCount(0);
});

test("N, ? and the arrow keys work in every view, and a dialog begins in its first field", async ({
  page,
  context,
  demo,
}) => {
  await context.addCookies([be(demo.origin, "p_greta")]);
  for (const view of [
    "/",
    "/list",
    "/parked",
    "/setup",
    "/setup/people",
    "/setup/routing",
    "/setup/hours",
    "/account",
  ]) {
    await page.goto(demo.origin + view);
    await expect(page.getByRole("button", { name: "New", exact: true })).toBeVisible();
    await page.waitForLoadState("networkidle");
    await page.keyboard.press("n");
    const entry = page.getByRole("dialog", { name: "New inquiry" });
    await expect(entry.getByLabel("Name", { exact: true })).toBeFocused();
    await page.keyboard.press("Escape");
    await expect(entry).toHaveCount(0);
    await page.keyboard.press("?");
    await expect(page.getByRole("dialog", { name: "Keys" })).toContainText("Write down an inquiry");
    await page.keyboard.press("Escape");
    await expect(page.getByRole("dialog")).toHaveCount(0);
    const open = () => page.evaluate(() => `${location.search} ${document.activeElement?.textContent}`);
    const was = await open();
    await page.keyboard.press("ArrowDown");
    await expect.poll(open).not.toBe(was);
  }
});

test("every dialog of the desk begins where one can go on", async ({ page, empty }) => {
  await inquire(empty, { name: "Ana Focus" });
  await page.goto(empty.origin);
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Ana Focus");
  const first: Record<string, RegExp> = {
    o: /^1/,
    g: /Person or group/,
    d: /^1/,
    m: /For colleagues/,
    v: /Reason, shown when/,
    b: /When, their time/,
    x: /^1/,
    f: /Name/,
  };
  for (const [key, label] of Object.entries(first)) {
    await page.keyboard.press(key);
    await expect(page.getByRole("dialog")).toBeVisible();
    await expect
      .poll(() =>
        page.evaluate(() => {
          const at = document.activeElement as HTMLInputElement;
          return at.labels?.[0]?.textContent ?? at.textContent ?? "";
        }),
      )
      .toMatch(label);
    if (key === "b") await expectAccessible(page);
    await page.keyboard.press("Escape");
    await expect(page.getByRole("dialog")).toHaveCount(0);
  }
});

test("a time for a lead elsewhere is theirs, and says so", async ({ page, empty }) => {
  // 212 is New York, two hours before the desk.
  await inquire(empty, { name: "Ana East", phone: "212 555 0143" });
  await page.goto(empty.origin);
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Ana East");
  await page.keyboard.press("b");
  await page.getByLabel("When, their time").fill("tomorrow 10");
  await expect(page.getByText("That is tomorrow 10:00 there, 08:00 here.")).toBeVisible();
  await page.getByRole("button", { name: "We promised it" }).click();
  await expect(page.getByText("Promised for tomorrow 10:00 there, 08:00 here: it rings then.")).toBeVisible();
  await page.keyboard.press("d");
  await expect(page.getByRole("button", { name: /In an hour/ })).toContainText(
    "today 12:00 there, 10:00 here",
  );
  await page.keyboard.press("Escape");
});

test("an outcome is logged once: who comes second is told of the first", async ({ page, empty, browser }) => {
  await inquire(empty, { name: "Ana Twice" });
  await page.goto(empty.origin);
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Ana Twice");
  const other = await browser.newContext();
  await other.addCookies([be(empty.origin, "p_greta")]);
  const second = await other.newPage();
  await second.goto(empty.origin);
  await expect(second.getByRole("heading", { level: 1 })).toHaveText("Ana Twice");
  await expect(page.getByText("Greta Mbeki has this lead open too.")).toBeVisible();
  await second.keyboard.press("o");
  await expect(second.getByRole("dialog").getByRole("button", { name: /Voicemail/ })).toBeVisible();
  await page.keyboard.press("o");
  await page
    .getByRole("dialog")
    .getByRole("button", { name: /Voicemail/ })
    .click();
  await expect(second.getByRole("alert").filter({ hasText: "Meanwhile:" })).toContainText("voicemail");
  await second.keyboard.press("Escape");
  await second.goto(`${empty.origin}/account`);
  await expect(page.getByText("has this lead open too")).toHaveCount(0);
  await other.close();
});

test("off duty for an hour, from the account, ends on its own", async ({ page, context, empty }) => {
  await context.addCookies([be(empty.origin, "p_mara")]);
  await page.setViewportSize(phone);
  await page.goto(`${empty.origin}/account`);
  await page.getByRole("button", { name: "Go off duty" }).click();
  await page.getByRole("button", { name: /For an hour/ }).click();
  await expect(page.getByText(/◇ You are off duty until today 10:00 MST/)).toBeVisible();
  await empty.api.post("/rehearsal/clock", { advance: "PT61M" });
  await page.reload();
  await expect(page.getByText("◆ You are on duty in your hours")).toBeVisible();
});

test("a test reaches whoever tests alone, and is called one wherever it stands", async ({ page, empty }) => {
  await page.goto(`${empty.origin}/setup/sources/plan-your-sauna?tab=mapping`);
  await page.getByRole("button", { name: "Send the test" }).click();
  await expect(page.getByText(/Offered to In/).first()).toBeVisible();
  await page.getByRole("link", { name: "Open the test lead" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(/^Test: /);
});

test("all open leads of somebody are moved, however many, and taken back in one step", async ({
  page,
  context,
  empty,
}) => {
  const many = 230;
  for (let i = 0; i < many; i++) {
    const name = `Many ${String(i).padStart(3, "0")}`;
    await empty.api.post("/leads", { facts: { name }, ownerId: "p_mara", route: false });
  }
  await context.addCookies([be(empty.origin, "p_greta")]);
  await page.goto(empty.origin);
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(/^Many/);
  await page.keyboard.press("g");
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("Person or group").selectOption("p_sol");
  await dialog.getByLabel(`All ${many} open leads of Mara Whitehorse, not this one alone`).check();
  await dialog.getByLabel(/^Why/).fill("Leaves on Friday");
  await dialog.getByRole("button", { name: "Give", exact: true }).click();
  await expect(page.getByText(`${many} leads given to Sol Petrakis.`)).toBeVisible();
  const open = async (id: string) =>
    ((await empty.api.get("/people")).body.items as { id: string; openLeads: number }[]).find(
      (p) => p.id === id,
    )?.openLeads;
  expect([await open("p_mara"), await open("p_sol")]).toEqual([0, many]);
  await page.getByRole("button", { name: "Undo" }).last().click();
  await expect(page.getByText(`${many} leads as before.`)).toBeVisible();
  expect([await open("p_mara"), await open("p_sol")]).toEqual([many, 0]);
});

test("everybody says themselves where they are reached and how they hear of things", async ({
  page,
  context,
  empty,
}) => {
  await context.addCookies([{ name: "kb_me", value: "p_mara", url: empty.origin }]);
  await page.goto(`${empty.origin}/account`);
  await expect(page.getByText("You are a salesperson.")).toBeVisible();
  await page.getByLabel("Your phone").fill("not a number");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText("“not a number” can’t be called.")).toBeVisible();
  await page.getByLabel("Your phone").fill("(303) 555-0177");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText("You are called at (303) 555-0177.")).toBeVisible();
  const ring = page.getByLabel("A lead rang: nobody called in time: email");
  await ring.check();
  await page.getByRole("button", { name: "Put in force" }).click();
  await expect(page.getByRole("button", { name: "Put in force" })).toBeHidden();
  await expectAccessible(page);
  await page.reload();
  await expect(ring).toBeChecked();
  await expect(page.getByLabel("Your phone")).toHaveValue("+13035550177");
  const { people } = (await empty.api.get("/setup/alerts")).body;
  expect(people.find((p: { id: string }) => p.id === "p_mara").own.ring).toContain("email");
});

test("the tab says what waits and what has rung; what is in quarantine is counted on the Desk", async ({
  page,
  empty,
}) => {
  await page.goto(empty.origin);
  await expect(page).toHaveTitle("Desk · Kite Bell");
  await inquire(empty, { name: "Rings Soon" });
  await expect(page).toHaveTitle("1 to answer · Desk · Kite Bell");
  await empty.api.post("/rehearsal/clock", { advance: "PT10M" });
  await expect(page).toHaveTitle(/^▲ 1 rung/);
  await expect(page.getByRole("link", { name: /in quarantine/ })).toHaveCount(0);
  await empty.api.post("/intake/plan-your-sauna", { colour: "red" });
  await page.reload();
  await page.getByRole("link", { name: "One inquiry waits in quarantine" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Quarantine");
});

test("what comes between the first look and the stream is not missed", async ({ page, empty }) => {
  await inquire(empty, { name: "Here Before" });
  let open = () => {};
  const gate = new Promise<void>((resolve) => {
    open = resolve;
  });
  await page.route("**/api/v1/live**", async (route) => {
    await gate;
    await route.continue();
  });
  await page.goto(empty.origin);
  const queue = page.getByRole("region", { name: "Queue" });
  await expect(queue.getByText("Here Before", { exact: true })).toBeVisible();
  await inquire(empty, { name: "Fell Between" });
  open();
  await expect(queue.getByText("Fell Between", { exact: true })).toBeVisible();
});

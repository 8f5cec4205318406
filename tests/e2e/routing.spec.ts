import { expect, expectAccessible, inquire, test } from "./fixtures.ts";

/** Who one is in a rehearsal. */
const be = (origin: string, id: string) => ({ name: "kb_me", value: id, url: origin });

test.describe("rules", () => {
  test("are drafted by a coordinator, published by a manager, and decide from then on, with the version in the why", async ({
    page,
    context,
    empty,
  }) => {
    await page.goto(`${empty.origin}/setup/routing`);
    await expect(page.getByRole("listitem").filter({ hasText: "Lodge packages" })).toContainText(
      "When product is Lodge package, offer to Lodges by strict rotation, 3 min each, then whoever is on standby.",
    );
    await page.getByRole("button", { name: "Add a rule" }).click();
    const dialog = page.getByRole("dialog");
    await dialog.getByLabel("Name").fill("Spa people");
    await dialog.getByRole("button", { name: "Only when …" }).click();
    await dialog.getByLabel("Field").selectOption("message");
    await dialog.getByLabel("Value", { exact: true }).fill("spa");
    await dialog.getByRole("button", { name: "Add a group" }).click();
    const inner = dialog.getByRole("group").last();
    await inner.getByLabel("Field").selectOption("value");
    await inner.getByLabel("Value", { exact: true }).fill("5000");
    await dialog.getByLabel("Whom").selectOption({ label: "Sol Petrakis" });
    await dialog.getByLabel("When nobody takes it").selectOption("onward");
    await dialog.getByLabel("Switched on").check();
    await expect(dialog).toContainText(
      "When message contains spa and (value is at least 5000), offer to Sol Petrakis, 5 min, then the next rules are asked.",
    );
    await dialog.getByRole("button", { name: "Keep in the draft" }).click();
    await expect(dialog).toBeHidden();
    await expect(page.getByRole("region", { name: "The draft" })).toContainText("A manager publishes it.");
    // Nothing has changed for leads.
    const before = await inquire(empty, { message: "A spa, please" });
    expect((await empty.api.get(`/leads/${before}`)).body.handOff.to).not.toEqual(["p_sol"]);

    await context.addCookies([be(empty.origin, "p_greta")]);
    await page.goto(empty.origin);
    await page.getByRole("link", { name: "A draft waits" }).click();
    const draft = page.getByRole("region", { name: "The draft" });
    await draft.getByLabel("What changes, in a line").fill("Spa to Sol");
    await draft.getByRole("button", { name: "Publish as version 2" }).click();
    await expect(draft).toBeHidden();
    await expect(page.getByText("version 2, which Greta Mbeki published")).toBeVisible();
    const after = await inquire(empty, { name: "Spa Person", message: "A spa, please" });
    expect((await empty.api.get(`/leads/${after}`)).body.handOff.to).toEqual(["p_sol"]);

    await page.goto(`${empty.origin}/?lead=${after}`);
    await page.getByRole("button", { name: /why/ }).last().click();
    await expect(page.getByText("Offered to Sol Petrakis by the rule “Spa people”.")).toBeVisible();
    await page.getByRole("link", { name: "rules, version 2" }).click();
    await expect(page.locator("#version-2")).toHaveAttribute("open", "");
    await expect(page.locator("#version-2")).toContainText("Spa to Sol");
    await page.locator("#version-1 summary").click();
    await page.getByRole("button", { name: "Bring it back as a draft" }).click();
    await expect(page.getByRole("region", { name: "The draft" })).toBeVisible();
  });

  test("are moved by keyboard, switched off, and warned about when they can never fire", async ({
    page,
    context,
    empty,
  }) => {
    await context.addCookies([be(empty.origin, "p_greta")]);
    await page.goto(`${empty.origin}/setup/routing`);
    const names = () =>
      page
        .getByRole("listitem")
        .filter({ hasText: "offer" })
        .or(page.getByRole("listitem").filter({ hasText: "Offer" }));
    const grip = page.getByRole("button", { name: "Move Everybody else", exact: true });
    await grip.focus();
    await page.keyboard.press("Space");
    await expect(page.getByText("Everybody else is over place 3.")).toBeAttached();
    await page.keyboard.press("ArrowUp");
    await expect(page.getByText("Everybody else is over place 2.")).toBeAttached();
    await page.keyboard.press("ArrowUp");
    await expect(page.getByText("Everybody else is over place 1.")).toBeAttached();
    await page.keyboard.press("Space");
    await expect(names().first()).toContainText("Everybody else");
    await expect(
      page.getByText("“Lodge packages” can never fire: whatever fits it fits “Everybody else” before it."),
    ).toBeVisible();
    await page.getByRole("button", { name: "Switch off Everybody else" }).click();
    await expect(page.getByText("can never fire")).toHaveCount(0);
    await page.getByRole("button", { name: "Throw it away" }).click();
    await expect(names().first()).toContainText("Lodge packages");
  });
});

test("a playback of the demo's sixty days is what happened; of a draft it says who would have got what else", async ({
  page,
  context,
  demo,
}) => {
  await context.addCookies([be(demo.origin, "p_greta")]);
  const { live } = (await demo.api.get("/setup/routing")).body;
  await demo.api.post("/setup/routing/draft", { ...live, rules: live.rules.slice(1) });
  await page.goto(`${demo.origin}/setup/playback`);
  await page.getByLabel("Play", { exact: true }).selectOption({ label: "version 1, live" });
  await page.getByRole("button", { name: "Play", exact: true }).click();
  await expect(
    page.getByText("Version 1 does with every one of these inquiries what was really done."),
  ).toBeVisible({ timeout: 20_000 });
  await page.getByLabel("Play", { exact: true }).selectOption({ label: "the draft" });
  await page.getByRole("button", { name: "Play", exact: true }).click();
  await expect(page.getByRole("heading", { name: "Who would have got what else" })).toBeVisible({
    timeout: 20_000,
  });
  await page.getByPlaceholder("A lead, a source or a person").fill("lodge brochure");
  await expect(page.getByRole("row").last()).toContainText("Ad: lodge brochure");
  await expectAccessible(page);
  await page.goto(`${demo.origin}/setup/shares`);
  await expect(page.getByRole("region", { name: "Homes" })).toContainText("Next in turn:");
  await demo.api.post("/setup/routing/drop", {});
});

test.describe("people", () => {
  test("the week shows who is there; hours and absences are changed where they stand", async ({
    page,
    context,
    empty,
  }) => {
    await context.addCookies([be(empty.origin, "p_greta")]);
    await page.goto(`${empty.origin}/setup/people`);
    const week = page.getByRole("region", { name: "Who is on duty when" });
    await expect(week).toContainText("parental leave until 16 March; Mara Whitehorse covers");
    await week.getByRole("button", { name: "Hanne Delacroix" }).click();
    await page.getByRole("button", { name: "Add an absence" }).click();
    await page.getByLabel("Why").fill("trade fair");
    await page.getByLabel("Covered by", { exact: true }).selectOption({ label: "Ravi Thornbury" });
    await expectAccessible(page);
    await page.getByRole("button", { name: "Save" }).click();
    await expect(week).toContainText("trade fair; Ravi Thornbury covers");
    // French is left without anybody after Luc goes home.
    await expect(week).toContainText("Nobody in French");
    await page.getByRole("button", { name: "Set off duty: Noor Castellanos" }).click();
    await page.getByRole("button", { name: /Until somebody brings them back/ }).click();
    await expect(page.getByRole("row").filter({ hasText: "Noor Castellanos" }).first()).toContainText(
      "went off duty",
    );
    await page.getByRole("button", { name: "New group" }).click();
    const dialog = page.getByRole("dialog");
    await dialog.getByLabel("Name").fill("Fair");
    await dialog.getByLabel("Asked by").selectOption("weighted");
    await dialog.getByLabel("Add to the group").selectOption({ label: "Sol Petrakis" });
    await dialog.getByLabel("Weight of Sol Petrakis").fill("3");
    await dialog.getByRole("button", { name: "Save" }).click();
    await expect(page.getByRole("row").filter({ hasText: "Fair" })).toContainText("Sol Petrakis ×3");
  });

  test("a salesperson sees their own leads on a phone, and goes off duty there", async ({
    page,
    context,
    empty,
  }) => {
    await page.setViewportSize({ width: 390, height: 844 });
    const ids = [await inquire(empty, { name: "Mine Alone" }), await inquire(empty, { name: "Not Mine" })];
    const who = (await empty.api.get(`/leads/${ids[0]}`)).body.handOff.to[0];
    await context.addCookies([be(empty.origin, who)]);
    await page.goto(empty.origin);
    await expect(page.getByText("Mine Alone").filter({ visible: true }).first()).toBeVisible();
    await expect(page.getByText("Not Mine")).toHaveCount(0);
    await expect(page.getByRole("link", { name: "Set-up" })).toHaveCount(0);
    await page.goto(`${empty.origin}/account`);
    await page.getByRole("button", { name: "Go off duty" }).click();
    await expectAccessible(page);
    await page.getByRole("button", { name: /Until I come back/ }).click();
    await expect(page.getByText("◇ You are off duty")).toBeVisible();
    await expectAccessible(page);
  });
});

test("access: a key is made, shown once, and revoked; what was changed stands in the list", async ({
  page,
  context,
  empty,
}) => {
  await page.goto(`${empty.origin}/sign-in`);
  await expectAccessible(page);
  await page.getByRole("button", { name: "Oskar Vance" }).click();
  await expect(page).toHaveURL(`${empty.origin}/`);
  await page.goto(`${empty.origin}/setup/access`);
  await expect(page.getByRole("row").filter({ hasText: "Invite people, give roles" })).toContainText(
    "◇ no◇ no◇ no◆ yes",
  );
  await page.getByLabel("Which program it is for").fill("Web shop");
  await page.getByRole("button", { name: "Make a key" }).click();
  await expect(page.getByRole("status").filter({ hasText: "Copy it now" })).toContainText("kb_");
  await expectAccessible(page);
  await page.getByRole("button", { name: "Revoke the key of Web shop" }).click();
  await expect(page.getByText("revoked", { exact: true })).toBeVisible();
  await page.getByRole("button", { name: "Invite Sol Petrakis" }).click();
  await expect(page.getByRole("status").filter({ hasText: "The invitation of Sol Petrakis" })).toContainText(
    "/join/",
  );
  await page.getByRole("link", { name: "Changes" }).click();
  await expect(page.getByText("API key Web shop").first()).toBeVisible();
  await context.clearCookies();
});

import { expect, expectAccessible, inquire, test } from "./fixtures.ts";

test.describe("the Desk on the demo's morning", () => {
  test("shows the wire, the bands in their order and the most pressing lead", async ({ page, demo }) => {
    await page.goto(demo.origin);
    await expect(page.getByRole("heading", { level: 2 }).first()).toContainText("Answer now");
    expect(
      await page
        .locator("[data-band]")
        .evaluateAll((bands) => bands.map((b) => (b as HTMLElement).dataset.band)),
    ).toEqual(["answer", "rung", "again", "today", "later"]);
    await expect(
      page
        .getByRole("region", { name: "The wire" })
        .getByRole("button", { name: /left|over/ })
        .first(),
    ).toBeVisible();
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("Halvard Osei");
    await expect(page.getByTestId("now-line")).toContainText("They called");
    await expectAccessible(page);
  });

  test("is walked by keys, and finds a lead by any piece of its name", async ({ page, demo }) => {
    await page.goto(demo.origin);
    const name = page.getByRole("heading", { level: 1 });
    await expect(name).toHaveText("Halvard Osei");
    await page.keyboard.press("ArrowDown");
    await expect(name).not.toHaveText("Halvard Osei");
    await page.keyboard.press("ArrowUp");
    await expect(name).toHaveText("Halvard Osei");
    await page.keyboard.press("/");
    await page.keyboard.type("thibault");
    await page.getByRole("option").filter({ hasText: "Baptiste Thibault" }).click();
    await expect(name).toHaveText("Baptiste Thibault");
    await expect(page.getByText("Bonjour Baptiste").first()).toBeVisible();
    await page.keyboard.press("?");
    await expect(page.getByRole("dialog", { name: "Keys" })).toBeVisible();
    await page.keyboard.press("Escape");
    await expect(page.getByRole("dialog")).toHaveCount(0);
  });

  test("why: a decision shows each rule and person considered", async ({ page, demo }) => {
    await page.goto(demo.origin);
    await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
    await page.keyboard.press("/");
    await page.keyboard.type("fourcade");
    await page.getByRole("option").filter({ hasText: "Anneliese Fourcade" }).click();
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("Anneliese Fourcade");
    // In short, and with everything the desk did in between.
    await expect(page.getByRole("log").getByRole("button", { name: "why" }).last()).toBeVisible();
    await expect(page.locator("[data-kind=bell-started]")).toHaveCount(0);
    await page.getByRole("radio", { name: "everything" }).check();
    await expect(page.locator("[data-kind=bell-started]")).toBeVisible();
    // The first offer, however many have lapsed since the morning began.
    await page.locator("[data-kind=offered]").first().getByRole("button", { name: "why" }).click();
    await expect(page.getByText("their turn in Lodges").first()).toBeVisible();
    await page.reload();
    await expect(page.getByRole("radio", { name: "everything" })).toBeChecked();
  });

  test("the facts of a lead stand under their own tab", async ({ page, demo }) => {
    await page.goto(demo.origin);
    await page.getByRole("tab", { name: "Facts" }).click();
    await expect(page.getByText(/% known/)).toBeVisible();
    await expect(page.getByText("First came in")).toBeVisible();
    await expectAccessible(page);
  });
});

test.describe("working a lead", () => {
  test("an outcome is one key and one more; the next step is set, the next lead lies open, and it can be undone", async ({
    page,
    empty,
  }) => {
    const id = await inquire(empty, { name: "First Caller" });
    await empty.api.post("/rehearsal/clock", { advance: "PT10S" });
    await inquire(empty, { name: "Second Caller" });
    await page.goto(empty.origin);
    const name = page.getByRole("heading", { level: 1 });
    await expect(name).toHaveText("First Caller");
    await page.keyboard.press("o");
    await expect(page.getByRole("dialog")).toContainText("Voicemail");
    await expectAccessible(page);
    await page.keyboard.press("2");
    await expect(name).toHaveText("Second Caller");
    await expect(
      page.getByRole("status").filter({ hasText: "First Caller: voicemail. Next: call again, Mon" }),
    ).toBeVisible();
    expect((await empty.api.get(`/leads/${id}`)).body).toMatchObject({
      tries: 1,
      bell: { state: "answered" },
    });
    await page.keyboard.press("u");
    await expect(page.getByText("Taken back.")).toBeVisible();
    expect((await empty.api.get(`/leads/${id}`)).body).toMatchObject({
      tries: 0,
      bell: { state: "waiting" },
    });
  });

  test("a text is written, kept as typed over a reload, sent, and counts as a try", async ({
    page,
    empty,
  }) => {
    const id = await inquire(empty, { name: "Text Me" });
    await page.goto(empty.origin);
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("Text Me");
    await page.keyboard.press("t");
    await page.getByLabel(/Text to/).fill("May we call at five?");
    await page.reload();
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("Text Me");
    await page.keyboard.press("t");
    await expect(page.getByLabel(/Text to/)).toHaveValue("May we call at five?");
    await page.keyboard.press("Control+Enter");
    await expect(page.locator("[data-kind=message-out]").last()).toContainText("May we call at five?");
    await empty.api.post("/rehearsal/clock", { advance: "PT11S" });
    await expect(page.locator("[data-kind=message-out]").last()).toContainText(/has left|delivered/);
    const lead = (await empty.api.get(`/leads/${id}`)).body;
    expect(lead.tries).toBe(1);
    const texts = (await empty.api.get("/rehearsal/outside?channel=text")).body.items as {
      to: string;
      body: string;
    }[];
    expect(texts.filter((t) => t.to === lead.phones[0] && t.body === "May we call at five?")).toHaveLength(1);
  });

  test("is taken, given with a reason, passed, deferred, noted and closed", async ({ page, empty }) => {
    const id = await inquire(empty, { name: "Many Hands" });
    const lead = async () => (await empty.api.get(`/leads/${id}`)).body;
    await page.goto(`${empty.origin}/?lead=${id}`);
    await expect(page.getByTestId("now-line")).toContainText("Offered to");
    await page.keyboard.press("k");
    await expect(page.getByTestId("now-line")).toContainText("Ines Okafor has it");
    await page.keyboard.press("g");
    await page.getByLabel("Person or group").selectOption({ label: "Noor Castellanos, 0 open" });
    await expect(page.getByRole("button", { name: "Give", exact: true })).toBeDisabled();
    await page.getByRole("button", { name: "Speaks their language" }).click();
    await page.getByLabel(/^Why/).fill("Speaks Spanish");
    await page.getByRole("button", { name: "Give", exact: true }).click();
    await expect(page.locator("[data-kind=given]")).toContainText("Speaks Spanish");
    await page.keyboard.press("p");
    await expect(page.getByRole("dialog")).toContainText("Pass for Noor");
    await page.keyboard.press("2");
    await expect(page.locator("[data-kind=passed]")).toContainText("Noor Castellanos passed: Driving");
    await expect.poll(async () => (await lead()).handOff.to[0]).not.toBe("p_noor");
    await page.keyboard.press("m");
    await page.getByLabel("For colleagues, not for the lead").fill("Twins start school in autumn");
    await page.keyboard.press("Control+Enter");
    await expect(page.locator("[data-kind=noted]")).toContainText("Twins start school");
    await page.keyboard.press("d");
    await page.keyboard.press("4");
    await expect.poll(async () => (await lead()).nextStep?.note).toBe("Call again");
    await page.keyboard.press("x");
    await page.getByRole("button", { name: "No fit" }).click();
    await expect.poll(async () => (await lead()).closed?.reason).toBe("No fit");
  });

  test("an inquiry is written down by hand; a closed tab loses nothing, and a known number joins its lead", async ({
    page,
    empty,
  }) => {
    await inquire(empty, { name: "Known Already", phone: "303 555 0111" });
    await page.goto(empty.origin);
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("Known Already");
    await page.keyboard.press("n");
    await page.getByLabel("Name", { exact: true }).fill("Walk In");
    await page.reload();
    await page.getByRole("button", { name: "New", exact: true }).click();
    await expect(page.getByLabel("Name", { exact: true })).toHaveValue("Walk In");
    await page.getByLabel("Name", { exact: true }).fill("");
    await page.getByRole("button", { name: "Put on the desk" }).click();
    await expect(page.getByText("Give a name, a phone number or a mail address")).toBeVisible();
    await page.getByLabel("Name", { exact: true }).fill("Walk In");
    await page.getByLabel("Phone", { exact: true }).fill("(303) 555-0111");
    await expect(page.getByText("Known already:")).toBeVisible();
    await expectAccessible(page);
    await page.getByLabel("Phone", { exact: true }).fill("(303) 555-0112");
    await page.getByLabel("Kind of phone 1").selectOption("mobile");
    await page.getByText("How they like to be reached").click();
    await page.getByLabel("text", { exact: true }).check();
    await page.getByText("Your own fields and tags").click();
    await page.getByLabel("Budget").fill("a lot");
    await page.getByLabel("Who gets it").selectOption({ label: "Keep it for me" });
    await page.getByRole("button", { name: "Put on the desk" }).click();
    await expect(page.getByText("Budget: “a lot” is not a number.")).toBeVisible();
    await page.getByLabel("Budget").fill("12,000");
    await page.getByRole("button", { name: "Put on the desk" }).click();
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("Walk In");
    await expect(page.getByTestId("now-line")).toContainText("Ines Okafor has it");
    await expect(page.getByText("Don’t text them.")).toBeVisible();
    await page.getByRole("tab", { name: /Facts/ }).click();
    await expect(page.getByText("$12,000")).toBeVisible();
    await page.keyboard.press("f");
    await page.getByRole("dialog").getByLabel("What they want").selectOption({ label: "Cabin sauna" });
    await page.getByRole("button", { name: "Save", exact: true }).click();
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("Walk In");
    await expect(page.getByText("$14,500")).toBeVisible();
  });

  test("taking what somebody else has just taken is told who has it", async ({ page, empty }) => {
    const id = await inquire(empty);
    await page.goto(`${empty.origin}/?lead=${id}`);
    await expect(page.getByRole("button", { name: "Take", exact: true })).toBeVisible();
    await page.route("**/sheet", (route) => route.abort());
    await empty.api.post(`/leads/${id}/take`, { personId: "p_mara" });
    await page.keyboard.press("k");
    await expect(page.getByText("Mara Whitehorse has this lead already.")).toBeVisible();
  });
});

test("on a phone the queue and the sheet take turns", async ({ page, empty }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await inquire(empty, { name: "Pocket Lead" });
  await page.goto(empty.origin);
  await page
    .getByRole("button", { name: /Pocket Lead/ })
    .last()
    .click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Pocket Lead");
  await expect(page.getByRole("region", { name: "Queue" })).toBeHidden();
  const { scrollWidth } = await page.evaluate(() => ({ scrollWidth: document.documentElement.scrollWidth }));
  expect(scrollWidth).toBeLessThanOrEqual(390);
  await expectAccessible(page);
  await page.getByRole("button", { name: "‹ Queue" }).click();
  await expect(page.getByRole("region", { name: "Queue" })).toBeVisible();
});

test("only some of the queue is shown: mine, nobody’s, one source’s; it stays over a reload, and all comes back", async ({
  page,
  context,
  empty,
}) => {
  await context.addCookies([{ name: "kb_me", value: "p_ines", url: empty.origin }]);
  const mine = await inquire(empty, { name: "Ana Ruiz" });
  await inquire(empty, { name: "Bo Lind" });
  await empty.api.post(`/leads/${mine}/give`, { to: "p_ines", reason: "Mine to call" });
  await page.goto(empty.origin);
  const queue = page.getByRole("region", { name: "Queue" });
  const rows = queue.locator("[data-lead]");
  await expect(rows).toHaveCount(2);
  await page.keyboard.press("l");
  await expect(queue.getByRole("button", { name: "All", exact: true })).toBeFocused();
  await queue.getByRole("button", { name: "Mine", exact: true }).click();
  await expect(rows).toHaveCount(1);
  await expect(rows).toContainText("Ana Ruiz");
  await expect(queue.getByText("None of these.").first()).toBeVisible();
  await page.reload();
  await expect(rows).toHaveCount(1);
  await expect(queue.getByRole("button", { name: "Mine", exact: true })).toHaveAttribute(
    "aria-pressed",
    "true",
  );
  await expectAccessible(page);
  await queue.getByRole("button", { name: "Offered", exact: true }).click();
  await expect(rows).toHaveCount(1);
  await expect(rows).toContainText("Bo Lind");
  await queue.getByLabel("Whose leads").selectOption({ label: "with Ines Okafor" });
  await expect(rows).toContainText("Ana Ruiz");
  await queue.getByLabel("From which source").selectOption({ label: "from Showroom line" });
  await expect(rows).toHaveCount(0);
  await queue.getByRole("button", { name: "All again" }).click();
  await expect(rows).toHaveCount(2);
  await expect(page).not.toHaveURL(/who=|from=/);
  // What comes is there at once where it fits, and the wire tells of all of it whatever is looked at.
  await queue.getByRole("button", { name: "Offered", exact: true }).click();
  await inquire(empty, { name: "Cleo Marsh" });
  await expect(rows).toHaveCount(2);
  await expect(page.getByRole("region", { name: "The wire" })).toContainText("3 wait for a call");
  await expect(page.getByRole("link", { name: /^Today 3 came in/ })).toBeVisible();
});

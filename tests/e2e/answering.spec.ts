import { expect, expectAccessible, inquire, test } from "./fixtures.ts";

test.describe("a call from the desk", () => {
  test("is made by keyboard alone: placed, noted, hung up, its outcome said, a text sent after it", async ({
    page,
    empty,
  }) => {
    const id = await inquire(empty, { name: "Call Me" });
    await page.goto(empty.origin);
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("Call Me");
    await page.keyboard.press("c");
    const bar = page.getByRole("region", { name: "Call" });
    await expect(bar).toContainText("Their phone rings");
    const [line] = (await empty.api.get("/rehearsal/phone")).body.items;
    await empty.api.post("/rehearsal/phone", { callId: line.id, does: "answer" });
    await expect(bar).toContainText("Talking");
    await expectAccessible(page);
    // The bar stays across views, with what was typed.
    await bar.getByLabel("Notes while talking").fill("Before Easter, deck 3 by 4");
    await expect
      .poll(async () => (await empty.api.get("/calls", { cookie: "" })).body?.notes)
      .toBe("Before Easter, deck 3 by 4");
    await page.goto(`${empty.origin}/setup`);
    await expect(bar.getByLabel("Notes while talking")).toHaveValue("Before Easter, deck 3 by 4");
    await page.goto(empty.origin);
    await expect(bar).toContainText("Talking");
    await empty.api.post("/rehearsal/clock", { advance: "PT4M" });
    await page.keyboard.press("h");
    const dialog = page.getByRole("dialog");
    await expect(dialog).toContainText("You talked for 4 min");
    await expect(dialog.getByRole("button", { name: /Reached likely/ })).toBeFocused();
    await expectAccessible(page);
    // Escape asks later, and nothing is lost.
    await page.keyboard.press("Escape");
    await expect(dialog).toBeHidden();
    await bar.getByRole("button", { name: "Say what came of it" }).press("Enter");
    await dialog.getByLabel("A different time (their time)").fill("fri 9:30");
    await expect(dialog).toContainText("That is Fri 09:30 here and there.");
    await dialog.getByLabel("And text them").selectOption({ label: "Missed you on the phone" });
    await dialog.getByRole("button", { name: /Reached/ }).press("Enter");
    await expect(bar).toBeHidden();
    // One try: the text goes along with the talk.
    await expect.poll(async () => (await empty.api.get(`/leads/${id}`)).body.tries).toBe(1);
    await empty.api.post("/rehearsal/clock", { advance: "PT11S" });
    expect((await empty.api.get(`/leads/${id}`)).body.bell.state).toBe("answered");
    const { items } = (await empty.api.get(`/leads/${id}/events`)).body;
    const called = items.find((e: { kind: string }) => e.kind === "called-out");
    expect(called.summary).toContain("talked for 4 min");
    const tried = items.find((e: { kind: string }) => e.kind === "tried");
    expect(tried.data).toMatchObject({ outcome: "reached", note: "Before Easter, deck 3 by 4" });
    const step = items.find((e: { kind: string }) => e.kind === "next-step");
    expect(step.data.step.dueAt).toBe(Date.parse("2026-03-06T16:30:00Z"));
    const texts = (await empty.api.get("/rehearsal/outside?channel=text")).body.items;
    expect(texts.at(-1).body).toMatch(/^Hi Call, Ines from Tarnholt/);
  });

  test("that nobody answers is played in Rehearsal, and the likely outcome is chosen", async ({
    page,
    empty,
  }) => {
    await inquire(empty, { name: "Nobody Home" });
    await page.goto(empty.origin);
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("Nobody Home");
    await page.keyboard.press("c");
    await expect(page.getByRole("region", { name: "Call" })).toContainText("Their phone rings");
    await page.goto(`${empty.origin}/rehearsal`);
    await page.getByRole("button", { name: "Let voicemail answer" }).click();
    const dialog = page.getByRole("dialog");
    await expect(dialog).toContainText("Voicemail answered.");
    await dialog.getByRole("button", { name: /Voicemail likely/ }).press("Enter");
    await expect(page.getByText(/Nobody Home: voicemail\. Next: call again/)).toBeVisible();
  });
});

test("two people see the same thread move, and each other's message called back", async ({
  browser,
  empty,
}) => {
  const id = await inquire(empty, { name: "Seen Twice" });
  const open = async (personId: string) => {
    const context = await browser.newContext({ reducedMotion: "reduce" });
    await context.addCookies([{ name: "kb_me", value: personId, url: empty.origin }]);
    const page = await context.newPage();
    await page.goto(`${empty.origin}/?lead=${id}`);
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("Seen Twice");
    return page;
  };
  const [ines, mara] = await Promise.all([open("p_ines"), open("p_mara")]);
  await ines.keyboard.press("t");
  await ines.getByLabel(/Text to/).fill("Sent too soon");
  await ines.keyboard.press("Control+Enter");
  const last = mara.locator("[data-kind=message-out]").last();
  await expect(last).toContainText("Sent too soon");
  await ines.getByRole("status").getByRole("button", { name: "Undo" }).click();
  await expect(last).toContainText("called back before it left");
  await Promise.all([ines.context().close(), mara.context().close()]);
});

test("a message is written from a template, for later, and taken back; a line is pinned; opting out stands on top", async ({
  page,
  empty,
}) => {
  const id = await inquire(empty, { name: "Later On" });
  const [phone] = (await empty.api.get(`/leads/${id}`)).body.phones;
  await page.goto(empty.origin);
  await page.getByRole("button", { name: "Pin a note for callers" }).click();
  await page.getByLabel("Know when calling").fill("Twins in autumn, call before eight");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("button", { name: "Twins in autumn, call before eight" })).toBeVisible();
  await page.keyboard.press("t");
  await page.getByLabel("Template").selectOption({ label: "Missed you on the phone" });
  await expect(page.getByLabel(/Text to/)).toHaveValue(/^Hi Later, Ines from Tarnholt/);
  await expect(page.getByText(/1 message, \d+ left/)).toBeVisible();
  await page.getByLabel(/Text to/).fill("A dash — makes it long");
  await expect(page.getByText(/long because of —/)).toBeVisible();
  await page.getByRole("button", { name: "Make it plain" }).click();
  await expect(page.getByLabel(/Text to/)).toHaveValue("A dash - makes it long");
  await page
    .getByLabel("When", { exact: true })
    .selectOption({ label: "Tomorrow morning, 09:00 their time" });
  await page.getByRole("button", { name: "Send later" }).click();
  const waiting = page.getByRole("list", { name: "Messages for later" });
  await expect(waiting).toContainText(
    "Text goes tomorrow 09:00 here and there: A dash - makes it long, by Ines Okafor",
  );
  await expectAccessible(page);
  await waiting.getByRole("button", { name: "Take back" }).click();
  await expect(waiting).toBeHidden();
  await empty.api.post("/rehearsal/text", { from: phone, to: "+17205550102", body: "stop please" });
  await expect(page.getByText("No texts: they wrote “stop please”.")).toBeVisible();
  await page.keyboard.press("t");
  await page.getByLabel(/Text to/).fill("One more thing");
  await expect(page.getByRole("note")).toContainText("They want no texts");
  await expect(page.getByRole("button", { name: "Send" })).toBeDisabled();
});

test("replies are changed with what one person would receive in sight", async ({ page, empty }) => {
  await page.goto(`${empty.origin}/setup/replies`);
  const gets = page.getByRole("complementary", { name: "What they would receive" });
  await expect(gets).toContainText("Robin, about your barrel sauna");
  await gets
    .getByLabel("at", { exact: true })
    .selectOption({ label: "half past eleven at night, their time" });
  await expect(gets.getByRole("region", { name: "What they get by text" })).toContainText(
    "texts go from 08:00 to 21:00",
  );
  await page
    .getByRole("region", { name: "By email", exact: true })
    .getByLabel("It goes")
    .selectOption({ label: "after an hour" });
  await expect(gets.getByRole("region", { name: "What they get by email" })).toContainText("Thu 5 Mar 00:30");
  await expectAccessible(page);
  await page.getByRole("button", { name: "Put in force" }).click();
  await expect(page.getByText("In force from now on.")).toBeVisible();
  await inquire(empty, { name: "Waits An Hour", email: "waits@example.com" });
  const mails = async () =>
    (await empty.api.get("/rehearsal/outside?channel=email")).body.items as { to: string }[];
  expect((await mails()).filter((m) => m.to === "waits@example.com")).toEqual([]);
  await empty.api.post("/rehearsal/clock", { advance: "PT61M" });
  expect((await mails()).filter((m) => m.to === "waits@example.com")).toHaveLength(1);
});

test("a template is written by name of its fields, its faults named at their place, and sent to me", async ({
  page,
  empty,
}) => {
  await page.goto(`${empty.origin}/setup/templates`);
  await page.getByRole("button", { name: "New text" }).click();
  await page.getByLabel("Name", { exact: true }).fill("A short hello");
  await page.getByLabel("Text", { exact: true }).fill("Hi {{ lead.frist_name }}");
  await expect(
    page.getByText("There is no field “lead.frist_name”. Insert fields from the menu. (line 1, column 7)"),
  ).toBeVisible();
  await page.getByLabel("Text", { exact: true }).fill("Hi ");
  await page.getByLabel("Insert a field").selectOption({ label: "First name" });
  await expect(page.getByLabel("Text", { exact: true })).toContainText(
    "Hi {{ lead.first_name | default: '' }}",
  );
  // Typed, a field is completed by its name.
  await page.getByLabel("Text", { exact: true }).press("End");
  // With letters that are keys of every view: in a text they are letters.
  await page.keyboard.type(", nor run about {{ product");
  await expect(page.getByRole("listbox").getByRole("option", { name: /Product they asked/ })).toBeVisible();
  await page.keyboard.press("Enter");
  await expect(page.getByLabel("Text", { exact: true })).toContainText(
    ", nor run about {{ product | default: '' }}",
  );
  const becomes = page.getByRole("complementary", { name: "What it becomes" });
  await expect(becomes).toContainText("Hi Robin");
  await expectAccessible(page);
  await becomes.getByRole("button", { name: "Send it to me" }).click();
  await expect(page.getByText("It is on its way to +17205550170.")).toBeVisible();
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByRole("button", { name: "A short hello" })).toBeVisible();
});

test("what keeps messages within bounds is set, and who gets none is listed", async ({ page, empty }) => {
  await page.goto(`${empty.origin}/setup/restraint`);
  await page.getByLabel("Texts go from, at their place").fill("09:00");
  await page.getByRole("button", { name: "Put in force" }).click();
  await expect(page.getByText("In force from now on.")).toBeVisible();
  await page.getByLabel(/Numbers and addresses/).fill("never@example.com, 303 555 0177, rubbish");
  await page.getByLabel("Why").fill("asked at the fair");
  await page.getByRole("button", { name: "Add to the list" }).click();
  await expect(page.getByText("Neither a phone number nor a mail address: rubbish")).toBeVisible();
  await expect(page.getByRole("cell", { name: "+13035550177", exact: true })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole("button", { name: "Take never@example.com off the list" }).click();
  await expect(page.getByRole("cell", { name: "never@example.com", exact: true })).toBeHidden();
});

test("what is down outside is said in every view, and that nothing is lost", async ({ page, empty }) => {
  await page.goto(`${empty.origin}/rehearsal`);
  await page.getByRole("checkbox", { name: "Mailboxes" }).click();
  await expect(page.getByRole("checkbox", { name: "Mailboxes" })).not.toBeChecked();
  for (let n = 0; n < 3; n++) await inquire(empty, { email: `down${n}@example.com` });
  await empty.api.post("/rehearsal/clock", { advance: "PT1M" });
  await expect(page.getByRole("alert")).toContainText(/Mail is down for .* 3 messages wait/);
  await page.getByRole("checkbox", { name: "Mailboxes" }).click();
  await expect(page.getByRole("checkbox", { name: "Mailboxes" })).toBeChecked();
  await empty.api.post("/rehearsal/clock", { advance: "PT10M" });
  await expect(page.getByRole("alert")).toBeHidden();
});

test("what an outcome sets is written in Set-up and shown where the outcome is said", async ({
  page,
  empty,
}) => {
  await page.goto(`${empty.origin}/setup/calls`);
  await page.getByText("2. Voicemail").click();
  const voicemail = page.locator("details", { hasText: "2. Voicemail" });
  await voicemail.getByLabel("Days").fill("5");
  await voicemail.getByLabel("What for").fill("Ring again");
  await expect(voicemail).toContainText("Ring again, after 5 days, not on a weekend");
  await expectAccessible(page);
  await page.getByRole("button", { name: "Put in force" }).click();
  await expect(page.getByText("In force from now on.")).toBeVisible();
  await inquire(empty, { name: "Says Outcome" });
  await page.goto(empty.origin);
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Says Outcome");
  await page.keyboard.press("o");
  await expect(page.getByRole("button", { name: /Voicemail Ring again, Mon 09:00/ })).toBeVisible();
});

test.describe("booking a call, on a phone", () => {
  test.use({ viewport: { width: 390, height: 844 } });

  test("a lead chooses a time by a short link, moves it, and calls it off, without an account", async ({
    page,
    empty,
  }) => {
    const id = await inquire(empty, { name: "Books It", email: "books@example.com" });
    const body = "When suits you? {booking}";
    await empty.api.post(`/leads/${id}/messages`, { personId: "p_mara", channel: "text", body });
    await empty.api.post("/rehearsal/clock", { advance: "PT1S" });
    const [phone] = (await empty.api.get(`/leads/${id}`)).body.phones;
    const texts = (await empty.api.get("/rehearsal/outside?channel=text")).body.items as {
      to: string;
      body: string;
    }[];
    const link = /http\S+/.exec(texts.findLast((t) => t.to === phone)!.body)![0];
    expect(link).toContain("/l/");
    await page.goto(link);
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("When should Mara Whitehorse call you?");
    await expectAccessible(page);
    await page.getByRole("button", { name: "11:30 AM", exact: true }).first().click();
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("Mara Whitehorse calls you");
    await expect(page.getByText("Wednesday, March 4, 11:30 AM")).toBeVisible();
    await expectAccessible(page);
    const lead = async () => (await empty.api.get(`/leads/${id}`)).body;
    expect((await lead()).nextStep).toMatchObject({
      dueAt: "2026-03-04T18:30:00.000Z",
      note: "Call as booked",
    });
    await page.getByRole("link", { name: "Choose another time" }).click();
    await page.getByRole("button", { name: "2:00 PM", exact: true }).first().click();
    await expect(page.getByText("Wednesday, March 4, 2:00 PM")).toBeVisible();
    await page.getByRole("button", { name: "Cancel this call" }).click();
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("When should Mara Whitehorse call you?");
    expect((await lead()).nextStep.note).toContain("called off");
  });
});

test("who hears of what by which way is a matter of ticks, and tested at once", async ({ page, empty }) => {
  await page.goto(`${empty.origin}/setup/alerts`);
  await page.getByLabel("For whom").selectOption({ label: "Ines Okafor" });
  await page.getByLabel("I am named in a note: email").check();
  await page.getByLabel("I am named in a note: chat").uncheck();
  await expectAccessible(page);
  await page.getByRole("button", { name: "Put in force" }).click();
  await expect(page.getByText("In force from now on.")).toBeVisible();
  await page.getByRole("button", { name: "Send me a test: I am named in a note" }).click();
  await expect(page.getByText("A test is on its way to you by browser, email.")).toBeVisible();
  await empty.api.post("/rehearsal/clock", { advance: "PT1S" });
  const mails = (await empty.api.get("/rehearsal/outside?channel=email")).body.items;
  expect(mails.at(-1)).toMatchObject({
    to: "ines@tarnholt.example",
    subject: expect.stringMatching(/^A test: You are named in a note on /),
  });
});

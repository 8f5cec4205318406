import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import { asAPerson, expect, expectAccessible, inquire, test } from "./fixtures.ts";

test("sources tell how they do; the demo's are all accessible in both themes", async ({ page, demo }) => {
  await page.goto(`${demo.origin}/setup`);
  const site = page.getByRole("row", { name: /Website: plan your sauna/ });
  await expect(site).toContainText("live");
  await expect(site).toContainText("in quarantine");
  await site.getByRole("link").first().click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Website: plan your sauna");
  await expectAccessible(page);
  await page.getByRole("tab", { name: "What fields become" }).click();
  await expect(page.getByRole("heading", { name: "What becomes of it" })).toBeVisible();
  await expectAccessible(page);
  for (const place of ["Quarantine", "Fields and tags", "Spreadsheets", "Ad platform"]) {
    await page.getByRole("navigation", { name: "Set-up" }).getByRole("link", { name: place }).click();
    await expect(page.getByRole("heading", { level: 1 })).toHaveText(place);
  }
});

test("a source is added as a draft, mapped with its result in sight, tested through the real path, wiped, and put live", async ({
  page,
  empty,
}) => {
  await page.goto(`${empty.origin}/setup`);
  await page.getByRole("button", { name: "Add a source" }).click();
  await page.getByLabel("What you call it").fill("Spring fair form");
  await page.getByRole("button", { name: "Add as a draft" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Spring fair form");
  await expect(page.getByText("◇ draft")).toBeVisible();
  await page.getByRole("button", { name: "Put it live" }).click();
  await expect(page.getByText("◆ live")).toBeVisible();

  const sent = { wie: "Ana Ruiz", anruf_unter: "303 555 0123", dringend: "ja" };
  expect((await empty.api.post("/intake/spring-fair-form", sent)).body.quarantined).toBe(true);
  await page.getByRole("tab", { name: "What fields become" }).click();
  await expect(page.getByText("To quarantine.")).toBeVisible();
  await page.getByLabel("What anruf_unter becomes").selectOption({ label: "Phone" });
  await page.getByLabel("What wie becomes").selectOption({ label: "Name" });
  await expect(page.getByRole("complementary")).toContainText("+13035550123");
  await page.getByLabel("What dringend becomes").selectOption({ label: "a new field …" });
  await page.getByLabel("What it holds").selectOption({ label: "yes or no" });
  await page.getByRole("button", { name: "Make the field" }).click();
  await expect(page.getByRole("complementary")).toContainText("Dringend");
  await page.getByLabel("Add a tag").selectOption({ label: "show" });

  await page.getByRole("button", { name: "Send the test" }).click();
  const run = page.getByRole("region", { name: "Test through the real path" });
  await expect(run).toContainText("Offered to");
  await expect(run).toContainText(/sent|delivered/);
  await run.getByRole("button", { name: "Wipe the test" }).click();
  await expect(page.getByText("The test lead is gone")).toBeVisible();
  expect((await empty.api.get("/leads")).body.items).toEqual([]);

  await page.getByRole("button", { name: "Put this mapping in force" }).click();
  await expect(page.getByText("Version 2 of the mapping is in force.")).toBeVisible();
  await page.getByRole("link", { name: /Quarantine/ }).click();
  await page.getByRole("button", { name: "More" }).first().click();
  await page.getByRole("menuitem", { name: /Try again/ }).click();
  await expect(page.getByText("One inquiry taken in.")).toBeVisible();
  await expect(page.getByText("Nothing waits here")).toBeVisible();
  expect((await empty.api.get("/leads")).body.items[0]).toMatchObject({
    name: "Ana Ruiz",
    tags: ["show"],
    facts: { own: { dringend: true } },
  });
});

test("the form is edited, its questions moved by keyboard, and filled in on its own page", async ({
  page,
  empty,
}) => {
  await page.goto(`${empty.origin}/setup/sources/plan-your-sauna?tab=form`);
  const questions = page.getByLabel("Question", { exact: true });
  await expect(questions.first()).toHaveValue("Your name");
  await expectAccessible(page);
  await page.getByRole("button", { name: "Move Your name", exact: true }).focus();
  await page.keyboard.press("Space");
  await expect(page.getByText("Your name is over place 1.")).toBeAttached();
  await page.keyboard.press("ArrowDown");
  await expect(page.getByText("Your name is over place 2.")).toBeAttached();
  await page.keyboard.press("Space");
  await expect(questions.first()).toHaveValue("Phone");
  await page.getByLabel("Heading").fill("Plan your own sauna");
  await page.getByRole("button", { name: "Put this form in force" }).click();
  await expect(page.getByText("The form is in force")).toBeVisible();

  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(`${empty.origin}/f/plan-your-sauna?utm_source=poster`);
  await expect(page.getByRole("heading", { name: "Plan your own sauna" })).toBeVisible();
  await page.getByRole("button", { name: "Ask for a call" }).click();
  await expect(page.getByText("Please answer this.").first()).toBeVisible();
  await expectAccessible(page);
  await page.getByLabel("Your name").fill("Rosa Lind");
  await page.getByLabel("Email").fill("rosa@example.com");
  await page.getByLabel("I am just looking").check();
  await page.getByLabel(/You may write and call me/).check();
  // A person takes a few seconds; the form says when it was opened.
  await asAPerson(page);
  await page.getByRole("button", { name: "Ask for a call" }).click();
  await expect(page.getByRole("status")).toContainText("Thank you.");
  const [lead] = (await empty.api.get("/leads")).body.items;
  expect(lead).toMatchObject({
    name: "Rosa Lind",
    tags: ["just looking"],
    facts: { answers: { utm_source: "poster" } },
  });
  expect(lead.facts.answers.landing_page).toContain("/f/plan-your-sauna");
});

test("the snippet shows the form on another site", async ({ page, empty }) => {
  // Another port is another site to a browser.
  const site = createServer((_request, response) => {
    response.writeHead(200, { "content-type": "text/html" });
    response.end(
      `<html lang="en"><title>Elsewhere</title><div data-kite-bell="plan-your-sauna"></div><script src="${empty.origin}/embed.js" async></script></html>`,
    );
  });
  await new Promise<void>((resolve) => site.listen(0, "127.0.0.1", resolve));
  const elsewhere = `http://127.0.0.1:${(site.address() as AddressInfo).port}`;
  await page.goto(`${elsewhere}/saunas?gclid=g7`);
  await page.getByLabel("Your name").fill("From Elsewhere");
  await page.getByLabel("Email").fill("elsewhere@example.com");
  await page.getByLabel("Price").check();
  await page.getByLabel(/You may write and call me/).check();
  await asAPerson(page);
  await page.getByRole("button", { name: "Ask for a call" }).click();
  await expect(page.getByRole("status")).toContainText("Thank you.");
  const [lead] = (await empty.api.get("/leads")).body.items;
  expect(lead).toMatchObject({
    name: "From Elsewhere",
    facts: {
      own: { holding_back: "price" },
      answers: { gclid: "g7", page: `${elsewhere}/saunas?gclid=g7` },
    },
  });
  site.close();
});

test("the ad platform is connected as a person would, and a form chosen by name", async ({ page, empty }) => {
  await page.goto(`${empty.origin}/setup/ads`);
  await page.getByRole("button", { name: "Connect" }).click();
  await expect(page.getByRole("heading", { name: "Billboard Lane" })).toBeVisible();
  await page.getByRole("button", { name: "Allow" }).click();
  await expect(page.getByText("◆ connected")).toBeVisible();
  await expectAccessible(page);
  await page
    .getByRole("row", { name: /Wood-fired tubs, winter/ })
    .getByRole("button", { name: "Use this form" })
    .click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Ad: Wood-fired tubs, winter");
  await expect(page.getByLabel("What phone_number becomes")).toHaveValue("phone");
  await page.getByRole("button", { name: "Put it live" }).click();
  await expect(page.getByText("◆ live")).toBeVisible();
  await page.goto(`${empty.origin}/rehearsal`);
  await page.getByRole("tab", { name: "Ad form" }).click();
  await page.getByLabel("Form", { exact: true }).selectOption({ label: "Wood-fired tubs, winter" });
  await page.getByLabel("How many bathe at once?").selectOption("4");
  await page.getByRole("button", { name: "Send" }).click();
  await expect(page.getByText("Sent. The desk has a new lead.")).toBeVisible();
});

test("a list is loaded: columns mapped, checked whole, progress, rejects, and taken back", async ({
  page,
  empty,
}) => {
  await inquire(empty, { name: "Known Before", phone: "303 555 0111" });
  await page.goto(`${empty.origin}/setup/imports`);
  const rows = [
    "Wer;Telefon;Merkt",
    "Ottilie Brandvold;720 555 0111;roof",
    "Known Before;303 555 0111;",
    "No Contact;;card",
  ];
  await page
    .locator("input[type=file]")
    .setInputFiles({ name: "show.csv", mimeType: "text/csv", buffer: Buffer.from(rows.join("\n")) });
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("show.csv");
  await expect(page.getByLabel("What Wer becomes")).toHaveValue("name");
  await page.getByLabel("What Merkt becomes").selectOption({ label: "What they wrote" });
  await page.getByLabel("Tags for all").fill("spring");
  await page.getByRole("button", { name: "Check the whole file" }).click();
  const would = page.getByRole("region", { name: "What it would do" });
  await expect(would).toContainText("1 new");
  await expect(would).toContainText("Row 2: Known Before is Known Before, by phone number");
  await expect(would).toContainText("Row 3: No field carries a phone number");
  await expectAccessible(page);
  await would.getByRole("button", { name: "Load 2 rows" }).click();
  const list = page.getByRole("row", { name: /show\.csv/ });
  await expect(list).toContainText("◆ loaded");
  await expect(list.getByRole("link", { name: "1, to mend" })).toBeVisible();
  expect((await empty.api.get("/leads?q=ottilie")).body.items[0]).toMatchObject({
    tags: ["show", "spring"],
    handOff: null,
  });
  await list.getByRole("button", { name: "Take it back" }).click();
  await expect(page.getByText("1 leads are gone again.")).toBeVisible();
  await expect(list).toContainText("◇ taken back");
});

test("a likely match is joined on the sheet and taken apart again", async ({ page, empty }) => {
  const one = await inquire(empty, { name: "Catherine Whitfield", postal_code: "80302" });
  const two = await inquire(empty, { name: "Katherine Whitfield", postal_code: "80302" });
  await page.goto(`${empty.origin}/?lead=${two}`);
  const same = page.getByRole("region", { name: "The same person" });
  await expect(same).toContainText("Same person as Catherine Whitfield?");
  await expect(same).toContainText("both are in 80302");
  await expectAccessible(page);
  await same.getByRole("button", { name: "Yes, join them" }).click();
  await expect(same).toContainText("Catherine Whitfield is joined to this one.");
  expect((await empty.api.get(`/leads/${one}`)).body.joinedTo).toBe(two);
  await same.getByRole("button", { name: "Take apart" }).click();
  await expect(same).toBeHidden();
  expect((await empty.api.get(`/leads/${one}`)).body.joinedTo).toBeNull();
});

test("a voicemail waits on top and plays; a call picked up here announces itself, takes no key, and asks what came of it", async ({
  page,
  context,
  empty,
}) => {
  await inquire(empty, { name: "Waits Already" });
  const desk = await context.newPage();
  await desk.goto(empty.origin);
  await expect(desk.getByRole("heading", { level: 1 })).toHaveText("Waits Already");
  await page.goto(`${empty.origin}/rehearsal`);
  await page.getByRole("tab", { name: "Call" }).click();
  await page.getByRole("button", { name: "Call" }).click();
  const first = desk.getByRole("region", { name: "Answer now" }).getByRole("listitem").first();
  await expect(first).toContainText("call back");
  await first.getByRole("button").click();
  await expect(desk.getByLabel("The voicemail")).toBeVisible();
  await expectAccessible(desk);
  // Somebody types while the phone rings: nothing opens over it, and no letter is lost.
  await desk.keyboard.press("m");
  const note = desk.getByLabel("For colleagues, not for the lead");
  await note.pressSequentially("They asked for ");
  await page.getByLabel("From").fill("(612) 555-0190");
  await page.getByLabel("What happens").selectOption({ label: "you pick it up" });
  await page.getByRole("button", { name: "Call" }).click();
  const bar = desk.getByRole("region", { name: "Call you answered" });
  // In sight behind the note, which keeps the keys.
  await expect(desk.getByLabel("Call you answered")).toBeVisible();
  await note.pressSequentially("a quote");
  await expect(note).toHaveValue("They asked for a quote");
  await desk.keyboard.press("Escape");
  await expect(bar).toContainText("You answered their call");
  // It stays asked for over a reload, and gives the lead its next step like any call.
  await desk.reload();
  await bar.getByRole("button", { name: "Say what came of it" }).click();
  await desk
    .getByRole("dialog")
    .getByRole("button", { name: /^1 Reached/ })
    .click();
  await expect(bar).toBeHidden();
  await expect(desk.getByRole("status").filter({ hasText: "reached" })).toContainText("Next: follow up");
});

test("a mail over real SMTP stands in the thread with its answer", async ({ page, context, empty }) => {
  await page.goto(`${empty.origin}/rehearsal`);
  await page.getByRole("tab", { name: "Email" }).click();
  await page.getByLabel("From").fill("odile@example.com");
  await page.getByRole("button", { name: "Send" }).click();
  await expect(page.getByText("The desk’s mail receiver has accepted it.")).toBeVisible();
  await expect(page.getByRole("region", { name: "Mailboxes" })).toContainText("odile@example.com");
  const desk = await context.newPage();
  await desk.goto(empty.origin);
  await expect(desk.getByRole("heading", { level: 1 })).toHaveText("odile@example.com");
  await page.getByLabel("Mail", { exact: true }).fill("One more thing");
  await page.getByRole("button", { name: "Send" }).click();
  await expect(desk.locator("[data-kind=message-in]")).toContainText("One more thing");
});

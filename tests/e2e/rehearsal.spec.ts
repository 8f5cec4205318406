import { expect, expectAccessible, inquire, test } from "./fixtures.ts";

test("the website form is filled in and the lead is on the Desk, live, as a kite on the wire", async ({
  page,
  context,
  empty,
}) => {
  const desk = await context.newPage();
  await desk.goto(empty.origin);
  await expect(desk.getByText("Nobody waits for a call.")).toBeVisible();
  await expectAccessible(desk);

  await page.goto(`${empty.origin}/rehearsal`);
  await expect(page.getByText("No mailbox has received anything yet.")).toBeVisible();
  await page.getByLabel("Name").fill("Marguerite Oyelaran");
  await page.getByRole("button", { name: "Send" }).click();
  await expect(page.getByText("Sent. The desk has a new lead.")).toBeVisible();

  const kite = desk
    .getByRole("region", { name: "The wire" })
    .getByRole("button", { name: /Marguerite Oyelaran/ });
  await expect(kite).toHaveCount(1);
  await expect(desk.getByRole("region", { name: "Answer now" })).toContainText("Marguerite Oyelaran");

  await expect(page.getByRole("region", { name: "Mailboxes" })).toContainText("Hi Marguerite,");
  await expect(page.getByRole("region", { name: "Phones" })).toContainText("Tarnholt Bathworks here");
  await expect(page.getByRole("region", { name: "Phones" })).toContainText(
    "Offered to you: Marguerite Oyelaran",
  );
  await expect(page.getByRole("region", { name: "Team chat" })).toContainText(
    "Marguerite Oyelaran is offered to you",
  );
  await expectAccessible(page);

  await page.getByRole("button", { name: "5 min", exact: true }).click();
  await expect(page.getByText(/things fell due and ran/)).toBeVisible();
  await expect(page.getByRole("region", { name: "Team chat" })).toContainText(
    "Rung: nobody has called Marguerite Oyelaran",
  );
  await expect(desk.getByRole("region", { name: "Rung" })).toContainText("Marguerite Oyelaran");
});

test("an ad form goes signed through the real webhook", async ({ page, empty }) => {
  await page.goto(`${empty.origin}/rehearsal`);
  await page.getByRole("tab", { name: "Ad form" }).click();
  await page.getByLabel("Form", { exact: true }).selectOption({ label: "Lodge brochure" });
  await page.getByLabel("How many units?").selectOption("3–5");
  await page.getByRole("button", { name: "Send" }).click();
  await expect(page.getByText("Sent. The desk has a new lead.")).toBeVisible();
  const [lead] = (await empty.api.get("/leads")).body.items;
  expect(lead).toMatchObject({
    sourceId: "src_lodge",
    facts: { product: "lodge", own: { units: "3–5" } },
  });
  expect(["p_hanne", "p_ravi"]).toContain(lead.handOff.to[0]);
});

test("a text from a known number waits on top as a reply", async ({ page, context, empty }) => {
  const id = await inquire(empty, { name: "Talks Back", phone: "(303) 555-0156" });
  await empty.api.post(`/leads/${id}/tries`, { personId: "p_mara", channel: "call", outcome: "voicemail" });
  const desk = await context.newPage();
  await desk.goto(`${empty.origin}/?lead=${id}`);
  await page.goto(`${empty.origin}/rehearsal`);
  await page.getByRole("tab", { name: "Text", exact: true }).click();
  await page.getByRole("button", { name: "Send" }).click();
  await expect(desk.getByTestId("now-line")).toContainText("They wrote");
  await expect(desk.getByRole("region", { name: "Answer now" })).toContainText("reply waiting");
  await expect(desk.locator("[data-kind=message-in]")).toContainText("Yes, please call me after five.");
});

test.describe("the link in the notification, on a phone", () => {
  test.use({ viewport: { width: 390, height: 844 } });

  test("takes the lead with one tap", async ({ page, empty }) => {
    const id = await inquire(empty, { name: "One Tap" });
    await empty.api.post("/rehearsal/clock", { advance: "PT1S" });
    const chat = (await empty.api.get("/rehearsal/outside?channel=chat")).body.items as { url: string }[];
    await page.goto(chat[0]!.url);
    await expect(page.getByRole("heading", { name: "One Tap" })).toBeVisible();
    await expect(page.getByText(/^1:\d\d$/)).toBeVisible();
    await expectAccessible(page);
    await page.getByRole("button", { name: "Take", exact: true }).click();
    await expect(page.getByText(/you have this lead/)).toBeVisible();
    await expect(page.getByRole("link", { name: /Call \(303\)/ })).toBeVisible();
    await expectAccessible(page);
    expect((await empty.api.get(`/leads/${id}`)).body.handOff.state).toBe("taken");
  });

  test("passes it with a reason, and then says where it went", async ({ page, empty }) => {
    const id = await inquire(empty, { name: "Pass Me" });
    await empty.api.post("/rehearsal/clock", { advance: "PT1S" });
    const chat = (await empty.api.get("/rehearsal/outside?channel=chat")).body.items as { url: string }[];
    const before = (await empty.api.get(`/leads/${id}`)).body.handOff.to[0];
    await page.goto(chat[0]!.url);
    await page.getByText("Pass …").click();
    await page.getByLabel("Driving").check();
    await page.getByRole("button", { name: "Pass to the next" }).click();
    await expect(page.getByText(/this lead has moved on/)).toBeVisible();
    await expectAccessible(page);
    expect((await empty.api.get(`/leads/${id}`)).body.handOff.to[0]).not.toBe(before);
  });

  test("says so when the time has run out, and when it is not one of ours", async ({ page, empty }) => {
    await inquire(empty, { name: "Too Late" });
    await empty.api.post("/rehearsal/clock", { advance: "PT3M" });
    const chat = (await empty.api.get("/rehearsal/outside?channel=chat")).body.items as { url: string }[];
    await page.goto(chat[0]!.url);
    await expect(page.getByText(/the time to take it ran out/)).toBeVisible();
    await expect(page.getByRole("button", { name: "Take" })).toHaveCount(0);
    await page.goto(`${empty.origin}/t/forged.link`);
    await expect(page.getByRole("heading", { name: "This link is not one of ours" })).toBeVisible();
    await expectAccessible(page);
  });
});

test("one can be somebody else of the company", async ({ page, empty }) => {
  await page.goto(empty.origin);
  await page.getByLabel("Who you are in this rehearsal").selectOption({ label: "Mara Whitehorse" });
  await expect(page.getByLabel("Who you are in this rehearsal")).toHaveValue("p_mara");
  const id = await inquire(empty, { name: "For Mara" });
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("For Mara");
  await page.keyboard.press("k");
  await expect.poll(async () => (await empty.api.get(`/leads/${id}`)).body.ownerId).toBe("p_mara");
});

test("live traffic is switched on: people inquire by themselves and ours act; switched off, nobody comes any more", async ({
  page,
  empty,
}) => {
  await page.goto(`${empty.origin}/rehearsal`);
  const live = page.getByRole("region", { name: "Live traffic" });
  await live.getByRole("combobox").selectOption({ label: "about twenty a minute" });
  await expect(live.getByRole("status")).toContainText(/[1-9]\d* came in/, { timeout: 60_000 });
  await expect(page.getByRole("list", { name: "Mailboxes, newest first" })).not.toBeEmpty({
    timeout: 60_000,
  });
  await live.getByRole("combobox").selectOption({ label: "off" });
  await expect.poll(async () => (await empty.api.get("/rehearsal/traffic")).body.perMinute).toBe(0);
  expect((await empty.api.get("/quarantine")).body.items).toEqual([]);
});

test("one of ours texts back and has the lead; another system of the rehearsal is told of it", async ({
  page,
  empty,
}) => {
  const { url } = (await empty.api.get("/rehearsal/hooks")).body;
  const hook = { name: "Ledger", url, events: [], trait: "all", on: true };
  expect((await empty.api.post("/setup/hooks", hook)).status).toBe(200);
  const id = await inquire(empty, { name: "Wanda Fell", phone: "303 555 0171" });
  const lead = async () => (await empty.api.get(`/leads/${id}`)).body;
  await page.goto(`${empty.origin}/rehearsal`);
  const phones = page.getByRole("region", { name: "Phones" });
  const back = phones.getByLabel(/^Text back as /).first();
  await back.fill("1");
  await back.press("Enter");
  await expect.poll(async () => (await lead()).handOff?.state).toBe("taken");
  await page.getByText(/^Another system/).click();
  const told = page.getByRole("list", { name: "What it was told, newest first" });
  await expect(told).toContainText("event.taken");
  await expectAccessible(page);
});

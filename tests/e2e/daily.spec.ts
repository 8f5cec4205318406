import type { Page } from "@playwright/test";
import { expect, inquire, test } from "./fixtures.ts";

/** What a coordinator sees at a glance and does day by day. */

const be = (origin: string, person: string) => ({ name: "kb_me", value: person, url: origin });
const row = (page: Page, name: string) =>
  page.getByRole("region", { name: "Queue" }).getByRole("button").filter({ hasText: name });

test("a reply is not answered blind: its words stand on the row, in the sheet and above what one writes", async ({
  page,
  empty,
}) => {
  const phone = "+13035559001";
  await inquire(empty, { name: "Odile Writes", phone, message: "Which wood is it?" });
  await page.goto(empty.origin);
  await expect(row(page, "Odile Writes")).toContainText("“Which wood is it?”");
  await empty.api.post("/rehearsal/text", {
    from: phone,
    to: "+17205550102",
    body: "And is the pump in it?",
  });
  await expect(row(page, "Odile Writes")).toContainText("“And is the pump in it?”");
  await expect(row(page, "Odile Writes")).toContainText("reply waiting");
  const lead = page.getByRole("region", { name: "Lead" });
  await expect(lead.locator("q")).toHaveText("And is the pump in it?");
  await expect(lead.locator("q")).toBeVisible();
  // What makes sense now comes first: they wrote, so they are answered.
  await lead.getByRole("button", { name: "Answer" }).click();
  await expect(page.getByLabel(/Text to/)).toBeFocused();
  await expect(lead).toContainText("They said: “And is the pump in it?”");
  await page.keyboard.type("Yes, it is.");
  await page.keyboard.press("Control+Enter");
  // The message stands once, and is its own try.
  await expect(page.locator("[data-kind=message-out]").filter({ hasText: "Yes, it is." })).toHaveCount(1);
  await expect(page.locator("[data-kind=tried]")).toHaveCount(0);
});

test("what comes while one is elsewhere is marked new until it is opened, in this browser", async ({
  page,
  empty,
}) => {
  await inquire(empty, { name: "First Here" });
  await page.goto(empty.origin);
  await expect(row(page, "First Here")).toBeVisible();
  await empty.api.post("/rehearsal/clock", { advance: "PT10S" });
  await inquire(empty, { name: "Second Here" });
  await expect(row(page, "Second Here").getByText("new", { exact: true })).toBeVisible();
  await expect(row(page, "First Here").getByText("new", { exact: true })).toHaveCount(0);
  await page.reload();
  await expect(row(page, "Second Here").getByText("new", { exact: true })).toBeVisible();
  await row(page, "Second Here").click();
  await expect(row(page, "Second Here").getByText("new", { exact: true })).toHaveCount(0);
});

test("rung means the same on the wire, in the queue and in the tab", async ({ page, empty }) => {
  const ids = await Promise.all(["One", "Two"].map((n) => inquire(empty, { name: `Rings ${n}` })));
  await empty.api.post(`/leads/${ids[0]}/take`, { personId: "p_mara" });
  await empty.api.post("/rehearsal/clock", { advance: "PT6M" });
  await page.goto(empty.origin);
  const band = page.getByRole("region", { name: "Rung" });
  await expect(band.getByRole("heading")).toContainText("2");
  await expect(page.getByRole("region", { name: "The wire" })).toContainText("2 have rung");
  await expect(page).toHaveTitle(/▲ 2 rung/);
  await expect(band.getByText("over").first()).toBeVisible();
});

test("quarantine is worked through: corrected beside what came, set aside by the dozen, and taken back", async ({
  page,
  context,
  empty,
}) => {
  await context.addCookies([be(empty.origin, "p_oskar")]);
  for (const n of [1, 2, 3])
    await empty.api.post("/intake/plan-your-sauna", {
      name: `Held ${n}`,
      phone: "none",
      message: "How deep is it?",
      submission_id: `held-${n}`,
    });
  await page.goto(empty.origin);
  await page.getByRole("link", { name: "3 inquiries wait in quarantine" }).click();
  const item = (n: number) => page.getByRole("listitem").filter({ hasText: `Held ${n}` });
  await expect(item(1)).toContainText("“How deep is it?”");
  await expect(item(1)).toContainText("“none” is neither a mail address nor a phone number");
  await page.getByRole("button", { name: "Correct and take in: Held 1" }).click();
  const dialog = page.getByRole("dialog");
  await expect(dialog.getByText('"submission_id": "held-1"')).toBeVisible();
  await dialog.getByLabel("Phone").fill("12");
  await dialog.getByRole("button", { name: "Take it in" }).click();
  await expect(dialog.getByRole("alert")).toContainText("12");
  await dialog.getByLabel("Phone").fill("303 555 9077");
  await dialog.getByRole("button", { name: "Take it in" }).click();
  // What lies behind a dialog is no list to anybody: it is closed once the inquiry is in.
  await expect(dialog).toHaveCount(0);
  await expect(item(1)).toHaveCount(0);
  expect((await empty.api.get("/leads")).body.items[0]).toMatchObject({
    name: "Held 1",
    phones: ["+13035559077"],
  });
  await page.getByLabel("Mark all").check();
  await page.getByRole("button", { name: "No inquiries" }).click();
  await expect(page.getByText("Nothing waits here")).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(item(2)).toBeVisible();
  await expect(item(3)).toBeVisible();
});

test("changes are sentences with before and after, asked for by person, thing and day", async ({
  page,
  context,
  empty,
}) => {
  await context.addCookies([be(empty.origin, "p_oskar")]);
  const words = (await empty.api.get("/setup/words")).body;
  const { kept: _, ...save } = words;
  await empty.api.post("/setup/words", { ...save, passReasons: [...save.passReasons, "Stuck in snow"] });
  await page.goto(`${empty.origin}/setup/people?person=p_noor`);
  await page.getByLabel("Phone").fill("+1 303 555 0999");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText(/is saved/)).toBeVisible();
  await page.goto(`${empty.origin}/setup/changes`);
  const entry = (text: string | RegExp) => page.getByRole("listitem").filter({ hasText: text }).first();
  await expect(entry("person Noor Castellanos")).toContainText(/phone: .* is now \+13035550999/);
  await expect(entry("reasons for passing")).toContainText("new: Stuck in snow");
  await page.getByLabel("Who", { exact: true }).selectOption({ label: "Oskar Vance" });
  await expect(page.getByText("reasons for passing")).toHaveCount(0);
  await expect(entry("person Noor Castellanos")).toBeVisible();
  await page.getByLabel("From", { exact: true }).fill("2030-01-01");
  await expect(page.getByText("No such change")).toBeVisible();
  await page.getByRole("button", { name: "All of them" }).click();
  await page.getByLabel("What", { exact: true }).fill("passing");
  await expect(entry("reasons for passing")).toBeVisible();
  await expect(page.getByText("person Noor Castellanos")).toHaveCount(0);
});

test("parked leads are searched, sorted, parked until a day and woken by the dozen", async ({
  page,
  context,
  empty,
}) => {
  await context.addCookies([be(empty.origin, "p_greta")]);
  for (const [name, reason] of [
    ["Ada Early", "Builds next spring"],
    ["Ben Later", "Moves house first"],
    ["Cleo Later", "Moves house first"],
  ] as const) {
    const id = await inquire(empty, { name });
    await empty.api.post(`/leads/${id}/take`, { personId: "p_mara" });
    await empty.api.post(`/leads/${id}/park`, { reason });
  }
  await page.goto(`${empty.origin}/parked`);
  const names = page.locator("tbody a[data-row]");
  await expect(names).toHaveCount(3);
  await page.getByLabel("Who", { exact: true }).fill("ada");
  await expect(names).toHaveText(["Ada Early"]);
  await page.getByLabel("Who", { exact: true }).fill("");
  await page.getByLabel("Why", { exact: true }).selectOption("Moves house first");
  await expect(names).toHaveCount(2);
  await page.getByLabel("Mark all").check();
  await page.getByRole("button", { name: "Park", exact: true }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("Reason").fill("Moves in June");
  await dialog.getByLabel(/Until a day/).fill("1 june");
  await expect(dialog).toContainText("That is Mon 1 Jun");
  await dialog.getByRole("button", { name: "Park", exact: true }).click();
  await expect(page.getByText("No parked lead like that")).toBeVisible();
  await page.getByRole("button", { name: "Show all of them" }).click();
  await expect(page.getByRole("row", { name: /Ben Later/ })).toContainText("1 Jun");
  await page.getByLabel("Mark Ben Later").check();
  await page.getByLabel("Mark Cleo Later").check();
  await page.getByRole("button", { name: "Wake" }).click();
  await expect(names).toHaveText(["Ada Early"]);
  await expect(page.getByText("2 leads awake again.")).toBeVisible();
});

test("an alert is written with merge fields, says what is wrong, and is what people get", async ({
  page,
  context,
  empty,
}) => {
  await context.addCookies([be(empty.origin, "p_oskar")]);
  await page.goto(`${empty.origin}/setup/alerts`);
  const offer = page.getByLabel("A lead is offered to me", { exact: true });
  await expect(offer).toHaveAttribute("placeholder", /is offered to you/);
  await offer.fill("Fresh: {{ lead.nmae }}");
  await expect(page.getByText("There is no field “lead.nmae”")).toBeVisible();
  await offer.fill("Fresh from the site: {{ lead.first_name }}");
  await expect(page.getByText("becomes: Fresh from the site: Robin")).toBeVisible();
  await page.getByRole("button", { name: "Put in force" }).click();
  await expect(page.getByText("Alerts say so from now on.")).toBeVisible();
  await inquire(empty, { name: "Wilma Words" });
  await empty.api.post("/rehearsal/clock", { advance: "PT1S" });
  const chats = (await empty.api.get("/rehearsal/outside?channel=chat")).body.items as { body: string }[];
  expect(chats.some((c) => c.body.startsWith("*Fresh from the site: Wilma*"))).toBe(true);
});

test("who is away is covered in sight, and it is said when it comes back", async ({ page, empty }) => {
  const id = await inquire(empty, { name: "Lent Out" });
  await empty.api.post(`/leads/${id}/take`, { personId: "p_mara" });
  const people = (await empty.api.get("/setup/people")).body.people as Record<string, unknown>[];
  const mara = people.find((p) => p.id === "p_mara")!;
  const away = {
    from: "2026-03-04T16:01:00Z",
    to: "2026-03-09T14:00:00Z",
    reason: "ski week",
    coverId: "p_idris",
  };
  const saved = await empty.api.post("/setup/people", {
    ...mara,
    absences: [{ ...away, waiting: "goes", after: "back" }],
  });
  expect(saved.status).toBeLessThan(300);
  await empty.api.post("/rehearsal/clock", { to: "2026-03-04T16:01:30Z" });
  await page.goto(`${empty.origin}/?lead=${id}`);
  await expect(page.getByTestId("now-line")).toContainText(
    "Idris Bell-Hassan covers for Mara Whitehorse: it comes back Mon",
  );
  await expect(row(page, "Lent Out")).toContainText("Idris covers for Mara");
});

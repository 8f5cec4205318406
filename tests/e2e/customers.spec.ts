import type { Page } from "@playwright/test";
import { expect, expectAccessible, inquire, test } from "./fixtures.ts";

/** From a lead to a customer as people go it: by keyboard, by dragging, in two browsers, on the phone. */

type Desk = Parameters<typeof inquire>[0];
const be = (origin: string, person: string) => ({ name: "kb_me", value: person, url: origin });

/** A lead of Mara’s who was reached. */
async function talking(desk: Desk, more: Record<string, string> = {}): Promise<string> {
  const id = await inquire(desk, { name: "Rosa Lindqvist", email: "rosa@cedar-inn.example", ...more });
  await desk.api.post(`/leads/${id}/take`, { personId: "p_mara" });
  await desk.api.post(`/leads/${id}/tries`, { personId: "p_mara", channel: "call", outcome: "reached" });
  return id;
}

/** A deal on the board, by hand-over. */
async function deal(desk: Desk, name: string, value: number): Promise<string> {
  const id = await talking(desk, {
    name,
    email: `${name.toLowerCase().replace(/ /g, ".")}@mail.example`,
    phone: `303 555 ${1000 + value}`,
  });
  const { body } = await desk.api.post(`/leads/${id}/hand-over`, {
    contact: {},
    deal: { name: `Sauna, ${name}`, value },
  });
  return body.dealId;
}

const wire = (page: Page, name: string) => page.getByRole("button", { name: new RegExp(`^${name}`) });

test("questions are answered beside the lead, a stage says what is missing, and the lead is handed over and back", async ({
  page,
  context,
  empty,
}) => {
  test.setTimeout(90_000);
  const { body: sets } = await empty.api.get("/setup/questions");
  await empty.api.post("/setup/questions", {
    questionSets: sets.questionSets.map((s: { questions: { key: string }[] }) => ({
      ...s,
      questions: s.questions.map((q) => (q.key === "power" ? { ...q, requiredFor: "Qualified" } : q)),
    })),
  });
  const id = await talking(empty);
  await context.addCookies([be(empty.origin, "p_mara")]);
  await page.goto(`${empty.origin}/?lead=${id}&tab=questions`);
  const qualified = page.getByRole("button", { name: /^Qualified/ });
  await expect(qualified).toContainText("0 of 1");
  await qualified.click();
  await expect(page.getByText("one must know: Power at the site")).toBeVisible();
  await page.getByLabel("Power at the site", { exact: true }).selectOption("240 V possible");
  await expect(qualified).toContainText("1 of 1");
  await expect(page.getByText(/^Mara Whitehorse, /)).toBeVisible();
  await expectAccessible(page);
  await qualified.click();
  await expect(qualified).toHaveAttribute("aria-current", "step");
  // A question without an answer becomes tomorrow's task.
  await page
    .getByRole("listitem")
    .filter({ hasText: "How much level room" })
    .getByRole("button", { name: "No answer yet" })
    .click();
  await page.getByRole("heading", { level: 1 }).click();
  await page.keyboard.press("y");
  const dialog = page.getByRole("dialog");
  await expect(dialog).toContainText("Task: Ask: How much level room");
  await dialog.getByLabel("A new company").check();
  await dialog.getByLabel("Its name").fill("Cedar Inn");
  await dialog.getByLabel("Value, USD").fill("12,500.50");
  await expectAccessible(page);
  await dialog.getByRole("button", { name: "Hand over" }).click();
  await expect(page.getByText("Rosa Lindqvist is handed over.")).toBeVisible();
  const { body: over } = await empty.api.get(`/leads/${id}`);
  expect((await empty.api.get(`/deals/${over.handedOver.dealId}`)).body).toMatchObject({
    value: 12_500.5,
    company: { name: "Cedar Inn" },
  });
  await page.keyboard.press("u");
  await expect.poll(async () => (await empty.api.get(`/leads/${id}`)).body.stage).toBe("Qualified");
  expect((await empty.api.get(`/deals/${over.handedOver.dealId}`)).status).toBe(404);
});

test("what is still to be asked stands beside a call and in the rounds; H hangs up while one talks, Y hands over", async ({
  page,
  context,
  empty,
}) => {
  const id = await inquire(empty, { name: "Rosa Lindqvist", email: "rosa@cedar-inn.example" });
  await empty.api.post(`/leads/${id}/take`, { personId: "p_mara" });
  await context.addCookies([be(empty.origin, "p_mara")]);
  await page.goto(`${empty.origin}/rounds`);
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Rosa Lindqvist");
  // What is typed from here on is an answer, and no key of the view.
  await page.keyboard.press("q");
  await expect(page.getByLabel("Power at the site")).toBeFocused();
  await page.getByLabel("Footprint").fill("2 by 3 m, so roughly");
  await page.keyboard.press("Enter");
  await expect
    .poll(async () => (await empty.api.get(`/leads/${id}`)).body.facts.own.footprint)
    .toContain("2 by 3");
  await expectAccessible(page);

  await page.goto(`${empty.origin}/?lead=${id}`);
  await page.getByRole("heading", { level: 1 }).click();
  await page.keyboard.press("c");
  const bar = page.getByRole("region", { name: "Call" });
  await expect(bar).toContainText("Their phone rings");
  const [line] = (await empty.api.get("/rehearsal/phone")).body.items;
  await empty.api.post("/rehearsal/phone", { callId: line.id, does: "answer" });
  await expect(bar.getByLabel("Power at the site")).toBeVisible();
  await expect(bar.getByLabel("Footprint")).toBeHidden();
  await bar.getByLabel("Power at the site").selectOption("240 V there");
  await expect(bar.getByText(/^Mara Whitehorse, /)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole("heading", { level: 1 }).click();
  await page.keyboard.press("h");
  await expect(page.getByRole("dialog")).toContainText("You talked");
  await page.keyboard.press("Escape");
  await expect(bar).toContainText("Ended");
  await page.keyboard.press("y");
  await expect(page.getByRole("dialog")).toContainText("Hand over");
});

test("a deal is dragged by the mouse and by the keyboard; an end asks why; a refusal lets it spring back; others see it move", async ({
  page,
  context,
  browser,
  empty,
}) => {
  test.setTimeout(90_000);
  const id = await deal(empty, "Otis Ulrich", 6_800);
  await deal(empty, "Nadia Xu", 5_200);
  await context.addCookies([be(empty.origin, "p_mara")]);
  await page.goto(`${empty.origin}/board`);
  const other = await browser.newContext();
  await other.addCookies([be(empty.origin, "p_greta")]);
  const beside = await other.newPage();
  await beside.goto(`${empty.origin}/board`);
  await expect(wire(beside, "Otis Ulrich")).toBeVisible();
  await expect(page.getByRole("heading", { name: /^Looking at it/ })).toContainText("2 deals, $12,000");

  const from = (await wire(page, "Otis Ulrich").boundingBox())!;
  const priced = (await page.getByRole("heading", { name: /^Priced/ }).boundingBox())!;
  await page.mouse.move(from.x + 30, from.y + 10);
  await page.mouse.down();
  await page.mouse.move(from.x + 60, from.y + 60, { steps: 4 });
  await page.mouse.move(priced.x + 200, priced.y + priced.height + 20, { steps: 8 });
  await page.mouse.up();
  await expect(page.getByText("Otis Ulrich → Priced.")).toBeVisible();
  await expect(beside.getByRole("heading", { name: /^Priced/ })).toContainText("1 deal, $6,800");

  // By keyboard: space takes hold, arrows go from stage to stage, space drops.
  await wire(page, "Otis Ulrich").focus();
  await page.keyboard.press("Space");
  const told = page.locator("[aria-live]").filter({ hasText: "Otis Ulrich is" });
  // Not before it is held: the drop by mouse was told in the same place.
  await expect(told).toContainText("is over Priced");
  await page.keyboard.press("ArrowDown");
  await expect(told).toContainText("is over Deciding");
  await page.keyboard.press("ArrowDown");
  await expect(told).toContainText("is over Won");
  await page.keyboard.press("Escape");
  await expect(told).toContainText("is back where it was");
  await expect(wire(page, "Otis Ulrich")).toBeVisible();

  // What must be known before is asked for where it is refused: the deal stays where it was.
  const { body: setup } = await empty.api.get("/setup/stages");
  await empty.api.post("/setup/stages", {
    ...setup,
    stages: setup.stages.map((s: { key: string }) =>
      s.key === "Deciding" ? { ...s, asks: ["expectedOn"] } : s,
    ),
  });
  await wire(page, "Otis Ulrich").click();
  const panel = page.getByRole("region", { name: "Deal" });
  const moveTo = async (stage: string) => {
    await panel.getByRole("button", { name: /^(Move to|Open again in)/ }).click();
    await page.getByRole("menuitem", { name: stage }).click();
  };
  await moveTo("Deciding");
  await expect(page.getByText("one must know: Expected date")).toBeVisible();
  expect((await empty.api.get(`/deals/${id}`)).body.stage).toBe("Priced");
  await panel.getByRole("button", { name: "no date yet" }).click();
  await panel.getByLabel("Expected on").fill("2026-04-02");
  await panel.getByRole("button", { name: "Keep", exact: true }).click();
  await expect(panel.getByRole("button", { name: "Thu 2 Apr" })).toBeVisible();
  await moveTo("Deciding");
  await expect.poll(async () => (await empty.api.get(`/deals/${id}`)).body.stage).toBe("Deciding");
  await expectAccessible(page);
  await moveTo("Won");
  await expect(page.getByRole("dialog")).toContainText("Otis Ulrich: won. Why?");
  await page.keyboard.press("1");
  await expect(panel.getByText(/^Won: Signed/)).toBeVisible();
  await expect(wire(beside, "Otis Ulrich")).toHaveCount(0);
  // Escape from the panel, and the table says the same.
  await page.getByRole("tab", { name: "Ended" }).click();
  await expect(page.getByRole("row", { name: /Otis Ulrich/ })).toContainText("Signed");
  await other.close();
});

test("on the phone the board is a list with a menu to move", async ({ page, context, empty }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  const id = await deal(empty, "Tove Quigley", 2_900);
  await context.addCookies([be(empty.origin, "p_mara")]);
  await page.goto(`${empty.origin}/board`);
  await expect(wire(page, "Tove Quigley")).toBeVisible();
  await expectAccessible(page);
  await page.getByRole("button", { name: /^Move/ }).click();
  await page.getByRole("menuitem", { name: "Lost" }).click();
  await page.getByRole("button", { name: "Price" }).click();
  await expect.poll(async () => (await empty.api.get(`/deals/${id}`)).body.closed?.reason).toBe("Price");
  // Somebody else's deals are none of a salesperson's business.
  const { body } = await empty.api.get("/deals?closed=true");
  expect(body.items).toHaveLength(1);
});

test("an estimate is worked out beside the lead, sent, and accepted by them on their phone", async ({
  page,
  context,
  empty,
}) => {
  test.setTimeout(90_000);
  const id = await talking(empty);
  await context.addCookies([be(empty.origin, "p_mara")]);
  await page.goto(`${empty.origin}/?lead=${id}&tab=estimates`);
  await page.getByLabel("Pieces").fill("2");
  await page.getByLabel("Discount, %").fill("ten");
  await expect(page.getByText("“ten” is not a number.")).toBeVisible();
  await page.getByLabel("Discount, %").fill("10");
  await page.getByLabel("Miles from Denver").fill("50");
  // 13,600 less 10 % and 250 delivery, with 4.81 % tax.
  await expect(page.getByRole("row", { name: /Total/ })).toContainText("$13,090.77");
  await page.getByRole("button", { name: "Make the estimate" }).click();
  const dialog = page.getByRole("dialog", { name: /Send estimate 1001/ });
  await expect(dialog).toContainText("To rosa@cedar-inn.example");
  await dialog.getByRole("button", { name: "Send" }).click();
  await expect(page.getByText("holds until")).toBeVisible();
  const { body: estimates } = await empty.api.get(`/leads/${id}/estimates`);
  const mail = async () => {
    const { body } = await empty.api.get(`/leads/${id}/events`);
    const sent = body.items.find((e: { data: { subject?: string } }) =>
      e.data.subject?.startsWith("Estimate"),
    );
    return sent?.data.body ?? "";
  };
  await expect.poll(mail).toContain("/e/");
  const link = /https?:\/\/\S+\/e\/[\w.-]+/.exec(await mail())![0];
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(empty.origin + new URL(link).pathname);
  await expect(page.getByRole("row", { name: /Total/ })).toContainText("$13,090.77");
  await expectAccessible(page);
  await page.getByLabel("Your name").fill("Rosa L.");
  await page.getByRole("button", { name: "Accept the estimate" }).click();
  await expect(page.getByRole("status")).toContainText("Rosa L. accepted it");
  expect((await empty.api.get(`/estimates/${estimates.estimates[0].id}`)).body.state).toBe("accepted");
  expect((await empty.api.get(`/leads/${id}`)).body.replyWaiting).not.toBeNull();
});

test("a colleague is named with @, asked, finds the question in the bar on top and answers it", async ({
  page,
  context,
  browser,
  empty,
}) => {
  const id = await talking(empty);
  await context.addCookies([be(empty.origin, "p_mara")]);
  await page.goto(`${empty.origin}/?lead=${id}`);
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Rosa Lindqvist");
  await page.keyboard.press("m");
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("For colleagues").pressSequentially("@Gre");
  await expect(dialog.getByRole("option", { name: "Greta Mbeki" })).toHaveAttribute("aria-selected", "true");
  await page.keyboard.press("Enter");
  await page.keyboard.type("may I go to 8 %?");
  await expect(dialog.getByLabel("For colleagues")).toHaveValue("@Greta Mbeki may I go to 8 %?");
  await dialog.getByLabel(/^Ask whoever is named/).check();
  await dialog.getByRole("button", { name: "Save" }).click();
  const other = await browser.newContext();
  await other.addCookies([be(empty.origin, "p_greta")]);
  const greta = await other.newPage();
  await greta.goto(empty.origin);
  await greta.getByRole("link", { name: "1 to answer" }).click();
  await greta.getByRole("button", { name: "Answer", exact: true }).click();
  await greta.getByLabel("Your answer").fill("Six at most");
  await greta.keyboard.press("Enter");
  await expect(greta.getByRole("link", { name: "1 to answer" })).toHaveCount(0);
  await expect(page.getByText("Six at most")).toBeVisible();
  await other.close();
});

test("a stage with leads in it is removed by saying where they go", async ({ page, context, empty }) => {
  const id = await talking(empty);
  await empty.api.post(`/leads/${id}/stage`, { stage: "Qualified" });
  await context.addCookies([be(empty.origin, "p_oskar")]);
  await page.goto(`${empty.origin}/setup/stages`);
  const row = page.getByRole("listitem").filter({ hasText: "Qualified" });
  await expect(row).toContainText("1 here");
  await row.getByRole("button", { name: "Remove" }).click();
  const dialog = page.getByRole("dialog");
  await expect(dialog).toContainText("1 lead stands in it");
  await dialog.getByLabel("They go to").selectOption("Talking");
  await dialog.getByRole("button", { name: "Remove it" }).click();
  await page.getByRole("button", { name: "Put in force" }).click();
  await expect(page.getByText("In force from now on.")).toBeVisible();
  await expect.poll(async () => (await empty.api.get(`/leads/${id}`)).body.stage).toBe("Talking");
});

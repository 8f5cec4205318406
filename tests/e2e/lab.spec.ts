import { expect, expectAccessible, inquire, test } from "./fixtures.ts";

/** Looking ahead: one set-up against another, run by the engine that runs the desk. */

const be = (origin: string, person: string) => ({ name: "kb_me", value: person, url: origin });

test("an experiment is put together by keyboard, run, read, looked at on the wire, and its rules become the draft", async ({
  page,
  context,
  demo,
}) => {
  await context.addCookies([be(demo.origin, "p_greta")]);
  await page.goto(`${demo.origin}/`);
  await page.getByRole("navigation", { name: "Views" }).getByRole("link", { name: "Lab" }).click();
  const form = page.getByRole("form", { name: "A new experiment" });
  await form.getByLabel("For weeks").fill("1");
  await form.getByLabel("Runs of each side").fill("3");
  const b = form.getByRole("group", { name: /^B/ });
  await expect(b.getByText("As it is live")).toBeVisible();
  await b.getByRole("button", { name: /^Change something/ }).focus();
  await page.keyboard.press("Enter");
  await page.getByRole("menuitem", { name: "Minutes to take an offer" }).press("Enter");
  await b.getByLabel("Of the rule").selectOption({ label: "Everybody else" });
  await b.getByLabel("minutes", { exact: true }).fill("9");
  await b.getByRole("button", { name: /^Change something/ }).click();
  await page.getByRole("menuitem", { name: "One more person" }).click();
  await b.getByLabel("Like").selectOption({ label: "Noor Castellanos" });
  await b.getByRole("checkbox", { name: "Mon" }).uncheck();
  // What is typed stays over a reload.
  await page.reload();
  await expect(b.getByLabel("minutes", { exact: true })).toHaveValue("9");
  await expect(b.getByRole("checkbox", { name: "Mon" })).not.toBeChecked();
  await expectAccessible(page);
  await form.getByRole("button", { name: "Run", exact: true }).press("Enter");
  const kept = page.getByRole("region", { name: "“Everybody else” gives each 9 minutes to take it" });
  await expect(kept.getByText("What it takes for granted")).toBeVisible({ timeout: 180_000 });
  await expect(kept.getByText("One more like Noor Castellanos, Tue, Wed, Thu, Fri")).toBeVisible();
  await expect(kept.getByRole("row", { name: /^Offers nobody took in time / })).toContainText("B is better");
  await expect(kept.getByRole("row", { name: /^One more like Noor Castellanos not there / })).toBeVisible();
  await kept.getByRole("button", { name: "Table", exact: true }).click();
  await expect(kept.getByRole("columnheader", { name: "Tried with B" })).toBeVisible();
  await expectAccessible(page);
  // Over the day leads hang on both wires.
  const day = kept.getByRole("region", { name: "A day on the wire" });
  const time = day.getByRole("slider", { name: "Time of the day" });
  const seen = new Set<string>();
  await time.focus();
  for (let i = 0; i < 20; i++) {
    await page.keyboard.press("PageUp");
    for (const side of ["A", "B"])
      if (
        (await day
          .getByRole("region", { name: `The wire with ${side}` })
          .getByRole("button")
          .count()) > 0
      )
        seen.add(side);
  }
  expect([...seen].sort()).toEqual(["A", "B"]);
  await kept.getByRole("button", { name: "Make the rules of B the draft" }).click();
  await expect(page.getByText(/By hand: One more like Noor Castellanos/)).toBeVisible();
  await kept.getByRole("link", { name: "Routing" }).click();
  await expect(page.getByText(/strict rotation, 9 min each/)).toBeVisible();
  // The demo is others' as well: its draft is thrown away again.
  expect((await demo.api.post("/setup/routing/drop")).status).toBe(200);
  await page.goBack();
  // It is kept, begun from again with its changes, and taken out.
  await expect(kept.getByText("What it takes for granted")).toBeVisible();
  await kept.getByRole("button", { name: "Again, with changes" }).click();
  await expect(b.getByLabel("minutes", { exact: true })).toHaveValue("9");
  await b.getByRole("button", { name: "Take out: One more person" }).click();
  await expect(b.getByLabel("Like")).toHaveCount(0);
  await page
    .getByRole("navigation", { name: "Experiments" })
    .getByRole("button", { name: /Everybody else/ })
    .click();
  await kept.getByRole("button", { name: "Remove" }).click();
  await kept.getByRole("button", { name: "Yes, take it out" }).click();
  await expect(page.getByText("What you run is kept here")).toBeVisible();
});

test("what can't be run says why, a long one is cancelled, and a salesperson finds no lab", async ({
  page,
  context,
  empty,
}) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await context.addCookies([be(empty.origin, "p_ines")]);
  await page.goto(`${empty.origin}/lab`);
  const form = page.getByRole("form", { name: "A new experiment" });
  await form.getByRole("button", { name: "Run", exact: true }).click();
  await expect(page.getByText(/nothing to learn from/)).toBeVisible();
  await page.getByRole("button", { name: "New experiment" }).click();
  await form.getByLabel("Runs of each side").fill("3");
  await form.getByRole("button", { name: "An ad starts" }).click();
  await expect(form.getByLabel("so many more")).toHaveValue("40");
  await form.getByLabel("Learn from").fill("");
  await expectAccessible(page);
  const width = await page.evaluate(() => document.documentElement.scrollWidth);
  expect(width).toBeLessThanOrEqual(390);
  // One that would take long is cancelled, and is kept as such.
  await inquire(empty, { name: "Bo Lind", product: "plunge" });
  await form.getByLabel("For weeks").fill("26");
  await form.getByLabel("Times as many").fill("100");
  await form.getByLabel("Runs of each side").fill("100");
  await form.getByRole("button", { name: "Run", exact: true }).click();
  await page.getByRole("button", { name: "Cancel" }).click();
  await expect(page.getByText("It was cancelled. Nothing was changed.")).toBeVisible();
  await context.addCookies([be(empty.origin, "p_mara")]);
  await page.goto(`${empty.origin}/lab`);
  await expect(page.getByRole("region", { name: "The wire" })).toBeVisible();
  await expect(page.getByRole("link", { name: "Lab" })).toHaveCount(0);
  expect((await page.request.get(`${empty.origin}/api/v1/lab`)).status()).toBe(403);
});

test("one more on Saturdays goes from the formulas to the lab, and what effort counts opens its leads", async ({
  page,
  context,
  demo,
}) => {
  await context.addCookies([be(demo.origin, "p_greta")]);
  await page.goto(`${demo.origin}/figures?page=staffing`);
  await page.getByLabel("What if on").selectOption({ label: "Sat" });
  // The leads of an hour are as many as it says.
  const monday = page.getByRole("region", { name: "What comes on Mon" });
  await monday.getByText("Which leads").click();
  const hour = monday.getByRole("button", { name: /^10:00: [1-9]/ });
  const said = (await hour.textContent())!.split(": ")[1]!;
  await hour.click();
  const dialog = page.getByRole("dialog", { name: "To be answered Mon 10:00" });
  await expect(dialog.getByText(new RegExp(`^${said} leads?: `))).toBeVisible();
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "Run it in the lab" }).click();
  const b = page.getByRole("form", { name: "A new experiment" }).getByRole("group", { name: /^B/ });
  await expect(b.getByText("One more person")).toBeVisible();
  await expect(b.getByRole("checkbox", { name: "Sat" })).toBeChecked();
  await expect(b.getByRole("checkbox", { name: "Mon" })).not.toBeChecked();
  await expect(page.getByLabel("Call it")).toHaveValue("1 more on Sat");
  await page.goto(`${demo.origin}/figures?page=effort`);
  const perLead = page.getByRole("region", { name: "Tries per lead" });
  await perLead.getByText("Which leads").click();
  await perLead.getByRole("button", { name: /^10\+ tries: / }).click();
  await expect(
    page.getByRole("dialog", { name: "Leads with 10+ tries" }).getByText(/^(\d+|1) leads?: /),
  ).toBeVisible();
});

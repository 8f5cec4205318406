import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import { expect, expectAccessible, inquire, test } from "./fixtures.ts";

/** Left uncontacted, in the browser: bells and ladders, desk hours, parking, the manager's list. */

const MANAGER = (origin: string) => [{ name: "kb_me", value: "p_greta", url: origin }];

test("a ladder gets another rung, is simulated over a lead, and put in force for what runs", async ({
  page,
  empty,
}) => {
  const id = await inquire(empty, { name: "Sims Over" });
  await empty.api.post(`/leads/${id}/take`, { personId: "p_mara" });
  await page.goto(`${empty.origin}/setup/bells`);
  const strip = page.getByRole("region", { name: "When would it ring?" });
  await expect(strip.getByRole("status")).toContainText("rings today 09:05");
  // Dragged to the evening it rings the next morning; the arrow keys do the same.
  const thumb = strip.getByRole("slider");
  await thumb.focus();
  await page.keyboard.press("PageUp");
  await expect(thumb).toHaveAttribute("aria-valuetext", /^tomorrow 0[0-7]:\d\d, rings tomorrow 08:05$/);
  await expectAccessible(page);

  await page.getByRole("button", { name: "Nudge, tell the manager, standby" }).click();
  const dialog = page.getByRole("dialog");
  await expect(dialog.getByRole("list", { name: /Rungs of/ })).toContainText("Give it to standby");
  await dialog.getByRole("button", { name: "Another rung" }).click();
  await dialog.getByLabel("What", { exact: true }).last().selectOption({ label: "Tag it “…”" });
  await dialog.getByLabel("Tag", { exact: true }).fill("rang long");
  await dialog.getByLabel("Minutes after the bell").last().fill("20");
  await expect(dialog.getByRole("list", { name: /Rungs of/ })).toContainText("Tag it “rang long”");
  await dialog.getByRole("button", { name: "Keep" }).click();

  await page.getByLabel("Find a lead").last().fill("Sims");
  await page.getByRole("button", { name: /^Sims Over/ }).click();
  await page.getByRole("button", { name: "Simulate" }).click();
  const ran = page.getByRole("region", { name: "What would happen" });
  await expect(ran).toContainText("Rang: nobody had tried in time");
  await expect(ran).toContainText("Wed 4 Mar 09:25 Tagged “rang long”");

  await page.getByRole("button", { name: /Also for the \d+ that run/ }).click();
  await expect(page.getByText("In force; 1 running bell goes by it.")).toBeVisible();
  await empty.api.post("/rehearsal/clock", { advance: "PT30M" });
  expect((await empty.api.get(`/leads/${id}`)).body.tags).toContain("rang long");
});

test("the desk closes early: the bell that runs moves, and its thread says why", async ({ page, empty }) => {
  await empty.api.post("/rehearsal/clock", { to: "2026-03-04T19:58:00Z" });
  const id = await inquire(empty, { name: "Snowed In" });
  await page.goto(`${empty.origin}/setup/hours`);
  const close = page.getByRole("form", { name: "Close early today" });
  await close.getByLabel("Close today from").fill("13:00");
  await close.getByLabel(/^Why/).fill("Snow day");
  await expectAccessible(page);
  await close.getByRole("button", { name: "Close early" }).click();
  await expect(page.getByText("1 running bell has another time")).toBeVisible();
  await expect(page.getByLabel("What 2026-03-04 is")).toHaveValue("Snow day");
  await page.goto(`${empty.origin}/?lead=${id}`);
  await expect(page.getByRole("log")).toContainText(/Bell moved to Thu 5 Mar 08:0\d: Snow day/);
  await empty.api.post("/rehearsal/clock", { advance: "PT5M" });
  await expect(page.getByText(/closed, opens tomorrow 08:00/)).toBeVisible();
});

test("a lead is parked by a key, and comes back on its own when they write", async ({ page, empty }) => {
  const phone = "(303) 555-0171";
  const id = await inquire(empty, { name: "Later Perhaps", phone });
  await empty.api.post(`/leads/${id}/take`, { personId: "p_mara" });
  await empty.api.post(`/leads/${id}/tries`, { personId: "p_mara", channel: "call", outcome: "reached" });
  await page.goto(`${empty.origin}/?lead=${id}`);
  await expect(page.getByRole("heading", { name: "Later Perhaps" })).toBeVisible();
  await page.keyboard.press("v");
  const dialog = page.getByRole("dialog", { name: "Park Later Perhaps" });
  await dialog.getByLabel("Reason, shown when it comes back").fill("Builds next spring");
  await dialog.getByRole("button", { name: "Park" }).click();
  await expect(page.getByText(/is parked. They come back when they write/)).toBeVisible();

  await page.goto(`${empty.origin}/parked`);
  const row = page.getByRole("row", { name: /Later Perhaps/ });
  await expect(row).toContainText("Builds next spring");
  await expect(row).toContainText("A letter each season");
  await expect(row).toContainText("Mara Whitehorse");
  await empty.api.post("/rehearsal/text", { from: phone, to: "+17205550102", body: "We are ready" });
  await expect(page.getByText("Nobody is parked")).toBeVisible();

  await page.goto(`${empty.origin}/setup/waking`);
  const fired = page.getByText("Fired 1 time for 1 lead in ninety days");
  await fired.click();
  await expect(page.getByText(/Later Perhaps, they write: now offered to/)).toBeVisible();
  await expectAccessible(page);
});

test.describe("the manager’s list", () => {
  test("many are chosen, given away and taken back; the morning stands beside it", async ({
    page,
    context,
    empty,
  }) => {
    const ids = await Promise.all(
      ["One", "Two", "Three"].map((name) => inquire(empty, { name: `Rings ${name}` })),
    );
    for (const id of ids) await empty.api.post(`/leads/${id}/take`, { personId: "p_mara" });
    await empty.api.post("/rehearsal/clock", { advance: "PT6M" });
    await context.addCookies(MANAGER(empty.origin));
    await page.goto(`${empty.origin}/list`);
    const rung = page.getByRole("region", { name: "Ringing now" });
    await expect(rung.getByRole("listitem")).toHaveCount(3);
    await expect(page.getByRole("region", { name: "Morning summary" })).toContainText("3 leads rang");
    await expect(page.getByRole("row", { name: /Mara Whitehorse/ })).toContainText("3");
    await rung.getByLabel("All of Ringing now").check();
    await rung.getByLabel("Rings Two").uncheck();
    const bar = page.getByRole("toolbar");
    await expect(bar).toContainText("2 leads");
    await bar.getByRole("button", { name: "Give to…" }).click();
    const dialog = page.getByRole("dialog", { name: "Give to whom? (2)" });
    await dialog.getByLabel("Person or group").selectOption("p_noor");
    await expect(dialog.getByRole("button", { name: "Give", exact: true })).toBeDisabled();
    await dialog.getByRole("button", { name: "Has more time today" }).click();
    await dialog.getByRole("button", { name: "Give", exact: true }).click();
    await expect(page.getByText("2 leads given to Noor Castellanos.")).toBeVisible();
    await expect(rung).toContainText("with Noor Castellanos");
    await page.getByRole("button", { name: "Undo" }).click();
    await expect(page.getByText("2 leads as before.")).toBeVisible();
    await expect(rung).not.toContainText("Noor");
    await rung.getByLabel("Rings Two").check();
    await bar.getByRole("button", { name: "Silence" }).click();
    await page.getByRole("dialog").getByLabel("Reason").fill("Talked at the show");
    await page.getByRole("dialog").getByRole("button", { name: "Silence" }).click();
    await expect(rung.getByRole("listitem")).toHaveCount(2);
  });

  test("on a phone, the link in the alert covers with one tap", async ({ page, empty }) => {
    await page.setViewportSize({ width: 390, height: 844 });
    const id = await inquire(empty, { name: "Taps Once" });
    await empty.api.post("/rehearsal/clock", { advance: "PT6M" });
    const { items } = (await empty.api.get("/rehearsal/outside?channel=chat")).body;
    const alert = items.findLast(
      (m: { to: string; body: string }) => m.to === "@greta" && /Rung:/.test(m.body),
    );
    await page.goto(empty.origin + new URL(/https?:\S+\/m\/\S+/.exec(alert.body)![0]).pathname);
    await expect(page.getByText("Greta, this lead rings")).toBeVisible();
    await expectAccessible(page);
    await page.getByRole("button", { name: "I cover it" }).click();
    await expect(page.getByRole("link", { name: /^Call/ })).toBeVisible();
    expect((await empty.api.get(`/leads/${id}`)).body.ownerId).toBe("p_greta");
  });
});

test("the company’s own site asks before a visit is remembered, and tells only after a yes", async ({
  page,
  empty,
}) => {
  const site = createServer((_request, response) => {
    response.writeHead(200, { "content-type": "text/html" });
    response.end(
      `<html lang="en"><title>Elsewhere</title><h1>Saunas</h1><script src="${empty.origin}/embed.js" async></script></html>`,
    );
  });
  await new Promise<void>((resolve) => site.listen(0, "127.0.0.1", resolve));
  const host = `127.0.0.1:${(site.address() as AddressInfo).port}`;
  const template = {
    id: "built",
    name: "Built",
    channel: "email",
    texts: { en: { subject: "Built", body: `See http://${host}/built` } },
  };
  await empty.api.post("/setup/templates", template);
  const { cadences } = (await empty.api.get("/setup/cadences")).body;
  const plan = cadences.find((c: { id: string }) => c.id === "sp_seasons");
  const touches = plan.touches.map((t: object) => ("templateId" in t ? { ...t, templateId: "built" } : t));
  await empty.api.post("/setup/cadences", { ...plan, touches });
  await empty.api.post(`/setup/cadences/${plan.id}/publish`);
  const company = (await empty.api.get("/setup/company")).body;
  await empty.api.post("/setup/company", { ...company, sites: [host] });
  const id = await inquire(empty, { name: "Looks Again", email: "looks@example.com" });
  await empty.api.post(`/leads/${id}/take`, { personId: "p_mara" });
  await empty.api.post(`/leads/${id}/park`, { reason: "Later", planId: plan.id });
  await empty.api.post("/rehearsal/clock", { advance: "P29D" });
  const mails = (await empty.api.get("/rehearsal/outside?channel=email")).body.items;
  const letter = mails.findLast((m: { subject: string }) => m.subject === "Built");
  const link = new URL(/https?:\S+\/l\/[\w-]+/.exec(letter.body)![0]).pathname;
  const seen = async () =>
    (await empty.api.get(`/leads/${id}/events`)).body.items.filter(
      (e: { kind: string }) => e.kind === "visited",
    );

  await page.goto(empty.origin + link);
  const asks = page.getByRole("region", { name: "May we remember your visit?" });
  await expect(asks).toBeVisible();
  // The name is out of the address, and nothing has been told.
  expect(new URL(page.url()).search).toBe("");
  expect(await seen()).toHaveLength(0);
  await asks.getByRole("button", { name: "Yes" }).click();
  await expect.poll(async () => (await seen()).length).toBe(1);
  await page.goto(`http://${host}/prices`);
  await expect.poll(async () => (await seen()).length).toBe(2);
  await expect(asks).toBeHidden();
  site.close();
});

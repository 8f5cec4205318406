import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import type { Browser, Page } from "@playwright/test";
import { simpleParser } from "mailparser";
import nodemailer from "nodemailer";
import { SMTPServer } from "smtp-server";
import { bounceOf } from "../../standins/bounce.ts";
import type { Received } from "../../standins/outside.ts";
import { asAPerson, expect, expectAccessible, test } from "./fixtures.ts";

/** A real desk from an empty folder: what a person does in the browser, and nothing else. */

const PASSWORD = "a barrel of warm water";

/** Every hour of every day, so that it does not matter when this is run. */
async function allWeek(page: Page): Promise<void> {
  for (const day of ["Sat", "Sun"])
    await page.getByRole("button", { name: `${day} like the day before` }).click();
  for (const day of ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"]) {
    await page.getByLabel(`${day} from`).fill("00:00");
    await page.getByLabel(`${day} to`).fill("23:59");
  }
}

const inForce = async (page: Page) => {
  await page.getByRole("button", { name: "Put in force" }).click();
  await expect(page.getByRole("button", { name: "Put in force" })).toBeHidden();
};

/** Add somebody who sells, and have them choose a password by the link that is handed to them. They sell all but one thing. */
async function hire(page: Page, browser: Browser, origin: string, name: string, notTheirs: string) {
  await page.goto(`${origin}/setup/people`);
  await page.getByRole("button", { name: "New person" }).click();
  await page.getByLabel("Name", { exact: true }).fill(name);
  await page.getByLabel("Email").fill(`${name.split(" ")[0]!.toLowerCase()}@kauri.example`);
  await page.getByLabel("Phone").fill(`021 555 0${notTheirs.length}12`);
  await allWeek(page);
  await page.getByLabel("every product").uncheck();
  await page.getByLabel(notTheirs).uncheck();
  await expect(page.getByLabel("Everybody")).toBeChecked();
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText(`${name} is saved.`)).toBeVisible();
  await page.goto(`${origin}/setup/access`);
  await page.getByRole("button", { name: `Invite ${name}` }).click();
  const handed = page.getByRole("status").filter({ hasText: "No mail leaves yet" });
  const link = (await handed.getByRole("code").textContent())!;
  const theirs = await (await browser.newContext()).newPage();
  await theirs.goto(link);
  await theirs.getByLabel(/Password/).fill(PASSWORD);
  await theirs.getByRole("button", { name: "Choose it and go in" }).click();
  await expect(theirs.getByRole("navigation", { name: "Views" })).toBeVisible();
  return theirs;
}

test("a company elsewhere begins with an empty folder, and its first lead is routed, taken and tried", async ({
  page,
  browser,
  nobodys,
}) => {
  test.setTimeout(240_000);
  page.setDefaultTimeout(20_000);
  const { origin, mailPort } = nobodys;
  await page.goto(origin);
  await page.getByLabel("Company").fill("Kauri Boats");
  await page.getByLabel("Your name").fill("Aroha Ngata");
  await page.getByLabel("Email").fill("aroha@kauri.example");
  await page.getByLabel(/Password/).fill(PASSWORD);
  await page.getByRole("button", { name: "Set up the desk" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("First steps");
  const step = (title: string) => page.getByRole("listitem").filter({ hasText: title });
  await expect(step("Say who you are")).toHaveAttribute("aria-current", "step");
  await expect(step("Let mail out")).toContainText("Mail is not set up");
  await expectAccessible(page);

  await page.getByRole("link", { name: "Say who you are" }).click();
  await page.getByLabel("Country").selectOption({ label: "New Zealand" });
  await page.getByLabel("Currency").selectOption({ label: "New Zealand Dollar" });
  await page.getByLabel("Texts come from").fill("021 555 0199");
  for (const language of ["Māori", "Samoan", "German"])
    await page.getByLabel("Add a language").selectOption({ label: language });
  await page.getByRole("button", { name: "Put Māori first" }).click();
  await page.getByRole("button", { name: "Remove English" }).click();
  await expectAccessible(page);
  await inForce(page);
  await expect(page.getByLabel("Texts come from")).toHaveValue("+64215550199");

  await page.getByRole("link", { name: "first steps left" }).click();
  await page.getByRole("link", { name: "Say when the desk is open" }).click();
  await page.getByLabel("Time zone").fill("Pacific/Auckland");
  await allWeek(page);
  await page.getByLabel("Public holidays of").selectOption({ label: "New Zealand" });
  await page.getByRole("button", { name: "Add those of" }).click();
  await expect(page.getByLabel(/What \d+-02-06 is/).first()).toHaveValue("Waitangi Day");
  await inForce(page);

  await page.goto(`${origin}/setup/products`);
  for (const [name, also] of [
    ["Dinghy", "tender"],
    ["Kayak", "canoe, paddle boat"],
  ]) {
    await page.getByRole("button", { name: "Add a product" }).click();
    await page.keyboard.type(name!);
    await page.keyboard.press("Tab");
    await page.keyboard.type(also!);
  }
  await expectAccessible(page);
  await inForce(page);

  await page.goto(`${origin}/setup/territories`);
  await page.getByRole("button", { name: "Add a territory" }).click();
  await page.getByLabel("Name").fill("Chathams");
  await page.getByLabel("Clock").selectOption("Pacific/Chatham");
  await page.getByLabel(/Postal codes/).fill("8016");
  await expectAccessible(page);
  await page.getByRole("button", { name: "Keep" }).click();
  await page.locator("#kb-territories").setInputFiles({
    name: "places.csv",
    mimeType: "text/csv",
    buffer: Buffer.from("name,area codes,postal codes\nNorth,09 07 06 04,0 1 2 3 4 5 6\nSouth,03,7 8 9\n"),
  });
  await expect(page.getByRole("row", { name: /South/ })).toContainText("3 postal beginnings, 1 area code");
  await inForce(page);

  const tane = await hire(page, browser, origin, "Tane Walker", "Kayak");
  const mere = await hire(page, browser, origin, "Mere Pohatu", "Dinghy");
  await page.goto(`${origin}/setup/first-steps`);
  await expect(step("Bring in your people")).toContainText("done");

  // A form that asks which boat, on a site of theirs: another port is another site to a browser.
  await page.getByRole("link", { name: "Open a source" }).click();
  await page.getByRole("button", { name: "Add a source" }).click();
  await page.getByLabel("What you call it").fill("Boat form");
  await page.getByRole("button", { name: "Add as a draft" }).click();
  await page.getByRole("tab", { name: "Form" }).click();
  await page.getByRole("button", { name: "Add a question" }).click();
  await page.getByLabel("Question", { exact: true }).last().fill("Which boat?");
  await page.getByLabel("Answered by").last().selectOption({ label: "a choice" });
  await page.getByRole("button", { name: "One for each product" }).click();
  await page.getByRole("button", { name: "Add a question" }).click();
  await page.getByLabel("Question", { exact: true }).last().fill("Post code");
  await expectAccessible(page);
  await page.getByRole("button", { name: "Put this form in force" }).click();
  await expect(page.getByText("The form is in force")).toBeVisible();
  const snippet = (await page.getByRole("complementary").getByRole("code").textContent())!;
  await page.getByRole("button", { name: "Put it live" }).click();
  await expect(page.getByText("◆ live")).toBeVisible();

  const site = createServer((_request, response) => {
    response.writeHead(200, { "content-type": "text/html" });
    response.end(`<html lang="en"><title>Kauri Boats</title>${snippet}</html>`);
  });
  await new Promise<void>((resolve) => site.listen(0, "127.0.0.1", resolve));
  const visitor = await (await browser.newContext()).newPage();
  await visitor.goto(`http://127.0.0.1:${(site.address() as AddressInfo).port}/kayaks`);
  await visitor.getByLabel("Your name").fill("Wiremu Tait");
  await visitor.getByLabel("Email").fill("wiremu@example.com");
  await visitor.getByLabel("Phone").fill("03 305 0012");
  await visitor.getByLabel("Kayak").check();
  await visitor.getByLabel("Post code").fill("8016");
  await asAPerson(visitor);
  await visitor.getByRole("button", { name: "Send" }).click();
  await expect(visitor.getByRole("status")).toContainText("Thank you");
  site.close();

  // Only whoever sells kayaks is offered it; they take it, and say what came of the call.
  await mere.goto(origin);
  await expect(mere.getByRole("heading", { level: 1 })).toHaveText("Wiremu Tait");
  await expect(mere.getByTestId("now-line")).toContainText("Offered to");
  await tane.goto(origin);
  await expect(tane.getByRole("heading", { name: "Wiremu Tait" })).toHaveCount(0);
  await mere.keyboard.press("k");
  await expect(mere.getByTestId("now-line")).toContainText("Mere Pohatu has it");
  await mere.getByRole("tab", { name: "Facts" }).click();
  await expect(mere.getByText("Chathams", { exact: true })).toBeVisible();
  await expect(mere.getByRole("link", { name: "+6433050012" })).toBeVisible();
  await mere.keyboard.press("o");
  await expect(mere.getByRole("dialog")).toContainText("Voicemail");
  await mere.keyboard.press("2");
  await expect(mere.getByText(/voicemail\. Next/)).toBeVisible();

  await page.goto(`${origin}/setup/first-steps`);
  for (const done of [
    "Say who you are",
    "Say when the desk is open",
    "Open a source",
    "Send a test through it",
  ])
    await expect(step(done)).toContainText("done");
  await step("Answer at once").getByRole("button", { name: "We do without" }).click();

  // Mail is set up last: what waited goes, and a letter by hand reaches the lead.
  const mails: Received[] = [];
  const smtp = new SMTPServer({
    disabledCommands: ["STARTTLS"],
    onAuth: ({ username, password }, _session, done) =>
      username === "desk" && password === "waka" ? done(null, { user: username }) : done(new Error("No.")),
    onData: (stream, { envelope }, done) => {
      simpleParser(stream).then(({ messageId = "" }) => {
        const from = envelope.mailFrom === false ? "" : envelope.mailFrom.address;
        const to = envelope.rcptTo[0]!.address;
        mails.push({
          id: "",
          at: 0,
          channel: "email",
          body: "",
          to,
          from,
          headers: { "message-id": messageId },
        });
        done();
      }, done);
    },
  });
  await new Promise<void>((resolve) => smtp.listen(0, "127.0.0.1", resolve));
  await page.getByRole("link", { name: "Let mail out" }).click();
  const mail = page.getByRole("region", { name: "Mail", exact: true });
  await expect(mail).toContainText("Not set up.");
  await mail.getByLabel("Server").fill("127.0.0.1");
  await mail.getByLabel("Port").fill(String((smtp.server.address() as AddressInfo).port));
  await mail.getByLabel("Encryption").selectOption({ label: "none: only within your own walls" });
  await mail.getByLabel("Account").fill("desk");
  await mail.getByLabel("Password").fill("wrong");
  await mail.getByRole("button", { name: "Let mail out by it" }).click();
  await mail.getByRole("button", { name: "Send me a test" }).click();
  await expect(page.getByText(/It does not work\./)).toBeVisible();
  await mail.getByLabel("Password").fill("waka");
  await mail.getByRole("button", { name: "Change it" }).click();
  await mail.getByRole("button", { name: "Send me a test" }).click();
  await expect(page.getByText("It works. Accepted. Look for it at aroha@kauri.example.")).toBeVisible();
  await expectAccessible(page);
  await page.reload();
  await expect(mail.getByLabel("Account")).toHaveValue("desk");
  await expect(mail.getByLabel("Password")).toHaveValue("");
  await mere.getByRole("button", { name: "Email", exact: true }).click();
  await mere.getByLabel("Subject").fill("Your kayak");
  await mere
    .getByLabel(/Message|Email to/)
    .last()
    .fill("Kia ora, we have one in your size.");
  await mere.keyboard.press("Control+Enter");
  const letter = () => mails.find(({ to }) => to === "wiremu@example.com");
  await expect.poll(letter, { timeout: 60_000 }).toBeTruthy();
  await mere.getByRole("tab", { name: "What happened" }).click();
  const theirs = mere.getByRole("log");
  await expect(theirs).toContainText("has left");

  // Their mail server sends it back: the desk says so, and why, to whoever wrote it.
  const back = nodemailer.createTransport({ host: "127.0.0.1", port: mailPort, ignoreTLS: true });
  await back.sendMail({ envelope: { from: "", to: letter()!.from }, raw: bounceOf(letter()!) });
  back.close();
  await expect(theirs).toContainText(
    "The email to wiremu@example.com did not arrive: there is no such mailbox",
  );
  await expect(theirs).toContainText("not delivered (email): there is no such mailbox");
  await expectAccessible(mere);
  await new Promise<void>((resolve) => smtp.close(resolve));

  await page.goto(`${origin}/setup/first-steps`);
  await expect(step("Let mail out")).toContainText("done");
  await expect(page.getByText("Everything a desk needs is there.")).toBeVisible();
  await page.goto(origin);
  await expect(page.getByRole("link", { name: /first step/ })).toHaveCount(0);
});

import { randomBytes } from "node:crypto";
import { parseArgs } from "node:util";
import pino from "pino";
import { firstPerson, starter } from "../core/policy/starter.ts";
import { savePerson } from "../core/setup/change-people.ts";
import { Accounts } from "./access/accounts.ts";
import { WaysOut } from "./channels/ways-out.ts";
import { systemClock } from "./clock.ts";
import { readConfig } from "./config.ts";
import { Folder } from "./db/folder.ts";
import { openDesk } from "./desk.ts";

/**
 * `npm run admin -- --email ADDRESS [--name NAME] [--data DIR]`: for when nobody can sign in any more. Makes whoever has
 * that address an administrator, entering them when nobody has it, and prints a password for them. Whoever can run this
 * on the machine could read the database as well; nobody else can.
 */
async function main(): Promise<void> {
  const { values } = parseArgs({
    options: { email: { type: "string" }, name: { type: "string" }, data: { type: "string" } },
  });
  const email = values.email?.trim().toLowerCase();
  if (!email) throw new Error("Say whose: npm run admin -- --email you@example.com");
  const { data } = readConfig(process.env, values.data ? ["--data", values.data] : []);
  const folder = Folder.take(data);
  const { channels } = new WaysOut({ email: null, text: null, chat: null });
  const desk = await openDesk({
    data,
    clock: systemClock,
    setup: starter(systemClock.now()),
    channels,
    url: "",
    log: pino({ level: "silent" }),
  });
  const accounts = await Accounts.open(desk, "http://localhost");
  if (!accounts.isBegun())
    throw new Error("Nobody has set this desk up yet: open its address, and be its administrator.");
  const known = desk.setup.people.find((p) => p.email === email && !p.left);
  const zone = desk.setup.policies.desk.zone;
  const person = {
    ...(known ?? {
      ...firstPerson({ company: "", name: values.name ?? email, email, zone }),
      id: desk.newId("p"),
    }),
    role: "administrator" as const,
  };
  const changed = desk.office.change(person.id, (setup) => savePerson(setup, person));
  if (!changed.ok) throw new Error(changed.problem.detail);
  desk.office.audit(null, `administrator ${person.name}`, { after: "made on the machine itself" });
  const password = randomBytes(12).toString("base64url");
  await accounts.choosePassword(person, password);
  accounts.close();
  await desk.close();
  folder.close();
  console.log(`${person.name} signs in with ${email} and the password ${password}`);
}

main().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
});

import type { Person } from "../../core/policy/people.ts";
import type { Desk } from "../desk.ts";

/** Mails about accounts: they go to people of ours, and name a link that is good for a while. */

/** Ask the new address to confirm that it is theirs, and tell the old one that it was changed. */
export function mailOfChange(desk: Desk, person: Person, before: string, link: string): void {
  const { name } = desk.setup.policies.company;
  const mail = (to: string, key: string, subject: string, body: string) =>
    desk.queueNotice({
      channel: "email",
      to,
      personId: person.id,
      key: `${key}:${link.slice(-32)}`,
      subject,
      body,
      purpose: "account",
    });
  desk.sql.transaction(() => {
    mail(
      person.email,
      "confirm",
      `Confirm your address at ${name}`,
      `${person.email} was entered as your address at the desk of ${name}.\n\nConfirm within a week that it is yours, and sign in with it from then on: ${link}`,
    );
    mail(
      before,
      "changed",
      `Your address at ${name} was changed`,
      `${person.email} was entered as your address at the desk of ${name}. It counts once it is confirmed there; until then you sign in with ${before}. You were signed out everywhere.\n\nIf nobody asked you, tell an administrator now.`,
    );
  });
  desk.outbox.kick();
}

/** Invite somebody to choose a password; it stands in the audit. */
export function mailInvitation(desk: Desk, person: Person, by: Person, link: string): void {
  desk.sql.transaction(() => {
    desk.queueNotice({
      channel: "email",
      to: person.email,
      personId: person.id,
      key: `invite:${link.slice(-32)}`,
      subject: `${by.name} invites you to Kite Bell`,
      body: `${by.name} has put you on the desk of ${desk.setup.policies.company.name}.\n\nChoose a password within a week: ${link}`,
      purpose: "account",
    });
    desk.office.audit(by.id, `invitation of ${person.name}`, { after: person.email });
  });
  desk.outbox.kick();
}

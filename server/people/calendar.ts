import ICAL from "ical.js";
import { called } from "../../core/lead/called.ts";
import type { Lead } from "../../core/lead/lead.ts";
import type { Engine } from "../engine/engine.ts";

/** A next step takes so long in a calendar (minutes). */
const STEP = 15;
/** How often a calendar program is asked to look again. */
const AGAIN = "PT15M";
/** So many steps are shown at most. */
const MOST = 1_000;

interface Entry {
  readonly uid: string;
  readonly sequence: number;
  readonly from: number;
  readonly minutes: number;
  readonly summary: string;
  readonly description: string;
  readonly url: string;
}

/** What is planned for one of ours as a calendar (RFC 5545): booked calls, next steps and tasks of open leads. */
export function calendarOf(desk: Engine, personId: string): string {
  const { sql, clock, looker, links, reader } = desk;
  const { q } = sql;
  const booked = sql.all(
    q
      .selectFrom("bookings")
      .select("leadId")
      .where("personId", "=", personId)
      .where("endAt", ">", clock.now() - 86_400_000),
  );
  const entries = new Map<string, Entry>();
  const put = (entry: Entry) => entries.set(entry.uid, entry);
  const about = (lead: Lead) => ({
    description: [lead.company, lead.phones.join(", "), lead.facts.message].filter(Boolean).join("\n"),
    url: links.lead(lead.id),
  });
  for (const { leadId } of booked) {
    const lead = looker.lead(leadId);
    if (!lead?.booked || lead.booked.personId !== personId) continue;
    const { id, sequence, at, minutes } = lead.booked;
    put({ uid: id, sequence, from: at, minutes, summary: `Call with ${called(lead)}`, ...about(lead) });
  }
  const theirs = [...reader.theirs(personId), ...reader.withTasksOf(personId)];
  for (const lead of theirs.slice(0, MOST)) {
    const step = lead.nextStep;
    if (step && (step.personId ?? lead.ownerId) === personId)
      put({
        uid: `step-${lead.id}`,
        sequence: lead.seq,
        from: step.dueAt,
        minutes: STEP,
        summary: `${step.note}: ${called(lead)}`,
        ...about(lead),
      });
    for (const task of lead.tasks)
      if (task.to.includes(personId))
        put({
          uid: task.id,
          sequence: lead.seq,
          from: task.dueAt,
          minutes: STEP,
          summary: `${task.note}: ${called(lead)}`,
          ...about(lead),
        });
  }
  return textOf(
    [...entries.values()].sort((a, b) => a.from - b.from),
    desk,
  );
}

const utc = (at: number) => ICAL.Time.fromJSDate(new Date(at), true);

function textOf(entries: readonly Entry[], { clock, setup, links }: Engine): string {
  const { host } = new URL(links.page("/"), "http://localhost");
  const calendar = new ICAL.Component(["vcalendar", [], []]);
  calendar.updatePropertyWithValue("prodid", "-//Kite Bell//EN");
  calendar.updatePropertyWithValue("version", "2.0");
  calendar.updatePropertyWithValue("name", `${setup.policies.company.name}: lead desk`);
  calendar.updatePropertyWithValue("x-wr-calname", `${setup.policies.company.name}: lead desk`);
  const again = calendar.updatePropertyWithValue("refresh-interval", ICAL.Duration.fromString(AGAIN));
  again.setParameter("value", "DURATION");
  for (const { uid, sequence, from, minutes, summary, description, url } of entries) {
    const event = new ICAL.Component("vevent");
    event.updatePropertyWithValue("uid", `${uid}@${host}`);
    event.updatePropertyWithValue("dtstamp", utc(clock.now()));
    event.updatePropertyWithValue("dtstart", utc(from));
    event.updatePropertyWithValue("dtend", utc(from + minutes * 60_000));
    event.updatePropertyWithValue("sequence", sequence);
    event.updatePropertyWithValue("summary", summary);
    if (description) event.updatePropertyWithValue("description", description);
    event.updatePropertyWithValue("url", url);
    calendar.addSubcomponent(event);
  }
  return `${calendar.toString()}\r\n`;
}

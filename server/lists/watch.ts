import { ROLES } from "../../core/access/access.ts";
import { called } from "../../core/lead/called.ts";
import type { Lead } from "../../core/lead/lead.ts";
import type { Person } from "../../core/policy/people.ts";
import { personOf } from "../../core/policy/setup.ts";
import { alertAt, messagesFor, reachedAt, waysFor } from "../../core/policy/told.ts";
import type { Engine } from "../engine/engine.ts";
import { Recurring } from "../timers/recurring.ts";
import { type Asks, type ListOf, type Lists, MOST_MEMBERS } from "./lists.ts";

/** How often the clock is looked at (ms). */
const NAP = 2_000;
/** After something has happened lists are looked at once a minute at most; when nothing has, as time alone brings leads in (ms). */
const SOON = 60_000;
const LATER = 15 * 60_000;
/** So many leads that came in are named. */
const NAMED = 5;

/** Who somebody is to the desk when it does something for them by itself. */
export const asksAs = (person: Person): Asks => ({ me: person, rights: new Set(ROLES[person.role]) });

/** Looks at the lists people watch, and tells them what has come in, and when there are too many. */
export class ListWatch extends Recurring {
  readonly #desk: Engine;
  readonly #lists: Lists;
  readonly #ears: () => void;
  #lookedAt = 0;
  #watched = true;

  constructor(desk: Engine, lists: Lists) {
    super(desk, NAP);
    this.#desk = desk;
    this.#lists = lists;
    this.#ears = desk.feed.listen(({ n, kinds }) => {
      if (kinds.includes("lists")) this.#watched = true;
      else if (n === 0) return;
      if (!this.#watched) return;
      const now = desk.clock.now();
      this.nextDue = Math.min(this.nextDue, Math.max(now, this.#lookedAt + SOON));
    });
  }

  override stop(): void {
    super.stop();
    this.#ears();
  }

  /** Look at every list somebody watches now. Returns how many people were told of one. */
  run(): number {
    const { sql, clock, setup, log } = this.#desk;
    const watches = sql.all(
      sql.q
        .selectFrom("listLooks")
        .selectAll()
        .where((eb) => eb.or([eb("tellEnters", "=", 1), eb("tellOver", "is not", null)])),
    );
    let told = 0;
    for (const watch of watches) {
      const person = personOf(setup, watch.personId);
      const list = person && !person.left ? this.#lists.get(asksAs(person), watch.listId) : null;
      // A list nobody shares with them any more is kept as it is watched: it may be shared again.
      if (!person || !list) continue;
      try {
        if (this.#look(person, list, watch)) told++;
      } catch (error) {
        log.error({ err: error, listId: list.id }, "a watched list could not be looked at");
      }
    }
    this.#watched = watches.length > 0;
    this.#lookedAt = clock.now();
    this.nextDue = this.#watched ? this.#lookedAt + LATER : Number.POSITIVE_INFINITY;
    return told;
  }

  /** Compare a list with how it was; true when somebody is told of it. */
  #look(
    person: Person,
    list: ListOf,
    { looked, isOver }: { readonly looked: number; readonly isOver: number },
  ): boolean {
    const { sql, looker } = this.#desk;
    const { listing } = this.#lists;
    const listed = this.#lists.listed(asksAs(person), list);
    if ("code" in listed) return false;
    const ids = listing.ids(listed, MOST_MEMBERS);
    const count = list.tell.over === null ? null : (ids?.length ?? listing.count(listed));
    const over = list.tell.over !== null && count !== null && count > list.tell.over;
    const mine = { personId: person.id, listId: list.id };
    const members = sql.q.selectFrom("listMembers").select("leadId");
    const before = new Set(
      sql
        .all(members.where("personId", "=", person.id).where("listId", "=", list.id))
        .map(({ leadId }) => leadId),
    );
    // One that has grown too large is looked at for its number alone; when it is small again nobody hears of all that left.
    const tooMany = list.tell.enters && !ids;
    const now = new Set(list.tell.enters && ids ? ids : []);
    const came = [...now].filter((id) => !before.has(id));
    const gone = [...before].filter((id) => !now.has(id));
    const said: string[] = [];
    if (looked === 1 && came.length > 0)
      said.push(cameWords(came.flatMap((id) => looker.lead(id) ?? []).filter((lead) => !lead.test)));
    if (looked === 1 && over && isOver === 0)
      said.push(`It has ${count?.toLocaleString("en")} leads now, more than ${list.tell.over}.`);
    const words = said.filter(Boolean);
    sql.transaction(() => {
      for (const leadId of gone)
        sql.run(
          sql.q
            .deleteFrom("listMembers")
            .where("personId", "=", person.id)
            .where("listId", "=", list.id)
            .where("leadId", "=", leadId),
        );
      for (const leadId of came) sql.run(sql.q.insertInto("listMembers").values({ ...mine, leadId }));
      sql.run(
        sql.q
          .updateTable("listLooks")
          .set({ looked: tooMany ? 0 : 1, isOver: over ? 1 : 0 })
          .where("personId", "=", person.id)
          .where("listId", "=", list.id),
      );
      if (words.length > 0) this.#tell(person, list, words);
    });
    if (words.length === 0) return false;
    const about = waysFor(this.#desk.setup, person, "list").includes("browser");
    this.#desk.feed.publish({
      n: 0,
      leadId: null,
      kinds: ["list-told"],
      told: about ? [{ personId: person.id, about: "list" }] : [],
    });
    this.#desk.outbox.kick();
    return true;
  }

  #tell(person: Person, list: ListOf, words: readonly string[]): void {
    const { setup, clock, looker, links, newId } = this.#desk;
    const heading = `“${list.name}”`;
    const body = [`*${heading}*`, ...words, links.page(`/leads?list=${list.id}`)].join("\n");
    for (const channel of messagesFor(setup, person, "list", looker.unset))
      this.#desk.queueNotice({
        notBefore: alertAt(person, "list", clock.now()),
        channel,
        to: reachedAt(person, channel),
        personId: person.id,
        key: `list:${newId("told")}`,
        subject: channel === "email" ? `${heading}: ${words[0]}` : null,
        body: channel === "chat" ? body : body.replace(/\*/g, ""),
        purpose: "list",
      });
  }
}

/** Who has come in, the first few by name; empty for nobody. */
function cameWords(leads: readonly Lead[]): string {
  if (leads.length === 0) return "";
  const names = leads.slice(0, NAMED).map((lead) => called(lead));
  const more = leads.length - names.length;
  return `${leads.length === 1 ? "One lead has come in" : `${leads.length} leads have come in`}: ${names.join(", ")}${more > 0 ? ` and ${more} more` : ""}.`;
}

import type { Selectable } from "kysely";
import { personOf, type Setup } from "../../core/policy/setup.ts";
import { reachedAt } from "../../core/policy/told.ts";
import { type Problem, refuse } from "../../core/refusal.ts";
import { nextWeekly, wallTime } from "../../core/time/weekly.ts";
import { localDate } from "../../core/time/words.ts";
import type { ListSendRow } from "../db/schema.ts";
import type { Engine } from "../engine/engine.ts";
import type { Hooks } from "../hooks/hooks.ts";
import { Recurring } from "../timers/recurring.ts";
import type { Asks, ListOf, Lists } from "./lists.ts";
import { asksAs } from "./watch.ts";
import { FORMATS, written } from "./written.ts";

/** How often the clock is looked at (ms). */
const NAP = 2_000;
/** So many leads a file that is sent by itself has at most: what is more belongs into a file one fetches. */
const MOST = 5_000;
/** So many times one list is sent. */
const MOST_SENDS = 10;

export type ListSend = Selectable<ListSendRow>;

/** When and where to a list is to be sent. */
export interface SendList {
  readonly to: { readonly kind: ListSend["toKind"]; readonly id: string };
  readonly format: ListSend["format"];
  readonly weekday: number | null;
  /** Of the desk's day, from midnight. */
  readonly minute: number;
}

type Done<T> = { readonly ok: true; readonly send: T } | { readonly ok: false; readonly problem: Problem };

/** Lists that leave the house by themselves: by mail to people here, or to other systems that were set up. */
export class ListSends extends Recurring {
  readonly #desk: Engine;
  readonly #lists: Lists;
  readonly #hooks: Hooks;

  constructor(desk: Engine, lists: Lists, hooks: Hooks) {
    super(desk, NAP);
    this.#desk = desk;
    this.#lists = lists;
    this.#hooks = hooks;
  }

  /** When and where to a list is sent, the next one first. */
  of(listId: string): ListSend[] {
    const { sql } = this.#desk;
    return sql.all(
      sql.q.selectFrom("listSends").selectAll().where("listId", "=", listId).orderBy("nextAt").orderBy("id"),
    );
  }

  /** Have a list sent from now on. Its leads are those whoever gets it may see; another system gets what whoever asks sees. */
  add(asks: Asks, list: ListOf, { to, format, weekday, minute }: SendList): Done<ListSend> {
    const { sql, newId, clock, setup } = this.#desk;
    const wrong = this.#problem(asks, list, to);
    if (wrong) return wrong;
    const send: ListSend = {
      id: newId("send"),
      listId: list.id,
      byId: asks.me.id,
      toKind: to.kind,
      toId: to.id,
      format: to.kind === "hook" ? "json" : format,
      weekday,
      minute,
      nextAt: nextSend({ weekday, minute }, setup, clock.now()),
      lastAt: null,
      said: null,
    };
    sql.run(sql.q.insertInto("listSends").values(send));
    this.nextDue = Math.min(this.nextDue, send.nextAt);
    return { ok: true, send };
  }

  #problem(asks: Asks, list: ListOf, to: SendList["to"]): Done<never> | null {
    const { setup } = this.#desk;
    if (this.of(list.id).length >= MOST_SENDS)
      return refuse("too-many-sends", 409, "Too many", `A list is sent ${MOST_SENDS} ways at most.`);
    if (to.kind === "hook") {
      if (!asks.rights.has("access"))
        return refuse(
          "not-yours-to-do",
          403,
          "Not yours to do",
          "Administrators say what other systems get.",
          "to",
        );
      return setup.policies.hooks.some((h) => h.id === to.id)
        ? null
        : refuse("no-such-system", 422, "No such system", "Set it up under Set-up, Other systems.", "to.id");
    }
    const person = personOf(setup, to.id);
    if (!person || person.left)
      return refuse("no-such-person", 422, "No such person", "Nobody here has that id.", "to.id");
    if (person.id !== asks.me.id && !asks.rights.has("leads.move"))
      return refuse(
        "not-yours-to-do",
        403,
        "Not yours to do",
        "You can have it sent to yourself. Coordinators and managers send it to others.",
        "to.id",
      );
    if (!reachedAt(person, "email"))
      return refuse("no-address", 422, "No address", `${person.name} has no mail address.`, "to.id");
    return this.#lists.get(asksAs(person), list.id)
      ? null
      : refuse(
          "not-shared",
          422,
          "Not shared",
          `${person.name} does not see this list. Share it first.`,
          "to.id",
        );
  }

  /** Send it no more. */
  remove(listId: string, id: string): boolean {
    const { sql } = this.#desk;
    return sql.run(sql.q.deleteFrom("listSends").where("listId", "=", listId).where("id", "=", id)) > 0;
  }

  /** Send what is due. What was missed while the desk was off is sent once. */
  async run(): Promise<void> {
    const { sql, clock, setup, log } = this.#desk;
    const now = clock.now();
    const due = sql.all(sql.q.selectFrom("listSends").selectAll().where("nextAt", "<=", now));
    for (const send of due) {
      // Before it is sent: what fails is said, and not done over and over.
      const next = { nextAt: nextSend(send, setup, now), lastAt: now };
      sql.run(sql.q.updateTable("listSends").set(next).where("id", "=", send.id));
      let said: string;
      try {
        said = await this.send(send);
      } catch (error) {
        log.error({ err: error, sendId: send.id }, "a list could not be sent");
        said = "It could not be written. It is sent again at its next time.";
      }
      sql.run(sql.q.updateTable("listSends").set({ said }).where("id", "=", send.id));
    }
    const [first] = sql.all(sql.q.selectFrom("listSends").select("nextAt").orderBy("nextAt").limit(1));
    this.nextDue = first?.nextAt ?? Number.POSITIVE_INFINITY;
    if (due.length > 0) this.#desk.feed.publish({ n: 0, leadId: null, kinds: ["lists"] });
  }

  /** Send a list now. Gives what became of it, in words. */
  async send({ listId, byId, toKind, toId, format }: ListSend): Promise<string> {
    const { setup, files, links, newId, clock, sql, outbox } = this.#desk;
    const person = personOf(setup, toKind === "person" ? toId : byId);
    if (!person || person.left) return "Not sent: whoever it was for has left.";
    const asks = asksAs(person);
    const list = this.#lists.get(asks, listId);
    if (!list) return `Not sent: ${person.name} does not see this list any more.`;
    const listed = this.#lists.listed(asks, list);
    if ("code" in listed) return `Not sent: ${listed.detail}`;
    const { listing } = this.#lists;
    const file = await written(this.#desk, listing, { listed, columns: list.columns }, format, MOST);
    const cut = file.cut ? ` It has more: these are the first ${MOST.toLocaleString("en")}.` : "";
    const leads = `${file.count.toLocaleString("en")} ${file.count === 1 ? "lead" : "leads"}`;
    if (toKind === "hook") {
      const hook = setup.policies.hooks.find((h) => h.id === toId);
      if (!hook?.on) return "Not sent: that system is told no more.";
      this.#hooks.send(toId, "list", { list: { id: list.id, name: list.name }, ...JSON.parse(file.text) });
      return `${leads} to ${hook.name}.${cut}`;
    }
    const to = reachedAt(person, "email");
    if (!to) return `Not sent: ${person.name} has no mail address.`;
    const day = localDate(clock.now(), setup.policies.desk.zone);
    const name = `${list.name.replace(/[^\p{L}\p{N} -]/gu, "").trim() || "leads"} ${day}.${format}`;
    sql.transaction(() => {
      const attachment = files.keep(Buffer.from(file.text), name, FORMATS[format].type, person.id);
      this.#desk.queueNotice({
        channel: "email",
        to,
        personId: person.id,
        key: `list-send:${newId("msg")}`,
        subject: `${list.name}: ${leads}`,
        body: `“${list.name}” as of ${day}: ${leads}.${cut}\n\n${links.page(`/leads?list=${list.id}`)}`,
        purpose: "list-send",
        attachments: [attachment],
      });
    });
    outbox.kick();
    return `${leads} to ${person.name}.${cut}`;
  }
}

/** When it is sent next after `now` (epoch ms), at its wall time on the desk's clock. */
const nextSend = (
  { weekday, minute }: Pick<ListSend, "weekday" | "minute">,
  { policies }: Setup,
  now: number,
): number => nextWeekly({ weekday, time: wallTime(minute) }, policies.desk.zone, now);

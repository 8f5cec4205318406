import { sql as raw, type Selectable } from "kysely";
import { z } from "zod";
import { type COUNTS_FOR, engage, letBe } from "../../core/desk/engage.ts";
import type { Plan } from "../../core/desk/plan.ts";
import { calledOut } from "../../core/desk/work.ts";
import { lineOfPerson, ownLine } from "../../core/message/reply.ts";
import { stopInWords, stopOf } from "../../core/message/restraint.ts";
import { personOf } from "../../core/policy/setup.ts";
import { type Problem, refuse } from "../../core/refusal.ts";
import { dateTime } from "../../core/time/words.ts";
import type { Attachment, CallResult } from "../../core/vocabulary.ts";
import { postTo } from "../channels/gateway.ts";
import type { CallRow } from "../db/schema.ts";
import type { Desk } from "../desk.ts";
import { fetchRecording } from "./carrier.ts";

/** What the carrier reports of a call it makes for us: it rings our person first, then the lead. */
export const OutReport = z.object({
  direction: z.literal("out"),
  call_id: z.string().min(1),
  state: z.enum(["ringing-them", "talking", "ended"]),
  result: z.enum(["talked", "voicemail", "no-answer", "busy", "not-picked-up"]).optional(),
  seconds: z.number().min(0).default(0),
  recording_url: z.string().optional(),
});
export type OutReport = z.infer<typeof OutReport>;

/** The way to the carrier: `place` resolves when it has taken the call on. */
export interface Carrier {
  place(call: { id: string; us: string; them: string; from: string }): Promise<void>;
  hangUp(callId: string): Promise<void>;
}

/** How a call ended. */
export interface Ended {
  readonly result: CallResult;
  readonly seconds: number;
  readonly recording: Attachment | null;
}

export type OpenCall = Omit<Selectable<CallRow>, "endedJson"> & { readonly ended: Ended | null };

/** The carrier over HTTP: `POST {url}/calls` and `POST {url}/calls/{id}/hang-up`. */
export function httpCarrier(url: string): Carrier {
  return {
    place: ({ id, us, them, from }) =>
      postTo(url, "/calls", { call_id: id, ring_first: us, then_ring: them, from }),
    hangUp: (callId) => postTo(url, `/calls/${callId}/hang-up`, {}),
  };
}

type Placed =
  | { readonly ok: true; readonly call: OpenCall }
  | { readonly ok: false; readonly problem: Problem };

/** Calls made from the desk: one at a time for each person, kept until somebody has said what they came to. */
export class Dialer {
  readonly #desk: Desk;
  readonly #carrier: Carrier;

  constructor(desk: Desk, carrier: Carrier) {
    this.#desk = desk;
    this.#carrier = carrier;
    desk.onPlan((plan) => this.#ringFor(plan));
    // A call that was on the line when the desk went down: the line was cut with it.
    const { sql, clock } = desk;
    const lost: Ended = { result: "lost", seconds: 0, recording: null };
    sql.run(
      sql.q
        .updateTable("calls")
        .set({ state: "ended", stateAt: clock.now(), endedJson: JSON.stringify(lost) })
        .where("state", "not in", ["ended", "done"]),
    );
  }

  #row(id: string): OpenCall | null {
    const { sql } = this.#desk;
    const row = sql.get(sql.q.selectFrom("calls").selectAll().where("id", "=", id));
    return row ? opened(row) : null;
  }

  /** Who made the call; null when there is none by that id. */
  personOf(id: string): string | null {
    return this.#row(id)?.personId ?? null;
  }

  /** The call this person is in, or whose outcome they have not said yet; null for none. */
  openOf(personId: string): OpenCall | null {
    const { sql } = this.#desk;
    const row = sql.get(
      sql.q
        .selectFrom("calls")
        .selectAll()
        .where("personId", "=", personId)
        .where("state", "<>", raw.lit("done"))
        .orderBy("at", "desc")
        .limit(1),
    );
    return row ? opened(row) : null;
  }

  /** Call a lead: the carrier rings the person, then the lead. */
  async place(leadId: string, personId: string): Promise<Placed> {
    const { sql, clock, setup, looker } = this.#desk;
    const lead = looker.lead(leadId);
    const person = personOf(setup, personId);
    if (!lead) return refuse("no-such-lead", 404, "No such lead", "There is no lead with that id.");
    if (!person?.phone)
      return refuse(
        "no-phone-to-ring",
        422,
        "No phone to ring",
        "You have no phone number here to be rung on.",
      );
    const to = lead.phones[0];
    if (!to)
      return refuse(
        "no-number-to-call",
        422,
        "No number to call",
        "No phone number of theirs is known. Write to them instead.",
      );
    const stop = stopOf(lead, "call");
    if (stop || lead.facts.forbidden.includes("call"))
      return refuse(
        "they-want-no-calls",
        409,
        "They want no calls",
        `They want no calls${stop ? `: ${stopInWords(stop)}, ${dateTime(stop.at, setup.policies.desk.zone, clock.now())}` : ""}. Write to them, or lift it first if they have changed their mind.`,
      );
    const busy = this.openOf(personId);
    if (busy && busy.state !== "ended")
      return refuse(
        "you-are-in-a-call",
        409,
        "You are in a call",
        "Hang up first; two calls at a time can’t be had.",
      );
    if (busy) this.putAside(busy.id);
    const now = clock.now();
    const source = setup.sources.find((s) => s.id === lead.sourceId);
    const sourceLine = source?.channel === "call" ? source.line : null;
    const from =
      lineOfPerson(setup, personId, "call") ?? sourceLine ?? ownLine(setup, source, "text", personId);
    const id = this.#desk.newId("call");
    sql.run(
      sql.q.insertInto("calls").values({
        id,
        leadId,
        personId,
        at: now,
        state: "ringing-us",
        stateAt: now,
        talkedFrom: null,
        toAddress: to,
        fromAddress: from,
        notes: "",
        endedJson: null,
      }),
    );
    // From now on it counts as being tried: no bell takes it away while it rings.
    this.#engage(leadId, personId, "ringing");
    try {
      await this.#carrier.place({ id, us: person.phone, them: to, from });
    } catch (error) {
      sql.run(sql.q.deleteFrom("calls").where("id", "=", id));
      this.#letBe(leadId, personId);
      const said = error instanceof Error ? error.message : String(error);
      return refuse(
        "the-call-could-not-be-placed",
        409,
        "The call could not be placed",
        `${said} Try again, or call from your own phone.`,
      );
    }
    this.#tell();
    return { ok: true, call: this.#row(id)! };
  }

  /** A call of a cadence rings its owner’s phone at its time, unless they talk: then it is their next step all the same. */
  #ringFor({ leadId, after, events }: Plan): void {
    const { ownerId } = after;
    const ring = events.some((e) => e.kind === "cadence-touched" && e.data.ring);
    if (!ring || !ownerId || this.openOf(ownerId)) return;
    // Once what was decided is told everywhere.
    setImmediate(() => {
      this.place(leadId, ownerId).catch((error: unknown) =>
        this.#desk.log.warn({ err: error, leadId }, "a call of a cadence could not be placed"),
      );
    });
  }

  /** The carrier says how a call goes on. A state that is past is taken for a repeat. */
  async report(report: OutReport): Promise<boolean> {
    const call = this.#row(report.call_id);
    if (!call) return false;
    if (call.state === "ended" || call.state === "done") return true;
    if (report.state === "ended") await this.#end(call, report);
    else this.#move(call, report.state);
    this.#tell();
    return true;
  }

  #engage(leadId: string, personId: string, what: keyof typeof COUNTS_FOR): void {
    const { looker } = this.#desk;
    this.#desk.act(looker.survivor(leadId), (world) => engage(world, personId, what));
  }

  #letBe(leadId: string, personId: string): void {
    const { looker } = this.#desk;
    this.#desk.act(looker.survivor(leadId), (world) => letBe(world, personId));
  }

  #move({ id, leadId, personId }: OpenCall, state: "ringing-them" | "talking"): void {
    const { sql, clock } = this.#desk;
    const now = clock.now();
    this.#engage(leadId, personId, state === "talking" ? "talking" : "ringing");
    const talked = state === "talking" ? { talkedFrom: now } : {};
    sql.run(
      sql.q
        .updateTable("calls")
        .set({ state, stateAt: now, ...talked })
        .where("id", "=", id),
    );
  }

  async #end(call: OpenCall, report: OutReport): Promise<void> {
    const recording = report.recording_url ? await fetchRecording(this.#desk, report.recording_url) : null;
    const result = report.result ?? "lost";
    const ended: Ended = { result, seconds: report.seconds, recording };
    const { sql, clock, looker } = this.#desk;
    const { id, personId, toAddress: to, fromAddress: from } = call;
    this.#desk.act(
      looker.survivor(call.leadId),
      (world) => calledOut(world, { callId: id, personId, to, from, ...ended }),
      () =>
        sql.run(
          sql.q
            .updateTable("calls")
            .set({ state: "ended", stateAt: clock.now(), endedJson: JSON.stringify(ended) })
            .where("id", "=", id),
        ),
    );
    // Its outcome is being chosen.
    this.#engage(call.leadId, personId, "outcome");
  }

  async hangUp(id: string): Promise<void> {
    await this.#carrier.hangUp(id);
  }

  /** Keep what is typed while talking. */
  note(id: string, notes: string): boolean {
    const { sql } = this.#desk;
    return sql.run(sql.q.updateTable("calls").set({ notes }).where("id", "=", id)) > 0;
  }

  /** The outcome has been said, or will be said elsewhere. */
  putAside(id: string): boolean {
    const { sql } = this.#desk;
    const call = this.#row(id);
    if (call) this.#letBe(call.leadId, call.personId);
    const done = sql.run(sql.q.updateTable("calls").set({ state: "done" }).where("id", "=", id)) > 0;
    this.#tell();
    return done;
  }

  #tell(): void {
    this.#desk.feed.publish({ n: 0, leadId: null, kinds: ["calling"] });
  }
}

function opened({ endedJson, ...row }: Selectable<CallRow>): OpenCall {
  return { ...row, ended: endedJson ? (JSON.parse(endedJson) as Ended) : null };
}

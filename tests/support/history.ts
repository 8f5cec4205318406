import fc from "fast-check";
import { askedForTime, excuse, goByPoliciesNow, promise, reckonAgain } from "../../core/desk/bells.ts";
import { book, cancelBooking, slotsFor } from "../../core/desk/book.ts";
import { calledIn } from "../../core/desk/call.ts";
import { engage, letBe } from "../../core/desk/engage.ts";
import { give, pass, take } from "../../core/desk/hand-off.ts";
import { clicked, hearFrom, visited } from "../../core/desk/hear.ts";
import type { MemoryDesk } from "../../core/desk/memory.ts";
import { park } from "../../core/desk/park.ts";
import { receive } from "../../core/desk/receive.ts";
import { join } from "../../core/desk/same.ts";
import { close } from "../../core/desk/stage.ts";
import { undo } from "../../core/desk/undo.ts";
import { logTry, writeTo } from "../../core/desk/work.ts";
import { understand } from "../../core/intake/understand.ts";
import type { Setup } from "../../core/policy/setup.ts";
import { closedFrom } from "../../core/setup/change-bells.ts";
import { localDate } from "../../core/time/words.ts";
import { tarnholt } from "../../demo/tarnholt.ts";

let inquiries = 0;

export const START = Date.parse("2026-03-02T15:00:00Z");
export const people = tarnholt.people.map((p) => p.id);
export const person = fc.constantFrom(...people);
export const which = fc.nat({ max: 30 });
/** Everything that can be done to a desk from outside, in any order. */
export const step = fc.oneof(
  {
    weight: 4,
    arbitrary: fc.record({
      do: fc.constant("arrive" as const),
      contact: fc.nat({ max: 12 }),
      source: fc.constantFrom("plan-your-sauna", "ad-lodge", "ad-barrel"),
      place: fc.constantFrom("80202", "G1R2B5", ""),
    }),
  },
  {
    weight: 3,
    arbitrary: fc.record({
      do: fc.constant("wait" as const),
      ms: fc.oneof(
        fc.integer({ min: 1000, max: 300000 }),
        fc.integer({ min: 1, max: 40 }).map((h) => h * 3600000),
      ),
    }),
  },
  {
    weight: 3,
    arbitrary: fc.record({ do: fc.constant("take" as const), which, person, asked: fc.boolean() }),
  },
  { weight: 2, arbitrary: fc.record({ do: fc.constant("pass" as const), which }) },
  {
    weight: 3,
    arbitrary: fc.record({
      do: fc.constant("try" as const),
      which,
      person,
      outcome: fc.constantFrom(...tarnholt.policies.outcomes.map((o) => o.key)),
    }),
  },
  { weight: 1, arbitrary: fc.record({ do: fc.constant("write" as const), which, person }) },
  {
    weight: 1,
    arbitrary: fc.record({
      do: fc.constant("give" as const),
      which,
      person,
      to: fc.constantFrom(...people, ...tarnholt.groups.map((g) => g.id)),
    }),
  },
  {
    weight: 2,
    arbitrary: fc.record({
      do: fc.constant("hear" as const),
      which,
      body: fc.constantFrom("Hello?", "STOP", "Stop please", "START", "HELP"),
    }),
  },
  {
    weight: 1,
    arbitrary: fc.record({
      do: fc.constant("later" as const),
      which,
      person,
      ms: fc.integer({ min: 1000, max: 30 * 3600000 }),
    }),
  },
  { weight: 1, arbitrary: fc.record({ do: fc.constant("book" as const), which, slot: fc.nat({ max: 3 }) }) },
  { weight: 1, arbitrary: fc.record({ do: fc.constant("call-off" as const), which }) },
  { weight: 1, arbitrary: fc.record({ do: fc.constant("close" as const), which, person }) },
  { weight: 1, arbitrary: fc.record({ do: fc.constant("undo" as const), which }) },
  {
    weight: 2,
    arbitrary: fc.record({
      do: fc.constant("park" as const),
      which,
      person,
      plan: fc.constantFrom("sp_quarter", null),
    }),
  },
  {
    weight: 1,
    arbitrary: fc.record({
      do: fc.constant("signal" as const),
      which,
      signal: fc.constantFrom("click" as const, "visit" as const, "missed" as const, "answered" as const),
    }),
  },
  { weight: 1, arbitrary: fc.record({ do: fc.constant("excuse" as const), which, person }) },
  {
    weight: 3,
    arbitrary: fc.record({
      do: fc.constant("engage" as const),
      which,
      person,
      what: fc.constantFrom(
        "ringing" as const,
        "talking" as const,
        "outcome" as const,
        "writing" as const,
        null,
      ),
    }),
  },
  { weight: 2, arbitrary: fc.record({ do: fc.constant("join" as const), which, other: which, person }) },
  {
    weight: 1,
    arbitrary: fc.record({
      do: fc.constantFrom("promise" as const, "asked" as const),
      which,
      person,
      ms: fc.integer({ min: 1000, max: 30 * 3600000 }),
    }),
  },
  // The company closes at once, some time on, for the rest of that day.
  { weight: 1, arbitrary: fc.record({ do: fc.constant("close-desk" as const), from: fc.nat({ max: 23 }) }) },
  {
    weight: 1,
    arbitrary: fc.record({
      do: fc.constant("new-targets" as const),
      minutes: fc.integer({ min: 1, max: 90 }),
    }),
  },
);
export type Step = typeof step extends fc.Arbitrary<infer T> ? T : never;
/** The company with a ladder that does everything a ladder can, for every bell. */
export const everyRung: Setup = {
  ...tarnholt,
  policies: {
    ...tarnholt.policies,
    targets: tarnholt.policies.targets.map((t) => ({ ...t, ladderId: "l_all" })),
    ladders: [
      {
        id: "l_all",
        name: "Everything",
        rungs: [
          { fraction: 0.5, plusMinutes: 0, act: "nudge" },
          { fraction: 1, plusMinutes: 0, act: "manager" },
          { fraction: 1, plusMinutes: 3, act: "next" },
          { fraction: 1, plusMinutes: 6, act: "group", groupId: "g_lodges" },
          { fraction: 1, plusMinutes: 6, act: "tag", tag: "late" },
          { fraction: 1, plusMinutes: 10, act: "standby" },
          { fraction: 1, plusMinutes: 20, act: "list" },
          { fraction: 1, plusMinutes: 600, act: "park", planId: "sp_quarter" },
        ],
      },
    ],
  },
};
export const company = fc.constantFrom(tarnholt, everyRung);
export function perform(desk: MemoryDesk, known: Map<number, string>, act: Step): void {
  if (act.do === "wait") {
    desk.advance(act.ms);
    return;
  }
  if (act.do === "arrive") {
    const source = tarnholt.sources.find((s) => s.key === act.source)!;
    const fields = {
      name: `Lead ${act.contact}`,
      phone: `303555${1000 + act.contact}`,
      postal_code: act.place,
    };
    const understood = understand(source, tarnholt.policies, fields);
    if (!understood.ok) throw new Error(understood.reason);
    const leadId = known.get(act.contact) ?? null;
    const decided = desk.commit(
      receive(desk.look(leadId), {
        inquiryId: `inq_${++inquiries}`,
        source,
        facts: understood.facts,
        matchedOn: leadId && "phone",
        by: { kind: "lead" },
        goesTo: { kind: "rules" },
      }),
    );
    if (decided.ok) known.set(act.contact, decided.plan.leadId);
    return;
  }
  if (act.do === "close-desk") {
    const { zone } = desk.setup.policies.desk;
    desk.setup = closedFrom(desk.setup, localDate(desk.now, zone), `${String(act.from).padStart(2, "0")}:00`);
    for (const id of desk.leads.keys()) desk.commit(reckonAgain(desk.look(id)));
    return;
  }
  if (act.do === "new-targets") {
    const { policies } = desk.setup;
    const targets = policies.targets.map((t) => ({ ...t, minutes: act.minutes }));
    desk.setup = { ...desk.setup, policies: { ...policies, targets } };
    for (const id of desk.leads.keys()) desk.commit(goByPoliciesNow(desk.look(id)));
    return;
  }
  const ids = [...desk.leads.keys()];
  if (ids.length === 0) return;
  let id = ids[act.which % ids.length]!;
  // What comes from outside reaches the lead that goes on when this one was joined to another.
  if (act.do === "hear" || act.do === "signal")
    for (let next: string | null = id; next; next = desk.leads.get(next)!.joinedTo) id = next;
  const lead = desk.leads.get(id)!;
  const world = desk.look(id);
  const asked = lead.handOff?.to[0] ?? lead.ownerId ?? "p_mara";
  switch (act.do) {
    case "take":
      desk.commit(take(world, act.asked ? asked : act.person));
      break;
    case "pass":
      desk.commit(pass(world, asked, "Driving"));
      break;
    case "try":
      desk.commit(logTry(world, { personId: act.person, channel: "call", outcome: act.outcome }));
      break;
    case "write":
      desk.commit(writeTo(world, { personId: act.person, channel: "text", body: "Hello" }));
      break;
    case "give":
      desk.commit(give(world, act.person, act.to, "by hand"));
      break;
    case "hear":
      desk.commit(hearFrom(world, { channel: "text", from: lead.phones[0]!, subject: null, body: act.body }));
      break;
    case "later":
      desk.commit(
        writeTo(world, {
          personId: act.person,
          channel: "text",
          body: "Later",
          sendAt: desk.now + act.ms,
        }),
      );
      break;
    case "book": {
      const slot = slotsFor(world)[act.slot];
      if (slot) desk.commit(book(world, slot.at));
      break;
    }
    case "call-off":
      desk.commit(cancelBooking(world));
      break;
    case "close":
      desk.commit(close(world, act.person, "No fit"));
      break;
    case "park":
      desk.commit(park(world, act.person, "Next season", act.plan));
      break;
    case "signal":
      if (act.signal === "click") desk.commit(clicked(world, "msg_1", "https://tarnholt.example/barrel"));
      else if (act.signal === "visit") desk.commit(visited(world, "https://tarnholt.example/barrel"));
      else
        desk.commit(
          calledIn(world, {
            callId: `call_${++inquiries}`,
            line: "+17205550100",
            from: lead.phones[0]!,
            result: act.signal,
            seconds: 60,
            recording: null,
            personId: act.signal === "answered" ? "p_ines" : null,
          }),
        );
      break;
    case "engage":
      desk.commit(act.what ? engage(world, act.person, act.what) : letBe(world, act.person));
      break;
    case "join": {
      const other = desk.leads.get(ids[act.other % ids.length]!)!;
      const joined = join(world, other, { kind: "person", id: act.person });
      if (!joined.ok) break;
      for (const plan of [joined.first, joined.second]) desk.commit({ ok: true, plan });
      for (const [contact, leadId] of known) if (leadId === other.id) known.set(contact, id);
      break;
    }
    case "excuse":
      desk.commit(excuse(world, act.person, "They are on holiday"));
      break;
    case "promise":
      desk.commit(promise(world, act.person, "We send a quote", desk.now + act.ms));
      break;
    case "asked":
      desk.commit(askedForTime(world, act.person, desk.now + act.ms));
      break;
    case "undo": {
      const events = desk.events.get(id)!;
      desk.commit(undo(world, "p_ines", events.at(-1)!.actId, events));
    }
  }
}

import { beforeEach, describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { understand } from "../intake/understand.ts";
import type { EventKind, LeadEvent } from "../lead/events.ts";
import type { Lead } from "../lead/lead.ts";
import type { Policies, Setup } from "../policy/setup.ts";
import { coverFor, credit, creditTurnByHand, give, pass, routeByHand, take, uncover } from "./hand-off.ts";
import { MemoryDesk } from "./memory.ts";
import { receive } from "./receive.ts";
import { close } from "./stage.ts";
import { offeredLast, readTextBack, textBack } from "./text-back.ts";
import { comesBack, coverNow, waitsOnOwner } from "./waits.ts";
import { logTry } from "./work.ts";

const NINE = Date.parse("2026-03-04T16:00:00Z");
const DAY = 86_400_000;

let desk: MemoryDesk;
let made = 0;
const begin = (change: Partial<Policies> = {}, setup: Setup = tarnholt) => {
  desk = new MemoryDesk({ ...setup, policies: { ...setup.policies, ...change } }, NINE);
  made = 0;
};
beforeEach(() => begin());

function arrive(fields: Record<string, string> = {}, leadId: string | null = null): string {
  const source = tarnholt.sources[0]!;
  const n = ++made;
  const understood = understand(source, desk.setup.policies, {
    name: `Ana ${n}`,
    phone: `303555${String(100 + n).padStart(4, "0")}`,
    ...fields,
  });
  if (!understood.ok) throw new Error(understood.reason);
  const decided = desk.commit(
    receive(desk.look(leadId), {
      inquiryId: `inq_${n}`,
      source,
      facts: understood.facts,
      matchedOn: leadId && "phone",
      by: { kind: "lead" },
      goesTo: { kind: "rules" },
    }),
  );
  if (!decided.ok) throw new Error(decided.problem.detail);
  return decided.plan.leadId;
}
const lead = (id: string) => desk.leads.get(id)!;
const asked = (id: string) => lead(id).handOff?.to[0] ?? null;
const last = <K extends EventKind>(id: string, kind: K) =>
  desk.events.get(id)!.findLast((e) => e.kind === kind) as Extract<LeadEvent, { kind: K }> | undefined;
const problem = (decided: ReturnType<typeof take>) => (decided.ok ? null : decided.problem.title);

describe("turns that come to nothing", () => {
  it("are kept by default: whoever passes waits for the round to come about", () => {
    const id = arrive();
    const first = asked(id)!;
    desk.commit(pass(desk.look(id), first, "Driving"));
    expect(last(id, "passed")?.data.turnBack).toBeUndefined();
    expect(asked(arrive())).not.toBe(first);
  });
  it("come back where that is the policy, and the thread says so", () => {
    begin({ turns: { pass: "back", lapse: "kept" } });
    const id = arrive();
    const first = asked(id)!;
    desk.commit(pass(desk.look(id), first, "Driving"));
    expect(last(id, "passed")?.data.turnBack).toBe(true);
    expect(asked(arrive())).toBe(first);
  });
  it("come back for a lapse where that is the policy", () => {
    begin({ turns: { pass: "kept", lapse: "back" } });
    const id = arrive();
    const first = asked(id)!;
    desk.advance(2 * 60_000);
    expect(last(id, "lapsed")?.data).toEqual({ to: [first], turnBack: true });
    expect(asked(arrive())).toBe(first);
  });
  it("are credited for a bad lead: by the reason it is closed with, or by hand, once", () => {
    const id = arrive();
    const first = asked(id)!;
    desk.commit(take(desk.look(id), first));
    desk.commit(close(desk.look(id), first, "Not a real inquiry"));
    expect(last(id, "turn-credited")?.data).toMatchObject({ personId: first, groupId: "g_homes" });
    expect(asked(arrive())).toBe(first);
    expect(problem(creditTurnByHand(desk.look(id), "p_greta", "again"))).toBe("It cost no turn");
    const other = arrive();
    expect(desk.commit(creditTurnByHand(desk.look(other), "p_greta", "a robot")).ok).toBe(true);
    expect(lead(other).turn).toBeNull();
  });
});

describe("credit and owner", () => {
  it("whoever takes it first has the credit; a move by hand leaves it; agreement changes it", () => {
    const id = arrive();
    const first = asked(id)!;
    desk.commit(take(desk.look(id), first));
    desk.commit(give(desk.look(id), "p_greta", "p_sol", "closer by"));
    expect(lead(id)).toMatchObject({ ownerId: "p_sol", creditId: first });
    desk.commit(credit(desk.look(id), "p_greta", "p_sol", "agreed"));
    expect(lead(id).creditId).toBe("p_sol");
    expect(problem(credit(desk.look(id), "p_greta", "nobody-here", ""))).toBe("Nobody by that id");
  });
  it("standing by gives none", () => {
    begin({ rules: [] });
    const id = arrive();
    expect(lead(id)).toMatchObject({ ownerId: "p_tomasz", creditId: null });
  });
});

describe("repeat inquiries", () => {
  const closedOf = (id: string) => {
    const first = asked(id)!;
    desk.commit(take(desk.look(id), first));
    desk.commit(close(desk.look(id), first, "No fit"));
    return first;
  };
  it("of a closed lead go back to whoever had it", () => {
    const id = arrive();
    const first = closedOf(id);
    arrive({}, id);
    expect(lead(id)).toMatchObject({ ownerId: first, closed: null });
  });
  it("go by the rules where that is the policy; an open lead stays all the same", () => {
    begin({ setAside: { keepOwner: false, household: false } });
    const id = arrive();
    closedOf(id);
    arrive({}, id);
    expect(lead(id)).toMatchObject({ ownerId: null, handOff: { state: "offered" } });
    desk.commit(take(desk.look(id), asked(id)!));
    const owner = lead(id).ownerId;
    arrive({}, id);
    expect(lead(id).ownerId).toBe(owner);
  });
});

describe("by hand", () => {
  it("the next step moves along, or stays as asked", () => {
    const id = arrive();
    const first = asked(id)!;
    desk.commit(logTry(desk.look(id), { personId: first, channel: "call", outcome: "busy" }));
    desk.commit(give(desk.look(id), "p_greta", "p_sol", "", "stay"));
    expect(lead(id).nextStep?.personId).toBe(first);
    desk.commit(give(desk.look(id), "p_greta", "p_noor", ""));
    expect(lead(id).nextStep?.personId).toBe("p_noor");
  });
  it("the rules are asked again: who refused is not, unless all did", () => {
    begin({ standby: [] });
    const id = arrive({ product: "lodge" });
    for (const who of ["p_hanne", "p_ravi"])
      expect([asked(id), desk.commit(pass(desk.look(id), asked(id)!, "Driving")).ok]).toEqual([who, true]);
    expect(lead(id).listed).not.toBeNull();
    desk.commit(routeByHand(desk.look(id), "p_greta"));
    expect(last(id, "asked-anew")).toBeDefined();
    expect(asked(id)).toBe("p_ravi");
    expect(problem(routeByHand(desk.look(id), "p_greta"))).toBe("It is offered already");
  });
});

describe("absence", () => {
  const owned = () => {
    const id = arrive();
    const first = asked(id)!;
    desk.commit(take(desk.look(id), first));
    return { id, first };
  };
  it("lends what waits and brings it back, credit and next step with it", () => {
    const { id, first } = owned();
    desk.commit(coverFor(desk.look(id), first, "p_sol", "is away: ill"));
    expect(lead(id)).toMatchObject({ ownerId: "p_sol", coversFor: first, creditId: first });
    // Lent once: a second look changes nothing.
    const again = coverFor(desk.look(id), first, "p_sol", "is away: ill");
    expect(again.ok && again.plan.events).toEqual([]);
    desk.commit(uncover(desk.look(id), first));
    expect(lead(id)).toMatchObject({ ownerId: first, coversFor: null });
  });
  it("what was moved by hand meanwhile stays where it is", () => {
    const { id, first } = owned();
    desk.commit(coverFor(desk.look(id), first, "p_sol", "is away"));
    desk.commit(give(desk.look(id), "p_greta", "p_noor", "for good"));
    const back = uncover(desk.look(id), first);
    expect(back.ok && back.plan.events).toEqual([]);
  });
  it("knows who covers now, and what comes back", () => {
    const mara = tarnholt.people.find((p) => p.id === "p_mara")!;
    const away = { from: NINE - DAY, to: NINE + DAY, reason: "ill", coverId: "p_sol" };
    expect(coverNow({ ...mara, absences: [away] }, NINE, NINE)).toMatchObject({
      coverId: "p_sol",
      until: away.to,
    });
    expect(coverNow({ ...mara, absences: [{ ...away, waiting: "stays" }] }, NINE, NINE)).toBeNull();
    expect(coverNow({ ...mara, offDuty: true }, NINE, NINE)).toBeNull();
    expect(coverNow({ ...mara, offDuty: true, cover: "p_noor" }, NINE, NINE + 1)).toMatchObject({
      coverId: "p_noor",
    });
    expect(comesBack({ ...mara, absences: [away] }, NINE)).toBe(false);
    expect(comesBack({ ...mara, absences: [away] }, NINE + 2 * DAY)).toBe(true);
    expect(comesBack({ ...mara, absences: [{ ...away, after: "stays" }] }, NINE + 2 * DAY)).toBe(false);
  });
  it.each<[string, Partial<Lead>, boolean]>([
    ["a bell that runs", {}, true],
    ["nothing", { bell: null }, false],
    [
      "a step today",
      { bell: null, nextStep: { kind: "call", dueAt: NINE + 1, note: "", personId: null } },
      true,
    ],
    [
      "a step after they are back",
      { bell: null, nextStep: { kind: "call", dueAt: NINE + DAY, note: "", personId: null } },
      false,
    ],
    ["a reply", { bell: null, replyWaiting: NINE }, true],
    ["a closed lead's bell", { closed: { reason: "No fit", at: NINE } }, false],
  ])("%s waits on its owner: %j %s", (_what, more, waits) => {
    const { id } = owned();
    expect(waitsOnOwner({ ...lead(id), ...more }, NINE + 3_600_000)).toBe(waits);
  });
});

describe("texting back", () => {
  it.each<[string, ReturnType<typeof readTextBack>]>([
    ["1", { does: "take" }],
    [" 1. ", { does: "take" }],
    ["2", { does: "pass", reason: "" }],
    ["2 busy", { does: "pass", reason: "busy" }],
    ["2: at the dentist\n", { does: "pass", reason: "at the dentist" }],
    ["12", null],
    ["1st call tomorrow", null],
    ["yes", null],
  ])("“%s” means %j", (text, meant) => expect(readTextBack(text)).toEqual(meant));
  it("takes or passes what was offered last, and is told what came of it", () => {
    const first = arrive();
    const who = asked(first)!;
    expect(offeredLast([...desk.leads.values()], who)?.id).toBe(first);
    const decided = desk.commit(textBack(desk.look(first), who, { does: "take" }));
    expect(lead(first).ownerId).toBe(who);
    expect(decided.ok && decided.plan.alerts.at(-1)?.body).toMatch(/^Yours: Ana 1, .+ Call now\.$/);
    const second = arrive();
    const other = asked(second)!;
    desk.commit(textBack(desk.look(second), other, { does: "pass", reason: "busy" }));
    expect(last(second, "passed")?.data).toMatchObject({ personId: other, reason: "busy" });
    expect(offeredLast([...desk.leads.values()], other)).toBeNull();
  });
});

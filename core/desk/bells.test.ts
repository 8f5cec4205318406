import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { atDesk, Bench, companyWith, DAY, HOUR, MIN, wall } from "../../tests/support/memory.ts";
import { placeOf } from "../lead/queue.ts";
import type { Ladder, OtherBellKind, Target } from "../policy/bells.ts";
import { closedFrom } from "../setup/change-bells.ts";
import { describeEvent } from "../words/describe.ts";
import { askedForTime, excuse, goByPoliciesNow, promise, reckonAgain } from "./bells.ts";
import { calledIn } from "./call.ts";
import { give, take } from "./hand-off.ts";
import { hearFrom } from "./hear.ts";
import { addNote } from "./notes.ts";
import { logTry, setNextStep } from "./work.ts";

const ladder = (rungs: Ladder["rungs"]): Ladder => ({ id: "l_test", name: "Test", rungs });
const target = (more: Partial<Target> = {}): Target => ({
  id: "t_test",
  name: "Test",
  when: null,
  minutes: 10,
  clock: "desk",
  ladderId: "l_test",
  ...more,
});
const text = (body: string) => ({ channel: "text" as const, from: "+13035551001", subject: null, body });
const tryCall = (outcome: string, personId = "p_mara") => ({ personId, channel: "call" as const, outcome });

describe("a ladder", () => {
  it("climbs each rung at its due second, in order, and at the same moment rings first", () => {
    const rungs: Ladder["rungs"] = [
      { fraction: 1, plusMinutes: 0, act: "manager" },
      { fraction: 0.5, plusMinutes: 0, act: "nudge" },
      { fraction: 1, plusMinutes: 4, act: "tag", tag: "late" },
      { fraction: 1, plusMinutes: 30, act: "standby" },
    ];
    const bench = new Bench(companyWith({ targets: [target()], ladders: [ladder(rungs)] }));
    const id = bench.arrive();
    bench.act(id, (w) => take(w, "p_mara"));
    bench.desk.advance(2 * HOUR);
    expect(bench.rungs(id).filter((r) => !r.includes("("))).toEqual([
      "Wed 09:05:00 nudge",
      "Wed 09:10:00 ring",
      "Wed 09:10:00 manager",
      "Wed 09:14:00 tag",
      "Wed 09:40:00 standby",
    ]);
    expect(bench.lead(id)).toMatchObject({ ownerId: "p_tomasz", tags: ["late"] });
  });
  it("takes it back from whoever has not tried and offers it to the next by the rules", () => {
    const rungs: Ladder["rungs"] = [{ fraction: 1, plusMinutes: 5, act: "next" }];
    const bench = new Bench(companyWith({ targets: [target()], ladders: [ladder(rungs)] }));
    const id = bench.arrive();
    bench.act(id, (w) => take(w, "p_mara"));
    bench.desk.advance(15 * MIN);
    const lead = bench.lead(id);
    expect(lead.ownerId).toBeNull();
    expect(lead.handOff?.to).not.toContain("p_mara");
    expect(lead.refused).toContain("p_mara");
    const [back] = bench.events(id, "lapsed");
    expect(describeEvent(back!, tarnholt)).toBe("Taken back from Mara Whitehorse: nobody had tried");
    expect(bench.desk.alerts.some((a) => a.purpose === "gone" && a.personId === "p_mara")).toBe(true);
  });
  it("offers it to a group it names, and stays where it is when nobody there can have it", () => {
    const rungs: Ladder["rungs"] = [{ fraction: 1, plusMinutes: 5, act: "group", groupId: "g_lodges" }];
    const bench = new Bench(companyWith({ targets: [target()], ladders: [ladder(rungs)] }));
    const id = bench.arrive();
    bench.act(id, (w) => take(w, "p_mara"));
    bench.desk.advance(15 * MIN);
    expect(["p_hanne", "p_ravi"]).toContain(bench.lead(id).handOff?.to[0]);

    const away = companyWith({ targets: [target()], ladders: [ladder(rungs)] });
    const nobody = new Bench({
      ...away,
      people: away.people.map((p) => (["p_hanne", "p_ravi"].includes(p.id) ? { ...p, offDuty: true } : p)),
    });
    const other = nobody.arrive();
    nobody.act(other, (w) => take(w, "p_mara"));
    nobody.desk.advance(15 * MIN);
    expect(nobody.lead(other)).toMatchObject({ ownerId: "p_mara", handOff: { state: "taken" } });
  });
  it("tells managers in the facts that matter, with a link to act on", () => {
    const bench = new Bench();
    const id = bench.arrive();
    bench.act(id, (w) => take(w, "p_mara"));
    bench.desk.advance(6 * MIN);
    const [card] = bench.desk.alerts.filter((a) => a.purpose === "ring" && a.personId === "p_greta");
    expect(card?.body).toContain("Rung: nobody has called Ana Ruiz1. With: Mara Whitehorse");
    expect(card?.link).toMatchObject({ manage: true, leadId: id, personId: "p_greta" });
    expect(card?.link?.until).toBe(card!.notBefore ?? atDesk("2026-03-04T09:05:00") + 3 * DAY);
  });
  it("leaves out what makes no sense any more after a night switched off, and says how late the rest is", () => {
    const bench = new Bench();
    const id = bench.arrive();
    bench.act(id, (w) => take(w, "p_mara"));
    // Switched off until long after every rung: time has passed, and nothing has run.
    bench.desk.now += 7 * HOUR;
    bench.desk.advance(0);
    expect(bench.rungs(id).filter((r) => !r.includes("("))).toEqual([
      "Wed 16:00:00 nudge: late by 6 h 57 min: the desk was off",
      "Wed 16:00:00 ring",
      "Wed 16:00:00 manager",
      "Wed 16:00:00 standby",
    ]);
    const [rang] = bench.events(id, "rang");
    expect(describeEvent(rang!, tarnholt)).toBe("Rang late by 6 h 55 min: the desk was off");
  });
  it("goes on by the policy it began with, unless it is told otherwise; what was climbed is not climbed again", () => {
    const bench = new Bench();
    const [kept, told] = [bench.arrive(), bench.arrive()];
    for (const id of [kept, told]) bench.act(id, (w) => take(w, "p_mara"));
    bench.desk.advance(4 * MIN);
    bench.desk.setup = companyWith({
      targets: [target({ minutes: 60 })],
      ladders: [
        ladder([
          { fraction: 0.5, plusMinutes: 0, act: "nudge" },
          { fraction: 0.9, plusMinutes: 0, act: "tag", tag: "soon" },
        ]),
      ],
    });
    bench.act(told, goByPoliciesNow);
    bench.desk.advance(2 * HOUR);
    const ofInquiry = (id: string) => bench.rungs(id).filter((r) => !r.includes("("));
    expect(ofInquiry(kept).slice(0, 3)).toEqual([
      "Wed 09:03:00 nudge",
      "Wed 09:05:00 ring",
      "Wed 09:05:00 manager",
    ]);
    expect(ofInquiry(told)).toEqual(["Wed 09:03:00 nudge", "Wed 09:54:00 tag", "Wed 10:00:00 ring"]);
  });
});

describe("desk hours", () => {
  it("a snow day entered while bells run moves each, with the reason, whether or not anybody got round to it", () => {
    const bench = new Bench(tarnholt, atDesk("2026-03-04T12:58:00"));
    const [swept, left] = [bench.arrive(), bench.arrive()];
    for (const id of [swept, left]) bench.act(id, (w) => take(w, "p_mara"));
    bench.desk.setup = closedFrom(tarnholt, "2026-03-04", "13:00", "Snow day");
    bench.act(swept, reckonAgain);
    expect(wall(bench.lead(swept).bell?.dueAt)).toBe("Thu 08:03:00");
    expect(bench.events(swept, "bell-moved")[0]?.data).toMatchObject({ reason: "Snow day", bell: "inquiry" });
    // The other is reckoned again only as its old time comes: nothing rings on a closed afternoon.
    bench.desk.advance(3 * HOUR);
    for (const id of [swept, left]) expect(bench.events(id, "rang")).toEqual([]);
    bench.desk.advance(20 * HOUR);
    for (const id of [swept, left])
      expect(
        bench
          .rungs(id)
          .filter((r) => !r.includes("("))
          .slice(0, 2),
      ).toEqual(["Thu 08:01:00 nudge", "Thu 08:03:00 ring"]);
  });
  it("closing afterwards does not unring what has rung", () => {
    const bench = new Bench();
    const id = bench.arrive();
    bench.desk.advance(6 * MIN);
    bench.desk.setup = closedFrom(tarnholt, "2026-03-04", "09:00", "Snow day");
    bench.act(id, reckonAgain);
    expect(bench.lead(id).bell?.state).toBe("rung");
    bench.desk.advance(30 * HOUR);
    expect(bench.events(id, "rang")).toHaveLength(1);
  });
  it("are read where the lead is, when the target says so", () => {
    const near = companyWith({ targets: [target({ zone: "lead" })], ladders: [ladder([])] });
    const bench = new Bench(near, atDesk("2026-03-04T17:55:00"));
    // Québec: it is 19:55 there, so the hours there begin at eight tomorrow, six in the morning at the desk.
    const far = bench.arrive({ postal_code: "G1R2B5" });
    const here = bench.arrive({ postal_code: "80202" });
    expect(wall(bench.lead(far).bell?.dueAt)).toBe("Thu 06:10:00");
    expect(wall(bench.lead(here).bell?.dueAt)).toBe("Thu 08:05:00");
  });
});

describe("what a bell is answered, excused or moved by", () => {
  it("only by a way of trying that counts", () => {
    const bench = new Bench(companyWith({ counts: ["call"] }));
    const id = bench.arrive();
    bench.act(id, (w) => logTry(w, { personId: "p_mara", channel: "text", outcome: "sent" }));
    expect(bench.lead(id)).toMatchObject({ tries: 1, bell: { state: "waiting" } });
    bench.act(id, (w) => logTry(w, tryCall("voicemail")));
    expect(bench.lead(id)).toMatchObject({ tries: 2, bell: { state: "answered" } });
  });
  it("moves to the time they asked for in the form, and the lead waits there instead of on top", () => {
    const bench = new Bench();
    const id = bench.arrive({ call_when: "tomorrow 15:00", postal_code: "80202" });
    const { bell } = bench.lead(id);
    expect(wall(bell?.dueAt)).toBe("Thu 15:00:00");
    expect(bell?.askedFor).toBe(bell?.dueAt);
    expect(placeOf(bench.lead(id))).toMatchObject({ place: "step", at: bell?.dueAt });
    bench.desk.advance(25 * HOUR);
    expect(bench.events(id, "rang")).toEqual([]);
    bench.desk.advance(6 * HOUR);
    expect(bench.rungs(id).find((r) => r.endsWith("ring"))).toBe("Thu 15:00:00 ring");
  });
  it("moves to the time they told one of us, who calls then", () => {
    const bench = new Bench();
    const id = bench.arrive();
    bench.act(id, (w) => askedForTime(w, "p_ines", atDesk("2026-03-05T08:15:00")));
    expect(bench.lead(id)).toMatchObject({
      bell: { state: "waiting", dueAt: atDesk("2026-03-05T08:15:00") },
      nextStep: { note: "Call as asked", dueAt: atDesk("2026-03-05T08:15:00") },
    });
    expect(askedForTime(bench.desk.look(id), "p_ines", bench.desk.now)).toMatchObject({
      problem: { status: 422, errors: [{ path: "at" }] },
    });
  });
  it("is excused with a reason, as long as somebody has it", () => {
    const bench = new Bench();
    const id = bench.arrive();
    bench.desk.advance(6 * MIN);
    bench.act(id, (w) => give(w, "p_greta", "p_mara", ""));
    bench.act(id, (w) => excuse(w, "p_greta", "Talked to them at the show"));
    expect(bench.lead(id).bell?.state).toBe("excused");
    expect(placeOf(bench.lead(id)).place).toBe("idle");
    bench.desk.advance(HOUR);
    expect(bench.events(id, "stood-by")).toEqual([]);
    expect(excuse(bench.desk.look(id), "p_greta", " ")).toMatchObject({ problem: { status: 422 } });
  });
  it("cannot be excused while nobody has it", () => {
    const nobody = { ...tarnholt, people: tarnholt.people.map((p) => ({ ...p, offDuty: true })) };
    const bench = new Bench(nobody);
    const id = bench.arrive();
    expect(bench.lead(id).listed).not.toBeNull();
    expect(excuse(bench.desk.look(id), "p_greta", "No need")).toMatchObject({ problem: { status: 409 } });
  });
  it("a test through the real path starts none", () => {
    const bench = new Bench();
    const id = bench.arrive({}, null, { test: { only: null } });
    expect(bench.lead(id)).toMatchObject({ bell: null, test: true, handOff: { state: "offered" } });
  });
});

describe("other bells", () => {
  const owned = () => {
    const bench = new Bench();
    const id = bench.arrive();
    bench.act(id, (w) => take(w, "p_mara"));
    bench.act(id, (w) => logTry(w, tryCall("reached")));
    return { bench, id };
  };
  const running = (bench: Bench, id: string) => bench.lead(id).others.map((b) => b.kind);

  it("ring for an owner who has not tried since they got it, and begin again with the next owner", () => {
    const { bench, id } = owned();
    bench.desk.advance(HOUR);
    bench.act(id, (w) => give(w, "p_ines", "p_idris", "by hand"));
    expect(running(bench, id)).toContain("untried");
    bench.desk.advance(HOUR);
    bench.act(id, (w) => give(w, "p_ines", "p_noor", "by hand"));
    bench.desk.advance(90 * MIN);
    expect(bench.rungs(id).filter((r) => r.includes("untried"))).toEqual([]);
    bench.desk.advance(31 * MIN);
    expect(bench.rungs(id).filter((r) => r.includes("untried"))).toEqual([
      "Wed 13:00:00 ring (untried)",
      "Wed 13:00:00 nudge (untried)",
    ]);
    expect(bench.desk.alerts.findLast((a) => a.purpose === "nudge")).toMatchObject({ personId: "p_noor" });
    bench.act(id, (w) => logTry(w, tryCall("voicemail", "p_noor")));
    expect(running(bench, id)).not.toContain("untried");
  });
  it("ring for a reply nobody answers, and end with the answer", () => {
    const { bench, id } = owned();
    bench.act(id, (w) => hearFrom(w, text("Can you call today?")));
    bench.desk.advance(46 * MIN);
    expect(bench.rungs(id)).toEqual([
      "Wed 09:15:00 ring (reply)",
      "Wed 09:15:00 nudge (reply)",
      "Wed 09:45:00 manager (reply)",
    ]);
    expect(placeOf(bench.lead(id)).place).toBe("answer");
    bench.act(id, (w) => logTry(w, tryCall("reached")));
    expect(running(bench, id)).not.toContain("reply");
  });
  it("ring for somebody who called and got no call back", () => {
    const { bench, id } = owned();
    const call = { callId: "c1", line: "+17205550100", from: "+13035551001", result: "missed" as const };
    bench.act(id, (w) => calledIn(w, { ...call, seconds: 0, recording: null, personId: null }));
    expect(running(bench, id)).toContain("reply");
  });
  it("ring for an overdue step, by the time it was put to", () => {
    const { bench, id } = owned();
    const due = atDesk("2026-03-05T10:00:00");
    bench.act(id, (w) => setNextStep(w, "p_mara", { kind: "call", dueAt: due, note: "Send the quote" }));
    bench.desk.advance(28 * HOUR);
    expect(bench.rungs(id)).toEqual([]);
    bench.desk.advance(1 * HOUR + MIN);
    expect(bench.rungs(id)).toEqual(["Thu 14:00:00 ring (overdue)", "Thu 14:00:00 nudge (overdue)"]);
    expect(placeOf(bench.lead(id)).place).toBe("rung");
    // Put off again, it is another promise to oneself, with a bell of its own.
    const again = atDesk("2026-03-09T10:00:00");
    bench.act(id, (w) => setNextStep(w, "p_mara", { kind: "call", dueAt: again, note: "Send the quote" }));
    expect(bench.lead(id).others).toMatchObject([{ kind: "overdue", since: again, state: "waiting" }]);
  });
  it("ring at the time of a promise, and are kept by a try", () => {
    const { bench, id } = owned();
    bench.act(id, (w) => promise(w, "p_mara", "we send the plan", atDesk("2026-03-04T16:00:00")));
    bench.desk.advance(7 * HOUR + 1);
    expect(bench.rungs(id)).toEqual(["Wed 16:00:00 ring (promise)", "Wed 16:00:00 nudge (promise)"]);
    const nudge = bench.desk.alerts.findLast((a) => a.purpose === "nudge" && a.channel === "chat");
    expect(nudge?.body).toContain("Ana Ruiz1 was promised for Wed 4 Mar 16:00: we send the plan");
    bench.act(id, (w) => logTry(w, tryCall("reached")));
    expect(bench.lead(id).promise).toBeNull();
    expect(running(bench, id)).not.toContain("promise");
  });
  it("ring when tries stop before anybody is reached, however often the step was put off", () => {
    const bench = new Bench();
    const id = bench.arrive();
    bench.act(id, (w) => take(w, "p_mara"));
    bench.act(id, (w) => logTry(w, tryCall("voicemail")));
    for (let i = 0; i < 4; i++) {
      const step = { kind: "call" as const, dueAt: bench.desk.now + 4 * DAY, note: "Later" };
      bench.act(id, (w) => setNextStep(w, "p_mara", step));
      bench.desk.advance(3 * DAY);
    }
    // Ten days of twenty-four hours, over the clock change.
    expect(bench.rungs(id)).toEqual(["Sat 10:00:00 ring (stalled)", "Sat 10:00:00 nudge (stalled)"]);
  });
  it("ring when nothing is planned, whatever is noted meanwhile", () => {
    const { bench, id } = owned();
    bench.act(id, (w) => setNextStep(w, "p_mara", null));
    bench.desk.advance(2 * HOUR);
    bench.act(id, (w) => addNote(w, "p_mara", "They think about it."));
    bench.desk.advance(3 * HOUR + MIN);
    expect(bench.rungs(id)).toEqual(["Wed 14:00:00 ring (aimless)", "Wed 14:00:00 nudge (aimless)"]);
  });
  it("are switched off by their target, and chosen by condition", () => {
    const only = (about: OtherBellKind, more: Partial<Target>) =>
      companyWith({
        targets: tarnholt.policies.targets.map((t) => (t.about === about ? { ...t, ...more } : t)),
      });
    const off = new Bench(only("reply", { off: true }));
    const id = off.arrive();
    off.act(id, (w) => hearFrom(w, text("Hello?")));
    expect(off.lead(id).others.map((b) => b.kind)).not.toContain("reply");
    const lodges = new Bench(only("reply", { when: { field: "product", is: "equal", value: "lodge" } }));
    const [barrel, lodge] = [lodges.arrive(), lodges.arrive({ product: "lodge" })];
    for (const l of [barrel, lodge]) lodges.act(l, (w) => hearFrom(w, text("Hello?")));
    expect(lodges.lead(barrel).others.map((b) => b.kind)).not.toContain("reply");
    expect(lodges.lead(lodge).others.map((b) => b.kind)).toContain("reply");
  });
});

import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { Bench, companyWith, MIN } from "../../tests/support/memory.ts";
import { give, pass, take } from "../desk/hand-off.ts";
import { learn } from "../desk/learn.ts";
import { setShared } from "../desk/same.ts";
import type { Policies } from "../policy/setup.ts";
import { Answers } from "./answers.ts";
import { Playback, TELL_NOTHING } from "./playback.ts";
import type { RecordedAct } from "./record.ts";

const salespeople = ["p_mara", "p_idris", "p_noor"];
/** Three people in turn, each asked for five minutes; what is called a lodge goes by a rule of its own. */
const company = (rules: Partial<Policies> = {}) =>
  companyWith({
    rules: [
      { id: "r_all", name: "Everybody", when: null, to: { group: "g_three" }, offerMinutes: 5, anyFit: true },
    ],
    setAside: { keepOwner: true, household: true },
    ...rules,
  });
const setup = (rules: Partial<Policies> = {}) => ({
  ...company(rules),
  groups: [
    {
      id: "g_three",
      name: "Three",
      way: "rotation" as const,
      members: salespeople.map((personId) => ({ personId, weight: 1 })),
    },
  ],
});

/** Everything that happened on a desk, act by act, as its record would tell it. */
function recordOf({ desk }: Bench): RecordedAct[] {
  const number = (id: string) => Number(id.split("_")[1]);
  const events = [...desk.events.values()].flat().filter((e) => !TELL_NOTHING.includes(e.kind));
  const acts = new Map<string, RecordedAct & { events: typeof events }>();
  for (const event of events.sort((a, b) => number(a.id) - number(b.id))) {
    const act = acts.get(event.actId) ?? { leadId: event.leadId, at: event.at, events: [] };
    act.events.push(event);
    acts.set(event.actId, act);
  }
  return [...acts.values()];
}

function play(bench: Bench, rules: Partial<Policies> = {}) {
  const live = bench.desk.setup;
  const { rules: r, setAside } = { ...live.policies, ...rules };
  const playback = new Playback({
    rules: { rules: r, setAside },
    from: 0,
    to: Number.MAX_SAFE_INTEGER,
    setupAt: () => live,
  });
  for (const act of recordOf(bench)) playback.feed(act);
  return playback.tally.result();
}

/** So many inquiries, a few minutes apart, each answered by `answers`; every third is for the lodge. */
function aDay(answers: (bench: Bench, id: string, to: string) => void, count = 18): Bench {
  const bench = new Bench(setup());
  for (let i = 0; i < count; i++) {
    const id = bench.arrive({ product: i % 3 === 2 ? "lodge" : "barrel" });
    const [to] = bench.lead(id).handOff!.to;
    answers(bench, id, to!);
    bench.desk.advance(7 * MIN);
  }
  return bench;
}
const takes = (bench: Bench, id: string, to: string) => void bench.act(id, (world) => take(world, to));

const LODGE = {
  id: "r_lodge",
  name: "Lodges to Mara",
  when: { field: "product", is: "equal", value: "lodge" },
  to: { person: "p_mara" },
  offerMinutes: 5,
  anyFit: true,
} as const;

describe("playback", () => {
  it("of the rules that were live differs in nothing, also for people who share a number", () => {
    const bench = aDay(takes, 6);
    const first = bench.arrive({ name: "Bo Frontdesk", phone: "3035550150" });
    const [to] = bench.lead(first).handOff!.to;
    bench.act(first, (world) => take(world, to!));
    bench.act(first, (world) => setShared(world, "+13035550150", true, "p_ines"));
    bench.desk.advance(MIN);
    const second = bench.arrive({ name: "Ingrid Guest", phone: "3035550150" });
    expect(bench.lead(second).handOff!.to).toEqual([to]);
    expect(bench.events(second, "offered")[0]?.data.by).toMatch(/household/);
    expect(play(bench)).toMatchObject({ inquiries: 8, changed: 0, byRules: 0, differences: [] });
  });

  it("parts what a changed rule did from what only follows from turns having moved", () => {
    const bench = aDay(takes);
    const rules = [LODGE, ...bench.desk.setup.policies.rules];
    const result = play(bench, { rules });
    const lodges = [...bench.desk.leads.values()].filter((l) => l.facts.product === "lodge");
    const byRules = result.differences.filter((d) => d.cause === "rules").map((d) => d.leadId);
    expect(result.byRules).toBe(byRules.length);
    expect(byRules.length).toBeGreaterThan(0);
    expect(lodges.map((l) => l.id)).toEqual(expect.arrayContaining(byRules));
    // What is no lodge goes by the same rule as before: whatever differs there was moved along.
    const moved = result.differences.filter((d) => d.cause === "moved");
    expect(moved.length).toBeGreaterThan(0);
    expect(result.changed).toBe(byRules.length + moved.length);
  });

  it("has people answer as they really answered: who passed on everything is offered more, and passes on that", () => {
    const bench = aDay((b, id, to) => {
      if (to !== "p_mara") return takes(b, id, to);
      b.act(id, (world) => pass(world, "p_mara", "Driving"));
      const [next] = b.lead(id).handOff!.to;
      takes(b, id, next!);
    });
    const rules = [LODGE, ...bench.desk.setup.policies.rules];
    const { people, refusals } = play(bench, { rules });
    const mara = people.find((p) => p.id === "p_mara")!;
    expect(mara.offered.would).toBeGreaterThan(0);
    expect(mara.got).toEqual({ was: 0, would: 0 });
    expect(refusals.would).toBeGreaterThan(0);
  });

  it("leaves out tests: nothing about them is a decision of the desk", () => {
    const bench = aDay(takes, 3);
    bench.arrive({ name: "Sample" }, null, { test: { only: null } });
    bench.desk.advance(MIN);
    expect(play(bench).inquiries).toBe(3);
  });

  it("follows a move by hand, whatever the rules would have done", () => {
    const bench = aDay(takes, 3);
    const [id] = bench.desk.leads.keys();
    bench.act(id!, (world) => give(world, "p_ines", "p_sol", "knows them"));
    bench.act(id!, (world) => learn(world, { company: "Larkmoor" }, "p_ines"));
    const nobody = { ...bench.desk.setup.policies.rules[0]!, to: { person: "p_hanne" } };
    expect(play(bench, { rules: [nobody] }).inquiries).toBe(3);
  });
});

describe("how people answer", () => {
  it("is learned from offers alone, in the order in which it happened, and asked for one after the other", () => {
    const bench = new Bench(setup());
    const answers = new Answers();
    expect(answers.of("p_mara")).toBeNull();
    const told = new Set<string>();
    const ask = (does: (id: string, to: string) => void) => {
      const id = bench.arrive();
      bench.desk.advance(2 * MIN);
      does(id, bench.lead(id).handOff!.to[0]!);
      return bench.events(id, "offered")[0]!.data.to[0]!;
    };
    const who = ask((id, to) => void bench.act(id, (world) => take(world, to)));
    ask((id, to) => void bench.act(id, (world) => pass(world, to, "Driving")));
    ask(() => void bench.desk.advance(4 * MIN));
    ask((id, to) => void bench.act(id, (world) => pass(world, to, "Driving")));
    for (const act of recordOf(bench))
      for (const event of act.events) {
        answers.learn(event);
        told.add(event.kind);
      }
    expect([...told]).toEqual(expect.arrayContaining(["taken", "passed", "lapsed"]));
    const twice = [answers.of(who), answers.of(who)];
    expect(twice[0]).toEqual({ did: "took", after: 2 * MIN });
    expect(twice[1]).not.toBeNull();
    expect(tarnholt.people.some((p) => p.id === who)).toBe(true);
  });
});

import { inWords } from "../../core/condition/condition.ts";
import type { Names } from "../../core/condition/tree.ts";
import { catalogue, namesIn } from "../../core/lead/fields.ts";
import type { Outcome, PlaybackResult } from "../../core/playback/tally.ts";
import { planOf } from "../../core/policy/cadence.ts";
import type { Absence, Person } from "../../core/policy/people.ts";
import { calendarAround, isOff, namesApart, presence } from "../../core/policy/people.ts";
import type { RuleSet } from "../../core/policy/routing.ts";
import { languagesOf, nameOf, type Setup, valueNames } from "../../core/policy/setup.ts";
import { whyUntold } from "../../core/policy/told.ts";
import { dutySpans, holes } from "../../core/policy/week.ts";
import { fairShare } from "../../core/report/fair-share.ts";
import { ruleSentence } from "../../core/routing/sentence.ts";
import { type RuleWarning, warningsOf } from "../../core/routing/warnings.ts";
import { differences } from "../../core/setup/audit-words.ts";
import { rulesProblem } from "../../core/setup/change-routing.ts";
import { jainIndex } from "../../core/statistics/jain.ts";
import { endOfDay, startOfDay } from "../../core/time/defer.ts";
import { openSpans, type Span } from "../../core/time/spans.ts";
import { dayTime, localDate } from "../../core/time/words.ts";
import type { Desk } from "../../server/desk.ts";
import type { PlaybackRun } from "../../server/playback/playbacks.ts";
import type { AuditEntry, RuleVersion } from "../../server/setup/office.ts";
import type * as wire from "./routing-schemas.ts";
import { iso } from "./shape.ts";

/** People, rules and playback, from the engine's objects to the wire's and back. */

/** The same, as the wire has it: what is sent is not readonly. */
const plain = <T>(value: unknown) => structuredClone(value) as T;
const spans = (list: readonly Span[]) => list.map(({ from, to }) => ({ from: iso(from), to: iso(to) }));
const HERE = (setup: Setup) => setup.people.filter((p) => !p.left);

export function toFullPerson(person: Person, setup: Setup): wire.FullPerson {
  const {
    absences,
    hours,
    products,
    territories,
    languages,
    left: _,
    alerts: __,
    offUntil: ___,
    ...rest
  } = person;
  return {
    ...rest,
    hours: plain<wire.Hours>({ zone: hours.zone, week: hours.week }),
    absences: absences.map(({ from, to, reason, coverId, waiting, after }) => ({
      from: iso(from),
      to: iso(to),
      reason,
      coverId,
      waiting: waiting ?? "goes",
      after: after ?? "back",
    })),
    cover: person.cover ?? null,
    perDay: person.perDay ?? null,
    products: products && [...products],
    territories: territories && [...territories],
    languages: [...languages],
    groups: setup.groups.filter((g) => g.members.some((m) => m.personId === person.id)).map((g) => g.id),
  };
}

/** What somebody is after a form was saved: what the form does not show stays as it was. */
export function fromFullPerson(
  { groups: _, ...saved }: wire.SavePerson,
  known: Person | undefined,
  id: string,
): Person {
  return {
    ...known,
    ...saved,
    id,
    offDuty: known?.offDuty ?? false,
    offUntil: known?.offUntil ?? null,
    hours: { ...known?.hours, ...saved.hours },
    absences: saved.absences.map((a): Absence => ({ ...a, from: Date.parse(a.from), to: Date.parse(a.to) })),
  };
}

export function toPeopleSetup(desk: Desk): wire.PeopleSetup {
  const { setup } = desk;
  const now = desk.clock.now();
  return {
    people: HERE(setup).map((person) => {
      const there = presence(person, now);
      return {
        ...toFullPerson(person, setup),
        offDuty: isOff(person, now),
        onDuty: there.onDuty,
        because: there.onDuty ? null : there.because,
        openLeads: desk.loads[person.id] ?? 0,
        untold: whyUntold(setup, person, desk.looker.unset),
      };
    }),
    groups: plain<wire.FullGroup[]>(setup.groups),
    products: setup.policies.products.map(({ key, name }) => ({ key, name })),
    territories: setup.policies.territories.map(({ key, name }) => ({ key, name })),
    languages: languagesOf(setup).map((key) => ({ key, name: valueNames.language(key) })),
    zone: setup.policies.desk.zone,
  };
}

/** The seven days from the one that `at` falls in: who is there when, and where nobody is. */
export function toWeek(desk: Desk, at: number): wire.Week {
  const { setup } = desk;
  const { zone } = setup.policies.desk;
  const days: Span[] = [];
  for (let day = startOfDay(at, zone); days.length < 7; day = endOfDay(day, zone))
    days.push({ from: day, to: endOfDay(day, zone) });
  const from = days[0]!.from;
  const to = days[6]!.to;
  const people = HERE(setup).filter((p) => p.role === "salesperson" || setup.policies.standby.includes(p.id));
  const gaps = [
    { groupId: null, name: "Nobody who sells", spans: spans(holes(setup, null, from, to)) },
    ...setup.groups.map((g) => ({ groupId: g.id, name: g.name, spans: spans(holes(setup, g, from, to)) })),
  ];
  return {
    from: iso(from),
    to: iso(to),
    now: iso(desk.clock.now()),
    zone,
    days: days.map((d) => ({ date: localDate(d.from, zone), ...spans([d])[0]! })),
    desk: spans(openSpans(calendarAround(setup.policies.desk, from), from, to)),
    people: people.map((p) => ({
      id: p.id,
      spans: spans(dutySpans(p, from, to)),
      away: p.absences
        .filter((a) => a.to > from && a.from < to)
        .map((a) => ({
          from: iso(Math.max(a.from, from)),
          to: iso(Math.min(a.to, to)),
          reason: a.reason,
          cover: a.coverId && nameOf(setup, a.coverId),
        })),
    })),
    holes: gaps.filter((g) => g.spans.length > 0),
  };
}

const sentencesOf = ({ people, groups }: Setup, names: Names, { rules }: RuleSet) =>
  Object.fromEntries(rules.map((rule) => [rule.id, ruleSentence({ people, groups, names }, rule)]));

export function toRouting(desk: Desk, mayPublish: boolean): wire.RoutingSetup {
  const { setup } = desk;
  const { rules, setAside, routing, turns, standby, passReasons } = setup.policies;
  const live: RuleSet = { rules, setAside };
  const shown = routing.draft ?? live;
  const names = namesApart(HERE(setup));
  return {
    version: routing.version,
    publishedAt: iso(routing.publishedAt),
    by: routing.by && nameOf(setup, routing.by),
    live: plain<wire.RuleSet>(live),
    draft: routing.draft && {
      ...plain<wire.RuleSet>({ rules: routing.draft.rules, setAside: routing.draft.setAside }),
      at: iso(routing.draft.at),
      by: nameOf(setup, routing.draft.by),
    },
    warnings: warningsOf(setup, shown, desk.clock.now()).map((w) =>
      toWarning(setup, shown, w, desk.clock.now()),
    ),
    sentences: { ...sentencesOf(setup, namesIn(setup), live), ...sentencesOf(setup, namesIn(setup), shown) },
    problem: routing.draft && rulesProblem(setup, routing.draft),
    catalogue: plain<wire.RoutingSetup["catalogue"]>(catalogue(setup)),
    people: HERE(setup).map(({ id, name, role }) => ({ id, name: names.get(id) ?? name, role })),
    groups: plain<wire.FullGroup[]>(setup.groups),
    turns: plain<wire.Turns["turns"]>(turns),
    standby: [...standby],
    passReasons: [...passReasons],
    mayPublish,
    zone: setup.policies.desk.zone,
  };
}

function toWarning(
  setup: Setup,
  { rules }: RuleSet,
  warning: RuleWarning,
  now: number,
): wire.RoutingSetup["warnings"][number] {
  const rule = "ruleId" in warning ? rules.find((r) => r.id === warning.ruleId) : undefined;
  const name = `“${rule?.name}”`;
  const of = { kind: warning.kind, ruleId: rule?.id ?? null };
  switch (warning.kind) {
    case "never":
      return {
        ...of,
        said: warning.behind
          ? `${name} can never fire: whatever fits it fits “${warning.behind}” before it.`
          : `${name} can never fire: the rules before it together take every lead that fits it, or it contradicts itself.`,
      };
    case "unproved":
      return {
        ...of,
        said: `Whether ${name} ever fires hangs on what leads write or are tagged with. A playback tells how often it would have.`,
      };
    case "empty":
      return { ...of, said: `${name} offers to a group with nobody in it.` };
    case "hole": {
      const group = setup.groups.find((g) => g.id === warning.groupId)?.name ?? "";
      const [first] = warning.spans;
      const zone = setup.policies.desk.zone;
      const more = warning.spans.length - 1;
      const when = first && `${dayTime(first.from, zone, now)} to ${dayTime(first.to, zone, now)}`;
      return {
        ...of,
        said: `Nobody in ${group} is on duty though the desk is open: ${when}${more > 0 ? `, and ${more} more this week` : ""}.`,
      };
    }
    case "in-no-rule":
      return {
        ...of,
        said: `${nameOf(setup, warning.personId)} is in no rule: no lead is ever offered to them.`,
      };
    case "no-rule": {
      const source = setup.sources.find((s) => s.id === warning.sourceId)?.name ?? "";
      return { ...of, said: `No rule can fit what “${source}” brings: it goes to standby.` };
    }
  }
}

export function toVersion(setup: Setup, { rules, setAside, ...version }: RuleVersion): wire.Version {
  return {
    ...version,
    at: iso(version.at),
    by: version.by && nameOf(setup, version.by),
    ...plain<wire.RuleSet>({ rules, setAside }),
    sentences: sentencesOf(setup, namesIn(setup), { rules, setAside }),
  };
}

export function toPlayback(setup: Setup, run: PlaybackRun): wire.Playback {
  const { job, result, ...rest } = run;
  return {
    ...rest,
    from: iso(job.from),
    to: iso(job.to),
    roster: job.roster,
    result: result && toResult(setup, result),
  };
}

function toResult(setup: Setup, result: PlaybackResult): NonNullable<wire.Playback["result"]> {
  const sellers = result.people.filter((p) => p.offered.was + p.offered.would > 0);
  const even = (when: "was" | "would") => jainIndex(sellers.map((p) => p.offered[when]));
  return {
    ...plain<PlaybackResult>(result),
    people: result.people.map((p) => ({ ...p, name: nameOf(setup, p.id) })),
    groups: result.groups.map((g) => ({ ...g, name: setup.groups.find((x) => x.id === g.id)?.name ?? g.id })),
    jain: { was: even("was"), would: even("would") },
    differences: result.differences.map((d) => ({
      leadId: d.leadId,
      name: d.name,
      source: setup.sources.find((s) => s.id === d.sourceId)?.name ?? "",
      at: iso(d.at),
      was: sayOutcome(setup, d.was),
      would: sayOutcome(setup, d.would),
      cause: d.cause,
    })),
  } as NonNullable<wire.Playback["result"]>;
}

function sayOutcome(setup: Setup, { kind, to, waitUntil }: Outcome): string {
  const names = to.map((id) => nameOf(setup, id)).join(", ");
  if (kind === "list") return waitUntil === null ? "the manager’s list" : "nobody, until somebody is there";
  if (kind === "standby") return `${names}, on standby`;
  if (kind === "kept") return `stays with ${names || "nobody"}`;
  return names;
}

export function toFairShare(desk: Desk, from: number, to: number): wire.FairShare {
  const { setup, loads } = desk;
  const groups = fairShare(desk.reader.shareEvents(from, to), setup, {
    at: desk.clock.now(),
    loads,
    rotations: desk.look(null).rotations,
  });
  return {
    from: iso(from),
    to: iso(to),
    groups: groups.map(({ groupId, people, next, ...rest }) => {
      const { name, way } = setup.groups.find((g) => g.id === groupId)!;
      return {
        ...rest,
        id: groupId,
        name,
        way,
        next: next && { name: nameOf(setup, next.personId), reason: next.reason },
        people: people.map(({ personId, ...counts }) => ({
          id: personId,
          name: nameOf(setup, personId),
          ...counts,
        })),
      };
    }),
  };
}

/** What an id or key of the set-up is called; null when it is none. */
function callName({ people, groups, sources, policies }: Setup, id: string): string | null {
  const byId = [...people, ...groups, ...sources, ...policies.templates].find((thing) => thing.id === id);
  const cadence = policies.cadences.find((c) => c.id === id);
  return byId?.name ?? (cadence ? planOf(cadence).name : null);
}

export function toAudit(setup: Setup, { by, at, ...entry }: AuditEntry): wire.Audit {
  const said = differences(entry.before, entry.after, {
    nameOf: (id) => callName(setup, id),
    zone: setup.policies.desk.zone,
    asked: (condition) => inWords(condition, namesIn(setup)),
  });
  return {
    ...entry,
    at: iso(at),
    by: by ? nameOf(setup, by) : "the desk",
    differs: said.map(({ where, ...rest }) => ({ where: [...where], ...rest })),
  };
}

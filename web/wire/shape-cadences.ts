import { zoneOfLead } from "../../core/cadence/when.ts";
import { type PreviewTouch, previewCadence } from "../../core/desk/preview.ts";
import { called } from "../../core/lead/called.ts";
import { catalogue } from "../../core/lead/fields.ts";
import type { Lead } from "../../core/lead/lead.ts";
import { BELLS } from "../../core/policy/bell-names.ts";
import { type Cadence, type CadencePlan, planOf, planOfVersion } from "../../core/policy/cadence.ts";
import type { Setup } from "../../core/policy/setup.ts";
import { closeReasons, stagesOf } from "../../core/policy/stages.ts";
import { planProblem } from "../../core/setup/change-cadences.ts";
import { wilsonDifference } from "../../core/statistics/wilson.ts";
import { spansOn } from "../../core/time/calendar.ts";
import { endOfDay, startOfDay } from "../../core/time/defer.ts";
import { bothTimes, localDate } from "../../core/time/words.ts";
import type { Desk } from "../../server/desk.ts";
import type { RoundItem, Rounds } from "../../server/rounds/rounds.ts";
import type * as wire from "./cadence-schemas.ts";
import { iso, isoOrNull, touchSaid } from "./shape.ts";

const plain = <T>(value: unknown) => structuredClone(value) as T;
/** A plan as it was sent; what is null there is left out here. */
export function planFrom({ then, ...plan }: wire.CadencePlan): CadencePlan {
  return { ...plan, ...(then && { then }) };
}

type Standing = ReturnType<Desk["cadences"]["standing"]>;

/** A cadence as it is worked on: its draft where it has one, else what is live. */
export function toCadence(
  desk: Desk,
  cadence: Cadence,
  standing: Standing = desk.cadences.standing(),
): wire.Cadence {
  const { setup } = desk;
  const { id, version, live, draft, off, publishedAt } = cadence;
  const own = standing.filter((s) => s.cadenceId === id);
  const places = new Map<string, wire.Cadence["standing"][number]>();
  for (const { version, n, state, leads } of own) {
    const place = places.get(`${version}.${n}`) ?? { version, n, running: 0, paused: 0 };
    if (state === "paused") place.paused += leads;
    else place.running += leads;
    places.set(`${version}.${n}`, place);
  }
  const shown = (draft ?? live)!;
  return {
    ...plain<wire.CadencePlan>(shown),
    id,
    version,
    state: live === null ? "draft" : off ? "off" : "live",
    drafted: draft !== null,
    live: live && plain<wire.CadencePlan>(live),
    publishedAt: isoOrNull(publishedAt),
    problem: draft && planProblem(setup, id, draft),
    in: own.reduce((sum, s) => sum + s.leads, 0),
    standing: [...places.values()].sort((a, b) => b.version - a.version || a.n - b.n),
    upgradable: own.some((s) => s.version !== version) ? desk.cadences.upgradable(id).length : 0,
  };
}

export function toCadences(desk: Desk): wire.Cadences {
  const { setup } = desk;
  const { policies, people, groups } = setup;
  const standing = desk.cadences.standing();
  return {
    cadences: policies.cadences.map((c) => toCadence(desk, c, standing)),
    catalogue: plain(catalogue(setup)),
    templates: policies.templates.map(({ id, name, channel }) => ({ id, name, channel })),
    dates: [
      ...policies.fields
        .filter((f) => f.type === "date" || f.type === "birthday")
        .map((f) => ({ key: `own.${f.key}`, name: f.name })),
      { key: "customer-since", name: "the day they became a customer" },
    ],
    outcomes: policies.outcomes.map(({ key, name }) => ({ key, name })),
    people: people.filter((p) => !p.left).map(({ id, name }) => ({ id, name })),
    groups: groups.map(({ id, name }) => ({ id, name })),
    stages: stagesOf(policies, "lead").map(({ key, name }) => ({ key, name })),
    closeReasons: [...closeReasons(policies)],
    zone: policies.desk.zone,
    perDay: policies.restraint.perDay,
  };
}

const DAY = 86_400_000;
/** So many days of the strip are drawn. */
const MOST_DAYS = 400;

/** What a cadence would do, with the days it falls on. */
export function toPreview(
  desk: Desk,
  id: string,
  plan: CadencePlan,
  startAt: number,
  lead: Lead | null,
): wire.PreviewOfCadence {
  const { setup } = desk;
  const { zone } = setup.policies.desk;
  const { touches, warnings } = previewCadence(setup, id, plan, startAt, lead);
  const theirs = lead ? zoneOfLead(lead, setup) : zone;
  const last = touches.at(-1)?.at ?? startAt;
  return {
    startAt: iso(startAt),
    zone,
    touches: touches.map((t: PreviewTouch) => ({
      ...t,
      at: iso(t.at),
      when: bothTimes(t.at, theirs, zone, startAt),
    })),
    warnings: [...warnings],
    days: daysBetween(setup, startAt, last),
    quiet: { ...setup.policies.restraint.allowed },
  };
}

function daysBetween(setup: Setup, from: number, to: number): wire.PreviewOfCadence["days"] {
  const { desk } = setup.policies;
  const days: wire.PreviewOfCadence["days"] = [];
  for (let at = startOfDay(from, desk.zone); at <= to && days.length < MOST_DAYS; ) {
    const next = endOfDay(at, desk.zone);
    const date = localDate(at, desk.zone);
    const weekday = new Date(`${date}T12:00:00Z`).getUTCDay();
    days.push({
      date,
      begins: iso(at),
      ends: iso(next),
      open: spansOn(desk, date).length > 0,
      weekend: weekday === 0 || weekday === 6,
      holiday: desk.exceptions?.[date]?.name ?? null,
      clock: next - at < DAY ? "forward" : next - at > DAY ? "back" : null,
    });
    at = next;
  }
  return days;
}

export function toFigures(desk: Desk, cadence: Cadence): wire.CadenceFigures {
  const versions = desk.cadences.figures(cadence.id).map(({ touches, ...version }) => {
    const plan = planOfVersion(cadence, version.version);
    return {
      ...version,
      stopped: { ...version.stopped } as Record<string, number>,
      replies: version.replies.map((p) => ({ ...p })),
      touches: touches.map(({ replied, reached, booked, won, ...touch }) => ({
        ...touch,
        kind: plan?.touches[touch.n - 1]?.kind ?? null,
        said: touchSaid(plan?.touches[touch.n - 1], desk.setup),
        replied: replied.n,
        reached: reached.n,
        booked: booked.n,
        won: won.n,
        shares: { replied, reached, booked, won },
      })),
    };
  });
  const [newest, before] = versions;
  const of = (v: (typeof versions)[number]) => ({ hits: v.replied.n, all: v.began });
  return {
    name: planOf(cadence).name,
    versions,
    against:
      newest && before
        ? { versions: [newest.version, before.version], ...wilsonDifference(of(newest), of(before)) }
        : null,
  };
}

const REASONS: Readonly<Record<RoundItem["band"], (lead: Lead, setup: Setup) => string>> = {
  answer: (lead) =>
    lead.callBack !== null
      ? "call back"
      : lead.replyWaiting !== null
        ? "they wrote"
        : "new, nobody has called",
  rung: (lead) => {
    const other = lead.others.find((b) => b.state === "rung");
    if (lead.bell?.state === "rung") return "nobody has called";
    return other ? BELLS[other.kind].name.toLowerCase() : (lead.listed?.reason ?? "it rang");
  },
  try: (lead) => lead.nextStep?.note ?? "try again",
  due: (lead) => lead.nextStep?.note ?? lead.tasks[0]?.note ?? "due today",
};

export function toRounds(desk: Desk, rounds: Rounds, day: wire.Rounds["day"], personId: string): wire.Rounds {
  return {
    items: rounds.items.map(({ lead, band, dueAt, with: other, skipped }) => ({
      leadId: lead.id,
      band,
      reason:
        band === "due" && !lead.nextStep
          ? (lead.tasks.find((t) => t.to.includes(personId))?.note ?? "due today")
          : REASONS[band](lead, desk.setup),
      dueAt: iso(Math.max(0, dueAt)),
      name: called(lead),
      with: other,
      skipped,
    })),
    done: rounds.done,
    left: rounds.left,
    takesMinutes: Math.round(rounds.takes / 60_000),
    day,
  };
}

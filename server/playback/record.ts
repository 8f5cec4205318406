import type { Actor } from "../../core/lead/event.ts";
import type { LeadEvent } from "../../core/lead/events.ts";
import { Playback, TELL_NOTHING } from "../../core/playback/playback.ts";
import type { PlaybackResult } from "../../core/playback/tally.ts";
import { withDefaults } from "../../core/policy/defaults.ts";
import type { RuleSet } from "../../core/policy/routing.ts";
import type { Setup } from "../../core/policy/setup.ts";
import type { MessageWay } from "../../core/vocabulary.ts";
import { Sql } from "../db/sql.ts";
import { keptSetup, readSetup, withDuty } from "../setup/kept-setup.ts";

/** What a playback is asked to do, and where the record of what happened is. */
export interface PlaybackJob {
  readonly path: string;
  readonly rules: RuleSet;
  /** Epoch ms, end exclusive. */
  readonly from: number;
  readonly to: number;
  /** People, hours and groups as they were at each moment, or as they are now. */
  readonly roster: "then" | "now";
  /** Ways out that are not set up. */
  readonly unset?: readonly MessageWay[];
}

/** How many events are read between two reports of how far it has come. */
const REPORT = 5_000;

/** Play the record of a desk through other rules, on a connection of its own. */
export async function runPlayback(
  { path, rules, from, to, roster, unset }: PlaybackJob,
  moved: (done: number, total: number) => void,
): Promise<PlaybackResult> {
  const sql = await Sql.open(path);
  try {
    const setupAt = roster === "now" ? always(keptSetup(sql)!) : setupsThen(sql);
    const playback = new Playback({ rules, from, to, setupAt, ...(unset && { unset: new Set(unset) }) });
    const { q } = sql;
    const told = q.selectFrom("events").where("at", "<", to).where("kind", "not in", TELL_NOTHING);
    // How far it is, by the events' numbers: counting those that tell something would read the whole record twice.
    const total = Number(sql.get(q.selectFrom("events").select((eb) => eb.fn.max("n").as("n")))?.n ?? 0);
    const rows = told
      .select(["n", "leadId", "seq", "actId", "at", "actorJson", "kind", "dataJson"])
      .orderBy("n");
    let act: LeadEvent[] = [];
    const finish = () => {
      if (act.length > 0) playback.feed({ leadId: act[0]!.leadId, at: act[0]!.at, events: act });
      act = [];
    };
    let done = 0;
    const actors = new Map<string, Actor>();
    for (const row of sql.iterate(rows)) {
      if (act.length > 0 && act[0]!.actId !== row.actId) finish();
      let actor = actors.get(row.actorJson);
      if (!actor) {
        actor = JSON.parse(row.actorJson) as Actor;
        actors.set(row.actorJson, actor);
      }
      const { n, actorJson: _, dataJson, ...rest } = row;
      act.push({ ...rest, id: "", actor, data: JSON.parse(dataJson) } as LeadEvent);
      if (++done % REPORT === 0) moved(n, total);
    }
    finish();
    return playback.tally.result();
  } finally {
    sql.close();
  }
}

const always = (setup: Setup) => () => setup;

/** The setup in force at a time, with whoever was off duty by hand then. Asked for in the order of time. */
function setupsThen(sql: Sql): (at: number) => Setup {
  const kept = sql
    .all(sql.q.selectFrom("setup").select(["at", "setupJson"]).orderBy("version"))
    .flatMap((row) => (readSetup(row.setupJson) ? { at: row.at, setup: row.setupJson } : []));
  const duty = sql.all(sql.q.selectFrom("duty").select(["personId", "at", "off", "until"]).orderBy("n"));
  const off = new Map<string, number | null>();
  let version = 0;
  let switched = 0;
  let base = withDefaults(JSON.parse(kept[0]!.setup) as Setup);
  let current = base;
  return (at) => {
    const stale = { version, switched };
    while (kept[version + 1] && kept[version + 1]!.at <= at) version++;
    while (duty[switched] && duty[switched]!.at <= at) {
      const { personId, off: isOff, until } = duty[switched]!;
      if (isOff === 1) off.set(personId, until);
      else off.delete(personId);
      switched++;
    }
    if (version !== stale.version) base = withDefaults(JSON.parse(kept[version]!.setup) as Setup);
    if (version !== stale.version || switched !== stale.switched) current = withDuty(base, off);
    return current;
  };
}

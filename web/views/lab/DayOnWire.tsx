import { useEffect, useMemo, useState } from "react";
import { hangingAt } from "../../../core/lab/day.ts";
import { dayTime } from "../../../core/time/words.ts";
import { useNow } from "../../live/clock.ts";
import { useQueue } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import type { LabResult } from "../../wire/lab-schemas.ts";
import { type Kite, WireDrawing } from "../desk/Wire.tsx";
import styles from "./Lab.module.css";

type Day = NonNullable<LabResult["days"]["a"]>;

const MINUTE = 60_000;
/** Of the day, each step of playing (ms), and how long a step is looked at (ms). */
const STEP = 2 * MINUTE;
const LOOKED_AT = 120;

/** The moment at which most hang on both wires together with an hour or less to their bell, or past it. */
function fullest({ a, b }: { readonly a: Day; readonly b: Day }, from: number, to: number): number {
  let [best, most] = [from, 0];
  for (let at = from; at < to; at += 5 * MINUTE) {
    // Moments of one form sort as they follow each other.
    const now = new Date(at).toISOString();
    const soon = new Date(at + 60 * MINUTE).toISOString();
    const hang = [...a.leads, ...b.leads].filter(({ states }) => {
      const due = states.findLast((s) => s.at <= now)?.dueAt;
      return due && due <= soon;
    }).length;
    if (hang > most) [best, most] = [at, hang];
  }
  return best;
}

/** A simulated day of both sides, as it would have hung on the wire. */
export function DayOnWire({ days }: { readonly days: { readonly a: Day; readonly b: Day } }) {
  const { data: queue } = useQueue();
  const now = useNow();
  const from = Date.parse(days.a.from);
  const to = Date.parse(days.a.to);
  const [at, setAt] = useState(() => fullest(days, from, to));
  const [plays, setPlays] = useState(false);
  const [chosen, setChosen] = useState<string | null>(null);
  useEffect(() => {
    if (!plays) return;
    const timer = setInterval(() => setAt((before) => Math.min(to, before + STEP)), LOOKED_AT);
    return () => clearInterval(timer);
  }, [plays, to]);
  const over = at >= to;
  useEffect(() => {
    if (over) setPlays(false);
  }, [over]);
  const zone = queue?.zone ?? "UTC";
  return (
    <section aria-label="A day on the wire">
      <h3>A day on the wire</h3>
      <p className={styles.quiet}>
        The busiest day of the first run: the leads that came on it, as they hang with either side. The same
        people come at the same moments.
      </p>
      <p className={styles.clock}>
        <Button
          onClick={() => {
            if (over) setAt(from);
            setPlays(!plays);
          }}
        >
          {plays ? "Stop" : "Play"}
        </Button>
        <label>
          <span>{dayTime(at, zone, now)}</span>
          <input
            type="range"
            aria-label="Time of the day"
            aria-valuetext={dayTime(at, zone, now)}
            min={from}
            max={to}
            step={MINUTE}
            value={at}
            onChange={(e) => setAt(Number(e.target.value))}
          />
        </label>
      </p>
      {(["a", "b"] as const).map((side) => (
        <div key={side} className={styles.wireOf}>
          <i className={styles[side]}>{side.toUpperCase()}</i>
          <SideOfDay side={side} day={days[side]} at={at} chosen={chosen} onChoose={setChosen} />
        </div>
      ))}
    </section>
  );
}

function SideOfDay({
  side,
  day,
  at,
  chosen,
  onChoose,
}: {
  readonly side: "a" | "b";
  readonly day: Day;
  readonly at: number;
  readonly chosen: string | null;
  readonly onChoose: (id: string) => void;
}) {
  const leads = useMemo(
    () =>
      day.leads.map(({ id, name, states }) => ({
        id,
        name,
        states: states.map((s) => ({
          ...s,
          at: Date.parse(s.at),
          dueAt: s.dueAt === null ? null : Date.parse(s.dueAt),
        })),
      })),
    [day],
  );
  const kites = leads.flatMap(({ id, name, states }): Kite[] => {
    const hangs = hangingAt(states, at);
    if (!hangs || hangs.dueAt === null) return [];
    const { ownerId, rung, tries, dueAt } = hangs;
    const holder = ownerId ? "taken" : "nobody has it";
    return [{ id, name, called: name, holder, taken: ownerId !== null, rung, tries, left: dueAt - at }];
  });
  const rung = kites.filter((k) => k.rung).length;
  return (
    <WireDrawing
      label={`The wire with ${side.toUpperCase()}`}
      kites={kites}
      waiting={kites.length - rung}
      rung={rung}
      chosen={chosen}
      onChoose={onChoose}
    />
  );
}

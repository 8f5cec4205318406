import { useId, useState } from "react";
import { startOfDay } from "../../../../core/time/defer.ts";
import { clockTime, dayTime, duration, localDate, weekdayName } from "../../../../core/time/words.ts";
import { useDrawnWeek, useHours } from "../../../live/bells-queries.ts";
import { Choice } from "../../../ui/Choice.tsx";
import type { Target } from "../../../wire/bells-schemas.ts";
import setup from "../Setup.module.css";
import styles from "./Bells.module.css";
import { minutesSaid } from "./bell-words.ts";

const DAY = 86_400_000;
const SHOWN = 7;

/** A week of desk hours. An inquiry is dragged along it, and its bell shows when it would ring. */
export function WeekStrip({
  targets,
  places,
}: {
  readonly targets: readonly Target[];
  /** Zones in which leads are. */
  readonly places: readonly string[];
}) {
  const { data: hours } = useHours();
  const [targetId, setTargetId] = useState("");
  const [moved, setMoved] = useState<number | null>(null);
  const id = useId();
  const [zone, setZone] = useState("");
  const target = targets.find((t) => t.id === targetId) ?? targets.find((t) => !t.about) ?? targets[0];
  const { data: week } = useDrawnWeek(target, zone);
  if (!hours || !target || !week) return null;
  const now = Date.parse(hours.now);
  const from = Date.parse(week.from);
  const to = from + (week.rings.length - 1) * week.step;
  const at = moved ?? now;
  const ms = target.minutes * 60_000;
  const rings = week.rings[Math.round((at - from) / week.step)] ?? at + ms;
  const place = (time: number) => `${Math.min(100, Math.max(0, ((time - from) / (to - from)) * 100))}%`;
  const said = (time: number) => dayTime(time, hours.zone, now);
  const days = Array.from({ length: SHOWN }, (_, i) => startOfDay(from + i * DAY + DAY / 2, hours.zone));
  return (
    <section className={styles.strip} aria-label="When would it ring?">
      <div className={setup.row}>
        <Choice
          label="When would it ring, by"
          value={target.id}
          options={targets
            .filter((t) => !t.off)
            .map((t) => ({ value: t.id, label: `${t.name} (${minutesSaid(t)})` }))}
          onChange={setTargetId}
        />
        {target.zone === "lead" && (
          <Choice
            label="For a lead in"
            value={zone}
            options={[
              { value: "", label: "a place not known: the desk’s hours" },
              ...places.map((p) => ({ value: p, label: p.replace(/_/g, " ") })),
            ]}
            onChange={setZone}
          />
        )}
        <output className={styles.answer} htmlFor={id}>
          {target.about ? "Begins" : "Comes in"} <b>{said(at)}</b>, rings <b>{said(rings)}</b>
          {rings - at > ms + week.step && `, ${duration(rings - at)} later by the wall clock`}
        </output>
      </div>
      <div className={styles.band}>
        {hours.open.map((span) => (
          <i
            key={span.from}
            className={styles.open}
            style={{
              left: place(Date.parse(span.from)),
              right: `calc(100% - ${place(Date.parse(span.to))})`,
            }}
            title={`Open ${clockTime(Date.parse(span.from), hours.zone)} to ${clockTime(Date.parse(span.to), hours.zone)}`}
          />
        ))}
        {days.map((day) => (
          <span key={day} className={styles.day} style={{ left: place(day) }}>
            {weekdayName(day + DAY / 2, hours.zone).slice(0, 3)}{" "}
            {Number(localDate(day + DAY / 2, hours.zone).slice(8))}
            {hours.exceptions[localDate(day + DAY / 2, hours.zone)] && (
              <em> {hours.exceptions[localDate(day + DAY / 2, hours.zone)]?.name}</em>
            )}
          </span>
        ))}
        <i className={styles.wait} style={{ left: place(at), right: `calc(100% - ${place(rings)})` }} />
        <i className={styles.rings} style={{ left: place(rings) }} data-beyond={rings > to} />
        <label htmlFor={id} className={styles.hidden}>
          When it comes in: drag it along the week, or use the arrow keys
        </label>
        <input
          id={id}
          type="range"
          min={from}
          max={to}
          step={week.step}
          value={at}
          aria-valuetext={`${said(at)}, rings ${said(rings)}`}
          onChange={(e) => setMoved(Number(e.target.value))}
        />
      </div>
    </section>
  );
}

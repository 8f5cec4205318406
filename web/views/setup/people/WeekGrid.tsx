import { useState } from "react";
import { clockTime } from "../../../../core/time/words.ts";
import { useWeek } from "../../../live/routing-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import type { PeopleSetup, Week } from "../../../wire/routing-schemas.ts";
import setup from "../Setup.module.css";
import styles from "./People.module.css";

const WEEK = 7 * 86_400_000;
const DAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];

interface Props {
  readonly people: PeopleSetup["people"];
  readonly onOpen: (id: string) => void;
}

/** A week from today: who is on duty when, who is away and who covers, and desk hours nobody fills. */
export function WeekGrid({ people, onOpen }: Props) {
  const [from, setFrom] = useState<string | null>(null);
  const { data: week } = useWeek(from);
  if (!week) return <p className={setup.quiet}>Looking …</p>;
  const start = Date.parse(week.from);
  const end = Date.parse(week.to);
  const at = (time: string) => `${((Date.parse(time) - start) / (end - start)) * 100}%`;
  const wide = (span: { from: string; to: string }) =>
    `${((Date.parse(span.to) - Date.parse(span.from)) / (end - start)) * 100}%`;
  const clock = (time: string) => clockTime(Date.parse(time), week.zone);
  const now = Date.parse(week.now);
  const move = (by: number) => setFrom(new Date(start + by + 12 * 3_600_000).toISOString());
  return (
    <section aria-label="Who is on duty when">
      <div className={setup.row}>
        <Button onClick={() => move(-WEEK)}>Week before</Button>
        <Button disabled={from === null} onClick={() => setFrom(null)}>
          From today
        </Button>
        <Button onClick={() => move(WEEK)}>Week after</Button>
        <span className={setup.quiet}>Desk time. Pale bands are the hours the desk is open.</span>
      </div>
      <div className={styles.scroll}>
        <div className={styles.week}>
          <div className={styles.head}>
            <span />
            <div className={styles.days}>
              {week.days.map((d) => (
                <span key={d.date} style={{ left: at(d.from), width: wide(d) }}>
                  {dayName(d.date)} {Number(d.date.slice(8))}
                </span>
              ))}
            </div>
          </div>
          {week.people.map((row) => {
            const person = people.find((p) => p.id === row.id);
            return (
              <div key={row.id} className={styles.line}>
                <button type="button" className={styles.name} onClick={() => onOpen(row.id)}>
                  {person?.name ?? row.id}
                </button>
                <div className={styles.track}>
                  <Bands week={week} at={at} wide={wide} />
                  {row.spans.map((s) => (
                    <i
                      key={s.from}
                      className={styles.there}
                      style={{ left: at(s.from), width: wide(s) }}
                      title={`${person?.name}: ${clock(s.from)} to ${clock(s.to)}`}
                    />
                  ))}
                  {row.away.map((a) => (
                    <i
                      key={a.from}
                      className={styles.away}
                      style={{ left: at(a.from), width: wide(a) }}
                      title={`${a.reason}${a.cover ? `; ${a.cover} covers` : "; nobody covers"}`}
                    >
                      <span>
                        {a.reason}
                        {a.cover && `; ${a.cover} covers`}
                      </span>
                    </i>
                  ))}
                  {now >= start && now < end && <i className={styles.now} style={{ left: at(week.now) }} />}
                </div>
              </div>
            );
          })}
          {week.holes.map((hole) => (
            <div key={hole.name} className={styles.line}>
              <span className={styles.hole}>▲ {hole.groupId ? `Nobody in ${hole.name}` : hole.name}</span>
              <div className={styles.track}>
                <Bands week={week} at={at} wide={wide} />
                {hole.spans.map((s) => (
                  <i
                    key={s.from}
                    className={styles.gap}
                    style={{ left: at(s.from), width: wide(s) }}
                    title={`${hole.name}: ${clock(s.from)} to ${clock(s.to)}`}
                  />
                ))}
              </div>
            </div>
          ))}
        </div>
      </div>
      {week.holes.length === 0 && (
        <p className={setup.quiet}>Every desk hour of this week is filled in every group.</p>
      )}
    </section>
  );
}

const dayName = (date: string) => DAYS[(new Date(`${date}T12:00:00Z`).getUTCDay() + 6) % 7];

interface BandsProps {
  readonly week: Week;
  readonly at: (time: string) => string;
  readonly wide: (span: { from: string; to: string }) => string;
}

function Bands({ week, at, wide }: BandsProps) {
  return (
    <>
      {week.desk.map((s) => (
        <i key={s.from} className={styles.desk} style={{ left: at(s.from), width: wide(s) }} />
      ))}
      {week.days.slice(1).map((d) => (
        <i key={d.date} className={styles.midnight} style={{ left: at(d.from) }} />
      ))}
    </>
  );
}

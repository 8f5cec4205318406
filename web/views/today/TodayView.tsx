import type { Condition } from "../../../core/condition/tree.ts";
import { duration, sayDay } from "../../../core/time/words.ts";
import { App } from "../../frame/App.tsx";
import { useInAddress } from "../../live/address.ts";
import { useNow } from "../../live/clock.ts";
import { useToday } from "../../live/list-queries.ts";
import { useMe, useQueue } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Hours } from "../../ui/Chart.tsx";
import { Empty } from "../../ui/Empty.tsx";
import type { Today } from "../../wire/list-schemas.ts";
import { Days } from "./Days.tsx";
import { MyDay } from "./MyDay.tsx";
import styles from "./Today.module.css";

/** The day so far, in figures that lead to their leads; any day before; and the same for the wall. */
export function TodayView() {
  const [wall, setWall] = useInAddress("wall");
  return (
    <App view="Today" bare={wall !== null}>
      <Whole wall={wall !== null} onWall={setWall} />
    </App>
  );
}

function Whole({ wall, onWall }: { readonly wall: boolean; readonly onWall: (wall: string | null) => void }) {
  const { data: me } = useMe();
  const [date, setDate] = useInAddress("date");
  const isAll = me?.rights.includes("leads.all") ?? false;
  if (!me) return <p className={styles.loading}>Counting the day …</p>;
  if (wall && isAll) return <Wall onLeave={() => onWall(null)} />;
  return (
    <main className={styles.page}>
      {isAll && <Desk date={date} onDate={setDate} onWall={() => onWall("1")} />}
      <MyDay date={date} {...(!isAll && { onDate: setDate })} />
    </main>
  );
}

const at = (state: string): Condition => ({ field: "state", is: "equal", value: state });
/** The leads a figure counts, as a filter of Leads. */
const leadsOf = (where: Condition) => `/leads?where=${encodeURIComponent(JSON.stringify(where))}`;

interface Figure {
  readonly name: string;
  readonly value: number | null;
  readonly more?: string;
  readonly href?: string;
  readonly alarm?: boolean;
}

function figuresOf(day: Today): readonly Figure[] {
  const share =
    day.targets > 0
      ? `of ${day.targets}, ${Math.round((100 * day.inTarget) / day.targets)} %`
      : "none was due";
  const usual = day.usual.reduce((sum, n) => sum + n, 0);
  return [
    {
      name: "to zero",
      value: day.dueLeft,
      more: "to be done today",
      href: "/rounds",
    },
    { name: "to answer", value: day.waiting, href: leadsOf(at("answer")) },
    { name: "rung", value: day.rung, href: leadsOf(at("rung")), alarm: (day.rung ?? 0) > 0 },
    {
      name: "replies waiting",
      value: day.repliesWaiting,
      href: "/",
    },
    {
      name: "came in",
      value: day.cameIn,
      more: usual > 0 ? `usually ${Math.round(usual)} all day` : "",
      ...(day.live && { href: leadsOf({ field: "first-came", is: "from", value: day.date }) }),
    },
    { name: "tried in time", value: day.inTarget, more: share },
    { name: "rang", value: day.rang },
    { name: "tries", value: day.tries },
    { name: "talked with", value: day.reached },
    { name: "offers lapsed", value: day.lapsed },
  ];
}

function Desk({
  date,
  onDate,
  onWall,
}: {
  readonly date: string | null;
  readonly onDate: (date: string | null) => void;
  readonly onWall: () => void;
}) {
  const { data: day, error } = useToday(date);
  const { data: queue } = useQueue();
  const now = useNow();
  if (error && !day)
    return (
      <Empty title="The day can’t be told">
        <p>{error.message}</p>
        <Button onClick={() => onDate(null)}>Today</Button>
      </Empty>
    );
  if (!day || !queue) return <p className={styles.loading}>Counting the day …</p>;
  return (
    <>
      <header className={styles.head}>
        <h1>{day.live ? "Today" : sayDay(day.date, queue.zone, now)}</h1>
        <Days day={day} onDate={onDate} />
        {day.live && (
          <Button hint="Large, for a second screen" onClick={onWall}>
            For the wall
          </Button>
        )}
      </header>
      <ul className={styles.figures}>
        {figuresOf(day)
          .filter((f) => f.value !== null)
          .map((figure) => (
            <li key={figure.name} data-alarm={figure.alarm || undefined}>
              {figure.href && day.live ? (
                <a href={figure.href}>
                  <Told figure={figure} />
                </a>
              ) : (
                <Told figure={figure} />
              )}
            </li>
          ))}
      </ul>
      <div className={styles.two}>
        <section aria-label="By hour">
          <Hours
            label={`Inquiries by hour: ${day.byHour
              .flatMap((n, hour) => (n > 0 ? `${n} at ${hour}` : []))
              .join(", ")}`}
            came={day.byHour}
            usual={day.usual}
          />
        </section>
        <People day={day} now={now} />
      </div>
    </>
  );
}

function Told({ figure: { name, value, more } }: { readonly figure: Figure }) {
  return (
    <>
      <b>{value!.toLocaleString("en")}</b>
      <span>{name}</span>
      {more && <small>{more}</small>}
    </>
  );
}

/** Whole minutes, one at least (ms). */
const inMinutes = (ms: number) => Math.max(1, Math.round(ms / 60_000)) * 60_000;

function People({ day, now }: { readonly day: Today; readonly now: number }) {
  const people = [...day.people].sort(
    (a, b) => (b.behind ?? 0) - (a.behind ?? 0) || b.tries - a.tries || a.name.localeCompare(b.name),
  );
  return (
    <div className={styles.wide}>
      <table className={styles.people}>
        <thead>
          <tr>
            <th scope="col">Who</th>
            {day.live && (
              <>
                <th scope="col">Behind</th>
                <th scope="col">Has</th>
                <th scope="col">Oldest untried</th>
              </>
            )}
            <th scope="col">Took</th>
            <th scope="col">Tries</th>
            <th scope="col">Talked with</th>
          </tr>
        </thead>
        <tbody>
          {people.map((p) => (
            <tr key={p.id}>
              <th scope="row">
                {p.name} {day.live && !p.onDuty && <small>off duty</small>}
              </th>
              {day.live && (
                <>
                  <td data-alarm={(p.behind ?? 0) > 0 || undefined}>{p.behind}</td>
                  <td>
                    {p.has ? (
                      <a href={leadsOf({ field: "owner", is: "equal", value: p.id })}>{p.has}</a>
                    ) : (
                      p.has
                    )}
                  </td>
                  <td>{p.oldestUntried ? duration(inMinutes(now - Date.parse(p.oldestUntried))) : ""}</td>
                </>
              )}
              <td>{p.taken}</td>
              <td>{p.tries}</td>
              <td>{p.reached}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** The few figures a room looks up to, readable from three metres; nothing to press but the way back. */
function Wall({ onLeave }: { readonly onLeave: () => void }) {
  const { data: day } = useToday(null);
  const { data: queue } = useQueue();
  const now = useNow();
  if (!day || !queue) return <p className={styles.loading}>Counting the day …</p>;
  const on = ["to answer", "rung", "to zero", "came in", "tried in time", "talked with"];
  const figures = on.flatMap((name) => figuresOf(day).find((f) => f.name === name) ?? []);
  return (
    <main className={styles.wall} aria-label="The day, for the wall">
      <h1>
        {new Intl.DateTimeFormat("en-GB", {
          hour: "2-digit",
          minute: "2-digit",
          timeZone: queue.zone,
        }).format(now)}
      </h1>
      <ul>
        {figures.map((figure) => (
          <li key={figure.name} data-alarm={figure.alarm || undefined}>
            <Told figure={figure} />
          </li>
        ))}
      </ul>
      <Button look="bare" onClick={onLeave}>
        Back
      </Button>
    </main>
  );
}

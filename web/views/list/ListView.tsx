import { useState } from "react";
import { called } from "../../../core/lead/called.ts";
import { dayTime, duration } from "../../../core/time/words.ts";
import { App } from "../../frame/App.tsx";
import { useManagersList, useMorning } from "../../live/bells-queries.ts";
import { useNow } from "../../live/clock.ts";
import { useMe, usePeople } from "../../live/queries.ts";
import { useChange } from "../../live/setup-queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Diamond } from "../../ui/Diamond.tsx";
import { Empty } from "../../ui/Empty.tsx";
import type { ManagersList, MorningSummary } from "../../wire/bells-schemas.ts";
import { standing } from "../desk/words.ts";
import styles from "./List.module.css";
import { ManyBar } from "./ManyBar.tsx";

/** What a manager sees to: what rang, what nobody took, what is stuck; one or many at once. */
export function ListView() {
  return (
    <App view="The list">
      <List />
    </App>
  );
}

/** What a part is for, when it is empty. */
const EMPTY: Readonly<Record<string, string>> = {
  rung: "Nothing has rung.",
  passed: "Everything found somebody.",
  nobody: "Nothing waits for the morning.",
  stuck: "Nothing is stuck.",
  stalled: "Every lead is tried as planned.",
  look: "No parked lead is due for a look.",
};

function List() {
  const { data, error } = useManagersList();
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set());
  if (error)
    return (
      <Empty title="The list can’t be shown">
        <p>{error.message}</p>
      </Empty>
    );
  if (!data) return <p className={styles.quiet}>Looking …</p>;
  const all = data.parts.flatMap((p) => p.items.map((i) => i.lead.id));
  const chosen = all.filter((id) => picked.has(id));
  const toggle = (ids: readonly string[], on: boolean) => {
    const next = new Set(picked);
    for (const id of ids) on ? next.add(id) : next.delete(id);
    setPicked(next);
  };
  return (
    <main className={styles.view}>
      <div className={styles.main}>
        <div className={styles.top}>
          <h1>The manager’s list</h1>
          <span className={styles.quiet}>
            {all.length === 0
              ? "Nothing needs you."
              : `${all.length} ${all.length === 1 ? "lead needs" : "leads need"} somebody.`}
          </span>
        </div>
        {data.parts
          .filter(({ items }) => items.length > 0)
          .map((part) => (
            <Part key={part.part} part={part} zone={data.zone} picked={picked} onPick={toggle} />
          ))}
        <p className={`${styles.quiet} ${styles.rest}`}>
          {data.parts
            .filter(({ items }) => items.length === 0)
            .map(({ part }) => EMPTY[part])
            .join(" ")}
        </p>
        <ManyBar
          chosen={chosen}
          zone={data.zone}
          acts={["cover", "give", "excuse", "park", "close"]}
          onDone={() => setPicked(new Set())}
        />
      </div>
      <aside className={styles.side}>
        <Morning />
        <People people={data.people} />
        <Ages ages={data.ages} />
      </aside>
    </main>
  );
}

interface PartProps {
  readonly part: ManagersList["parts"][number];
  readonly zone: string;
  readonly picked: ReadonlySet<string>;
  readonly onPick: (ids: readonly string[], on: boolean) => void;
}

function Part({ part, zone, picked, onPick }: PartProps) {
  const now = useNow();
  const { data: people = [] } = usePeople();
  const ids = part.items.map((i) => i.lead.id);
  const every = ids.every((id) => picked.has(id));
  return (
    <section aria-label={part.name} className={styles.part}>
      <h2>
        <input
          type="checkbox"
          className={styles.tick}
          aria-label={`All of ${part.name}`}
          checked={every}
          onChange={(e) => onPick(ids, e.target.checked)}
        />
        {part.name} <small>{ids.length}</small>
      </h2>
      <ul>
        {part.items.map(({ lead, why, since }) => (
          <li key={lead.id} className={styles.row} data-picked={picked.has(lead.id)}>
            <input
              type="checkbox"
              className={styles.tick}
              aria-label={called(lead)}
              checked={picked.has(lead.id)}
              onChange={(e) => onPick([lead.id], e.target.checked)}
            />
            <Diamond
              name={lead.name}
              filled={lead.ownerId !== null}
              tone={part.part === "rung" ? "ember" : "brass"}
            />
            <span className={styles.who}>
              <a data-row href={`/?lead=${lead.id}`}>
                {called(lead)}
              </a>{" "}
              {lead.product}
              <span>{why}</span>
            </span>
            <span className={styles.has}>
              {standing(lead, people, now)}
              <small>
                {lead.lastTryAt
                  ? `tried ${duration(now - Date.parse(lead.lastTryAt))} ago`
                  : lead.tries === 0
                    ? "not tried yet"
                    : `${lead.tries} tries`}
              </small>
            </span>
            <span className={styles.since}>
              <b>{duration(Math.max(0, now - Date.parse(since)))}</b>
              <small>{dayTime(Date.parse(since), zone, now)}</small>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** How things stand this morning, as it is sent to managers when the desk opens. */
function Morning() {
  const { data } = useMorning();
  const { data: me } = useMe();
  const change = useChange();
  const send = useChange();
  if (!data) return null;
  const put = (part: Partial<MorningSummary>, said: string) => {
    const { on, ways } = { ...data, ...part };
    change.mutate({ call: "POST /morning", body: { on, ways }, said });
  };
  const may = me?.rights.includes("setup.change");
  return (
    <section aria-label="Morning summary" className={styles.morning}>
      <h2>Morning summary</h2>
      {data.parts.map(({ heading, lines, page }) => (
        <div key={heading}>
          <h3>{page && page !== "/list" ? <a href={page}>{heading}</a> : heading}</h3>
          <ul>
            {lines.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </div>
      ))}
      <div className={styles.sending}>
        {may && (
          <label>
            <input
              type="checkbox"
              className={styles.tick}
              checked={data.on}
              onChange={(e) =>
                put(
                  { on: e.target.checked },
                  e.target.checked
                    ? "Managers get it as the desk opens."
                    : "It is no longer sent on its own.",
                )
              }
            />
            Sent to managers as the desk opens
          </label>
        )}
        {may &&
          data.on &&
          (["email", "chat"] as const).map((way) => (
            <label key={way}>
              <input
                type="checkbox"
                className={styles.tick}
                checked={data.ways.includes(way)}
                onChange={(e) =>
                  put(
                    { ways: e.target.checked ? [...data.ways, way] : data.ways.filter((w) => w !== way) },
                    "Kept.",
                  )
                }
              />
              by {way}
            </label>
          ))}
        <Button
          look="bare"
          onClick={() =>
            send.mutate({
              call: "POST /morning/send",

              said: ({ sent }) =>
                sent === 0
                  ? "There is no manager to send it to."
                  : `Sent: ${sent} ${sent === 1 ? "message" : "messages"}.`,
            })
          }
        >
          Send it now
        </Button>
      </div>
    </section>
  );
}

function People({ people }: { readonly people: ManagersList["people"] }) {
  return (
    <section aria-label="By person">
      <h2>By person</h2>
      <table className={styles.table}>
        <thead>
          <tr>
            <th>Who</th>
            <th>open</th>
            <th>ringing</th>
            <th>stuck</th>
            <th>stopped</th>
          </tr>
        </thead>
        <tbody>
          {people.map((p) => (
            <tr key={p.id}>
              <td>
                {p.name}
                {!p.onDuty && <small> off duty</small>}
              </td>
              <td>{p.open}</td>
              <td className={p.rung > 0 ? styles.ember : undefined}>{p.rung}</td>
              <td>{p.stuck}</td>
              <td>{p.stalled}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Ages({ ages }: { readonly ages: ManagersList["ages"] }) {
  const most = Math.max(1, ...ages.map((a) => a.count));
  return (
    <section aria-label="Open, by age">
      <h2>Open, by age</h2>
      <dl className={styles.ages}>
        {ages.map(({ name, count }) => (
          <div key={name}>
            <dt>{name}</dt>
            <dd>
              <i style={{ width: `${(count / most) * 100}%` }} />
              {count}
            </dd>
          </div>
        ))}
      </dl>
    </section>
  );
}

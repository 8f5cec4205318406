import { useState } from "react";
import { called } from "../../../core/lead/called.ts";
import { dayTime } from "../../../core/time/words.ts";
import { App } from "../../frame/App.tsx";
import { type ParkedAsked, useParked } from "../../live/bells-queries.ts";
import { useNow } from "../../live/clock.ts";
import { useMe } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Empty } from "../../ui/Empty.tsx";
import { Field } from "../../ui/Field.tsx";
import type { ParkedRow } from "../../wire/bells-schemas.ts";
import { ManyBar } from "../list/ManyBar.tsx";
import styles from "../setup/Setup.module.css";
import own from "./Parked.module.css";

/** Leads that are set aside: why, what still happens on its own, and when somebody looks again. */
export function ParkedView() {
  return (
    <App view="Parked">
      <Parked />
    </App>
  );
}

const ANY: ParkedAsked = { text: "", reason: "", due: "", by: "look" };

function Parked() {
  const [asked, setAsked] = useState(ANY);
  const [marked, setMarked] = useState<ReadonlySet<string>>(new Set());
  const { data, error, hasNextPage, fetchNextPage } = useParked(asked);
  const { data: me } = useMe();
  if (error)
    return (
      <Empty title="Parked leads can’t be shown">
        <p>{error.message}</p>
      </Empty>
    );
  const [first] = data?.pages ?? [];
  if (!data || !first) return <p className={styles.quiet}>Looking …</p>;
  const items = data.pages.flatMap((page) => page.items);
  const chosen = items.filter(({ lead }) => marked.has(lead.id)).map(({ lead }) => lead.id);
  const put = (part: Partial<ParkedAsked>) => {
    setAsked({ ...asked, ...part });
    setMarked(new Set());
  };
  const mark = (ids: readonly string[], on: boolean) => {
    const next = new Set(marked);
    for (const id of ids) on ? next.add(id) : next.delete(id);
    setMarked(next);
  };
  return (
    <main className={`${styles.page} ${own.page}`}>
      <div className={styles.top}>
        <h1>Parked</h1>
        <span className={styles.quiet}>
          {first.found === first.total ? first.total : `${first.found} of ${first.total}`}{" "}
          {first.total === 1 ? "lead" : "leads"}.{" "}
          {me?.rights.includes("setup.read") && <a href="/setup/waking">What wakes them</a>}
        </span>
      </div>
      {first.total === 0 ? (
        <Empty title="Nobody is parked">
          <p>
            Park a lead that will not buy for a while with <kbd>V</kbd> on the desk. It comes back on its own
            as soon as they write, call, ask again, or open one of our links.
          </p>
        </Empty>
      ) : (
        <>
          <search className={own.asked}>
            <Field
              label="Who"
              placeholder="name, number, address"
              value={asked.text}
              onChange={(e) => put({ text: e.target.value })}
            />
            <Choice
              label="Why"
              value={asked.reason}
              options={[
                { value: "", label: "any reason" },
                ...first.reasons.map((reason) => ({ value: reason, label: reason })),
              ]}
              onChange={(reason) => put({ reason })}
            />
            <Choice
              label="Next look"
              value={asked.due}
              options={[
                { value: "", label: "any time" },
                { value: "true", label: "today or before" },
              ]}
              onChange={(due) => put({ due: due === "true" ? due : "" })}
            />
            <Choice
              label="First"
              value={asked.by}
              options={[
                { value: "look", label: "those to look at" },
                { value: "lately", label: "heard of lately" },
                { value: "longest", label: "silent the longest" },
              ]}
              onChange={(by) => put({ by: by as ParkedAsked["by"] })}
            />
          </search>
          {items.length === 0 ? (
            <Empty title="No parked lead like that">
              <Button onClick={() => put(ANY)}>Show all of them</Button>
            </Empty>
          ) : (
            <Rows items={items} zone={first.zone} marked={marked} onMark={mark} />
          )}
          {hasNextPage && (
            <p>
              <Button onClick={() => void fetchNextPage()}>Show more</Button>
            </p>
          )}
          <ManyBar
            chosen={chosen}
            zone={first.zone}
            acts={["wake", "give", "park", "close"]}
            onDone={() => setMarked(new Set())}
          />
        </>
      )}
    </main>
  );
}

interface RowsProps {
  readonly items: readonly ParkedRow[];
  readonly zone: string;
  readonly marked: ReadonlySet<string>;
  readonly onMark: (ids: readonly string[], on: boolean) => void;
}

function Rows({ items, zone, marked, onMark }: RowsProps) {
  const now = useNow();
  const when = (at: string | null) => (at ? dayTime(Date.parse(at), zone, now) : "–");
  const ids = items.map(({ lead }) => lead.id);
  const every = ids.every((id) => marked.has(id));
  return (
    <div className={styles.scroll}>
      <table className={`${styles.table} ${own.table}`}>
        <thead>
          <tr>
            <th>
              <input
                type="checkbox"
                aria-label="Mark all"
                checked={every}
                onChange={(e) => onMark(ids, e.target.checked)}
              />
            </th>
            <th>Who</th>
            <th>Why</th>
            <th>Since</th>
            <th>Cadence</th>
            <th>Next message</th>
            <th>Next look</th>
            <th>Previous owner</th>
          </tr>
        </thead>
        <tbody>
          {items.map((row) => (
            <tr key={row.lead.id}>
              <td>
                <input
                  type="checkbox"
                  aria-label={`Mark ${called(row.lead)}`}
                  checked={marked.has(row.lead.id)}
                  onChange={(e) => onMark([row.lead.id], e.target.checked)}
                />
              </td>
              <td data-name="Who">
                <a data-row href={`/?lead=${row.lead.id}`}>
                  {called(row.lead)}
                </a>
                <div className={styles.quiet}>{row.lead.product}</div>
              </td>
              <td data-name="Why">{row.reason}</td>
              <td data-name="Since">{when(row.since)}</td>
              <td data-name="Cadence">
                {row.plan ?? "none"}
                {row.sent > 0 && <div className={styles.quiet}>{row.sent} sent</div>}
                {row.calm.map((c) => (
                  <div key={c.rule} className={styles.quiet} title={c.rule}>
                    calm until {when(c.until)}
                  </div>
                ))}
              </td>
              <td data-name="Next message">{when(row.nextAt)}</td>
              <td data-name="Next look">{when(row.lookAt)}</td>
              <td data-name="Previous owner">{row.former ?? "nobody"}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

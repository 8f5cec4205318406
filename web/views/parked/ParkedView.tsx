import { useState } from "react";
import { called } from "../../../core/lead/called.ts";
import { dayTime } from "../../../core/time/words.ts";
import { App } from "../../frame/App.tsx";
import { useParked } from "../../live/bells-queries.ts";
import { useNow } from "../../live/clock.ts";
import { useMe } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Empty } from "../../ui/Empty.tsx";

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

function Parked() {
  const [cursors, setCursors] = useState<readonly (string | null)[]>([null]);
  const { data, error } = useParked(cursors.at(-1) ?? null);
  const { data: me } = useMe();
  const now = useNow();
  if (error)
    return (
      <Empty title="Parked leads can’t be shown">
        <p>{error.message}</p>
      </Empty>
    );
  if (!data) return <p className={styles.quiet}>Looking …</p>;
  const when = (at: string | null) => (at ? dayTime(Date.parse(at), data.zone, now) : "–");
  return (
    <main className={`${styles.page} ${own.page}`}>
      <div className={styles.top}>
        <h1>Parked</h1>
        <span className={styles.quiet}>
          {data.total} {data.total === 1 ? "lead" : "leads"}, those to look at first.{" "}
          {me?.rights.includes("setup.read") && <a href="/setup/waking">What wakes them</a>}
        </span>
      </div>
      {data.items.length === 0 && (
        <Empty title="Nobody is parked">
          <p>
            Park a lead that will not buy for a while with <kbd>V</kbd> on the desk. It comes back on its own
            as soon as they write, call, ask again, or open one of our links.
          </p>
        </Empty>
      )}
      {data.items.length > 0 && (
        <div className={styles.scroll}>
          <table className={styles.table}>
            <thead>
              <tr>
                <th>Who</th>
                <th>Why</th>
                <th>Since</th>
                <th>Slow plan</th>
                <th>Next message</th>
                <th>Next look</th>
                <th>Previous owner</th>
              </tr>
            </thead>
            <tbody>
              {data.items.map((row) => (
                <tr key={row.lead.id}>
                  <td>
                    <a data-row href={`/?lead=${row.lead.id}`}>
                      {called(row.lead)}
                    </a>
                    <div className={styles.quiet}>{row.lead.product}</div>
                  </td>
                  <td>{row.reason}</td>
                  <td>{when(row.since)}</td>
                  <td>
                    {row.plan ?? "none"}
                    {row.sent > 0 && <div className={styles.quiet}>{row.sent} sent</div>}
                    {row.calm.map((c) => (
                      <div key={c.rule} className={styles.quiet} title={c.rule}>
                        calm until {when(c.until)}
                      </div>
                    ))}
                  </td>
                  <td>{when(row.nextAt)}</td>
                  <td>{when(row.lookAt)}</td>
                  <td>{row.former ?? "nobody"}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {(data.next || cursors.length > 1) && (
        <p className={styles.row}>
          <Button disabled={cursors.length === 1} onClick={() => setCursors(cursors.slice(0, -1))}>
            Before
          </Button>
          <Button disabled={!data.next} onClick={() => setCursors([...cursors, data.next])}>
            More
          </Button>
        </p>
      )}
    </main>
  );
}

import { useState } from "react";
import { dayTime } from "../../../../core/time/words.ts";
import { useNow } from "../../../live/clock.ts";
import { useQueue } from "../../../live/queries.ts";
import { useKeptTyping } from "../../../live/setup-draft.ts";
import { useChange, useImports } from "../../../live/setup-queries.ts";
import { ActsHead } from "../../../ui/ActsHead.tsx";
import { Button } from "../../../ui/Button.tsx";
import { Empty } from "../../../ui/Empty.tsx";
import type { Import, ImportPreview } from "../../../wire/setup-schemas.ts";
import { CadenceMany } from "../../list/CadenceMany.tsx";
import styles from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import { FileDrop } from "./FileDrop.tsx";
import { NewImport } from "./NewImport.tsx";

/** Spreadsheets: load one in, see what was loaded, take one back. */
export function ImportsView() {
  return (
    <SetupFrame place="Spreadsheets">
      <Imports />
    </SetupFrame>
  );
}

function Imports() {
  const [{ preview }, keep, forget] = useKeptTyping<{ preview: ImportPreview | null }>("import", {
    preview: null,
  });
  const setPreview = (next: ImportPreview | null) => {
    keep({ preview: next });
    if (!next) forget();
  };
  if (preview) return <NewImport preview={preview} onDone={() => setPreview(null)} />;
  return (
    <>
      <h1>Spreadsheets</h1>
      <p className={styles.intro}>
        Load a list in: from a show, a partner, another desk. You see every row’s errors and who is known
        already before anything is written, and can take the whole list back while nobody has worked on it.
      </p>
      <FileDrop onRead={setPreview} />
      <h2>Loaded before</h2>
      <Before />
    </>
  );
}

function Before() {
  const { data: imports, error } = useImports();
  if (error) return <p className={styles.wrong}>{error.message}</p>;
  if (!imports) return <p className={styles.quiet}>Looking …</p>;
  if (imports.length === 0)
    return <Empty title="Nothing yet">The lists you load will stand here, each with a way back.</Empty>;
  return (
    <div className={styles.scroll}>
      <table className={styles.table}>
        <thead>
          <tr>
            <th>List</th>
            <th>When</th>
            <th>Status</th>
            <th className={styles.figure}>New</th>
            <th className={styles.figure}>Known</th>
            <th className={styles.figure}>Refused</th>
            <ActsHead />
          </tr>
        </thead>
        <tbody>
          {imports.map((one) => (
            <Row key={one.id} one={one} />
          ))}
        </tbody>
      </table>
    </div>
  );
}

const STATES = { running: "", done: "◆ loaded", failed: "▲ failed", undone: "◇ taken back" } as const;

function Row({ one }: { readonly one: Import }) {
  const now = useNow();
  const { data: queue } = useQueue();
  const undo = useChange();
  const [cadence, askCadence] = useState(false);
  return (
    <tr>
      <td>
        <b>{one.name}</b>
        <div className={styles.quiet}>{one.source}</div>
      </td>
      <td>
        {dayTime(Date.parse(one.at), queue?.zone ?? "UTC", now)}
        <div className={styles.quiet}>by {one.by}</div>
      </td>
      <td className={styles.state}>
        {one.state === "running" ? (
          <span role="status">
            <progress
              className={styles.progress}
              max={Math.max(1, one.total)}
              value={one.done}
              aria-label="How far it is"
            />
            <div className={styles.quiet}>
              {one.done.toLocaleString("en-US")} of {one.total.toLocaleString("en-US")}
            </div>
          </span>
        ) : (
          STATES[one.state]
        )}
        {one.error && <div className={styles.quiet}>{one.error}</div>}
      </td>
      <td className={styles.figure}>{one.made.toLocaleString("en-US")}</td>
      <td className={styles.figure}>{one.joined.toLocaleString("en-US")}</td>
      <td className={styles.figure}>
        {one.rejected > 0 ? (
          <a href={`/api/v1/imports/${one.id}/rejects.csv`}>
            {one.rejected.toLocaleString("en-US")}, to mend
          </a>
        ) : (
          0
        )}
      </td>
      <td>
        {one.state === "done" && (
          <Button hint="A plan of calls and messages for each of them" onClick={() => askCadence(true)}>
            Cadence…
          </Button>
        )}{" "}
        {cadence && (
          <CadenceMany
            who={{ importId: one.id }}
            onClose={() => askCadence(false)}
            onDone={() => askCadence(false)}
          />
        )}
        {(one.state === "done" || one.state === "failed") && (
          <Button
            disabled={undo.isPending}
            onClick={() =>
              undo.mutate({
                call: "POST /imports/[id]/undo",
                params: { id: one.id },

                said: ({ removed, kept }) =>
                  `${removed} leads are gone again.${kept > 0 ? ` ${kept} inquiries stay with people known before.` : ""}`,
              })
            }
          >
            Take it back
          </Button>
        )}
      </td>
    </tr>
  );
}

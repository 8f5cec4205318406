import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import type { SentTo } from "../../../calls/table.ts";
import { call } from "../../../live/api.ts";
import { useEditing } from "../../../live/setup-draft.ts";
import { useChange, useFieldsSetup, useSources } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { FieldMapping, ImportCheck, ImportPreview } from "../../../wire/setup-schemas.ts";
import { NewField } from "../fields/NewField.tsx";
import styles from "../Setup.module.css";
import { factOptions, MapRow } from "../sources/MappingEditor.tsx";

/** How a list is to be loaded. */
interface Loading {
  readonly fields: Record<string, FieldMapping>;
  readonly sourceId: string | null;
  readonly route: boolean;
  readonly takeErased: boolean;
  readonly tags: string;
}

/** One list on its way in: columns mapped, the whole file checked, then loaded. */
export function NewImport({
  preview,
  onDone,
}: {
  readonly preview: ImportPreview;
  readonly onDone: () => void;
}) {
  const { data: setup } = useFieldsSetup();
  const { data: sources = [] } = useSources();
  const editing = useEditing<Loading>(`import:${preview.fileId}`, {
    fields: preview.fields,
    sourceId: null,
    route: false,
    takeErased: false,
    tags: "",
  });
  const { fields, sourceId, route, takeErased, tags } = editing.draft;
  const put = (part: Partial<Loading>) => editing.put({ ...editing.draft, ...part });
  const [naming, setNaming] = useState<string | null>(null);
  const lists = sources.filter((s) => s.channel === "spreadsheet");
  const source = sourceId ?? lists[0]?.id ?? "";
  const options = {
    fileId: preview.fileId,
    sourceId: source,
    fields,
    tags: tags
      .split(",")
      .map((t) => t.trim().toLowerCase())
      .filter(Boolean),
    route,
    ...(takeErased && { takeErased }),
  };
  const check = useMutation({
    mutationFn: (body: SentTo<"POST /imports/check">) => call("POST /imports/check", { body }),
  });
  const start = useChange();
  const set = (name: string, next: FieldMapping | null) => {
    const { [name]: _gone, ...rest } = fields;
    put({ fields: next ? { ...rest, [name]: next } : rest });
    check.reset();
  };
  return (
    <>
      <div className={styles.top}>
        <h1>{preview.name}</h1>
        <Button look="bare" onClick={onDone}>
          Cancel
        </Button>
      </div>
      <p className={styles.intro}>
        Read as {preview.encoding}, columns parted by {NAMES[preview.delimiter] ?? preview.delimiter}.{" "}
        {preview.remembered
          ? "The columns are mapped as last time."
          : "The columns are mapped by a first guess."}{" "}
        Nothing is written yet.
      </p>
      <div className={styles.editor}>
        <div>
          <h2>What the columns become</h2>
          {preview.headers.map((name, i) => (
            <MapRow
              key={name}
              name={name}
              value={preview.rows.map((r) => r[i]).find((v) => v?.trim()) ?? ""}
              mapped={fields[name] ?? null}
              guess={null}
              options={factOptions(setup)}
              onSet={(next) => set(name, next)}
              onNew={() => setNaming(name)}
            />
          ))}
          <h2>First rows</h2>
          {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by keyboard */}
          <section className={styles.scroll} tabIndex={0} aria-label="First rows">
            <table className={styles.table}>
              <thead>
                <tr>
                  {preview.headers.map((h) => (
                    <th key={h}>{h}</th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {preview.rows.slice(0, 6).map((row, i) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: a row is its place
                  <tr key={i}>
                    {preview.headers.map((h, j) => (
                      <td key={h}>{row[j]}</td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </section>
        </div>
        <aside className={styles.result}>
          <h2>How to load it</h2>
          <div className={styles.stack}>
            <Choice
              label="Comes from"
              value={source}
              options={lists.map((s) => ({ value: s.id, label: s.name }))}
              onChange={(id) => {
                put({ sourceId: id });
                check.reset();
              }}
            />
            <Field
              label="Tags for all, separated by commas"
              value={tags}
              onChange={(e) => {
                put({ tags: e.target.value });
                check.reset();
              }}
            />
            <label className={styles.check}>
              <input
                type="checkbox"
                checked={route}
                onChange={(e) => {
                  put({ route: e.target.checked });
                  check.reset();
                }}
              />
              Route each like a new inquiry: first reply, hand-off, bell
            </label>
            {route && (
              <p className={styles.warn}>
                Everybody on the list gets the source’s first reply within the minute.
              </p>
            )}
            <div>
              <Button
                look={check.data ? "plain" : "strong"}
                disabled={!source || check.isPending}
                onClick={() => check.mutate(options)}
              >
                {check.isPending ? "Going through the file …" : "Check the whole file"}
              </Button>
            </div>
          </div>
          {check.error && <p className={styles.wrong}>{check.error.message}</p>}
          {check.data && (
            <Checked
              check={check.data}
              busy={start.isPending || check.isPending}
              takeErased={takeErased}
              onTakeErased={(take) => {
                put({ takeErased: take });
                check.mutate({ ...options, takeErased: take });
              }}
              onStart={() =>
                start.mutate({
                  call: "POST /imports",
                  body: { ...options, name: preview.name, total: check.data.total },
                  said: "It is being loaded in the background. You can go on working.",
                  after: () => {
                    editing.done();
                    onDone();
                  },
                })
              }
            />
          )}
        </aside>
      </div>
      {naming && (
        <NewField
          suggested={naming}
          onClose={() => setNaming(null)}
          onMade={(key) => {
            set(naming, { to: `own.${key}` });
            setNaming(null);
          }}
        />
      )}
    </>
  );
}

const NAMES: Readonly<Record<string, string>> = {
  ",": "commas",
  ";": "semicolons",
  "\t": "tabs",
  "|": "bars",
};

function Checked({
  check,
  busy,
  takeErased,
  onTakeErased,
  onStart,
}: {
  readonly check: ImportCheck;
  readonly busy: boolean;
  readonly takeErased: boolean;
  readonly onTakeErased: (take: boolean) => void;
  readonly onStart: () => void;
}) {
  const n = (value: number) => value.toLocaleString("en-US");
  return (
    <section aria-label="What it would do">
      <h2>What it would do</h2>
      <p className={styles.tally}>
        <span>
          <b>{n(check.fresh)}</b> new
        </span>
        <span>
          <b>{n(check.known)}</b> known
        </span>
        <span>
          <b>{n(check.twice)}</b> twice in the file
        </span>
        <span>
          <b>{n(check.rejected)}</b> refused
        </span>
      </p>
      {check.knownRows.length > 0 && (
        <details open={check.knownRows.length < 6}>
          <summary>Who is known already</summary>
          <ul className={styles.trouble}>
            {check.knownRows.slice(0, 20).map((k) => (
              <li key={k.row} className={styles.note}>
                Row {k.row}: {k.who} is <a href={`/?lead=${k.leadId}`}>{k.lead}</a>, by {k.on}
              </li>
            ))}
          </ul>
        </details>
      )}
      {check.rejectedRows.length > 0 && (
        <details open={check.rejectedRows.length < 6}>
          <summary>What is refused, and why</summary>
          <ul className={styles.trouble}>
            {check.rejectedRows.slice(0, 20).map((r) => (
              <li key={r.row} className={styles.stops}>
                Row {r.row}: {r.reason}
              </li>
            ))}
          </ul>
        </details>
      )}
      {(check.erased > 0 || takeErased) && (
        <label className={styles.check}>
          <input
            type="checkbox"
            checked={takeErased}
            disabled={busy}
            onChange={(e) => onTakeErased(e.target.checked)}
          />
          Take in those too whose data was erased on request: they have asked to be known again
        </label>
      )}
      {check.unread > 0 && (
        <details open={check.unread < 6}>
          <summary>
            {n(check.unread)} {check.unread === 1 ? "row has" : "rows have"} a number or an address that can’t
            be read
          </summary>
          <ul className={styles.trouble}>
            {check.unreadRows.slice(0, 20).map((r) => (
              <li key={r.row} className={styles.note}>
                Row {r.row}, {r.who}: “{r.said.join("”, “")}”
              </li>
            ))}
          </ul>
          <p className={styles.quiet}>They are loaded, and each lead shows what could not be read.</p>
        </details>
      )}
      <p>
        <Button look="strong" disabled={busy || check.fresh + check.known === 0} onClick={onStart}>
          Load {n(check.total - check.rejected)} rows
        </Button>
      </p>
      <p className={styles.quiet}>Refused rows are kept with their reasons, to mend and load again.</p>
    </section>
  );
}

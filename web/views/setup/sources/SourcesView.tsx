import { useState } from "react";
import { useForm } from "react-hook-form";
import { useNow } from "../../../live/clock.ts";
import { useQueue } from "../../../live/queries.ts";
import { useChange, useSources } from "../../../live/setup-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { Dialog } from "../../../ui/Dialog.tsx";
import { Empty } from "../../../ui/Empty.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { SourceRow } from "../../../wire/setup-schemas.ts";
import styles from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import { CHANNELS, heardOf, rhythm, troubles } from "../words.ts";

/** Where inquiries come from, by how it does. */
export function SourcesView() {
  return (
    <SetupFrame place="Sources">
      <Sources />
    </SetupFrame>
  );
}

/** What needs somebody comes first. */
const urgency = (row: SourceRow) => (troubles(row).some((t) => t.stops) ? 0 : row.state === "live" ? 1 : 2);

function Sources() {
  const { data: sources, error } = useSources();
  const [adding, setAdding] = useState(false);
  if (error)
    return (
      <Empty title="The sources can't be shown">
        <p>{error.message}</p>
      </Empty>
    );
  if (!sources) return <p className={styles.quiet}>Looking at the sources …</p>;
  const sorted = [...sources].sort((a, b) => urgency(a) - urgency(b));
  return (
    <>
      <div className={styles.top}>
        <h1>Sources</h1>
        <Button look="strong" onClick={() => setAdding(true)}>
          Add a source
        </Button>
      </div>
      <p className={styles.intro}>
        Where inquiries come from. Each is live, a draft, or paused; one that should be talking and is not
        says so here, in the team’s chat, and to whoever manages.
      </p>
      <div className={styles.scroll}>
        <table className={`${styles.table} ${styles.cards}`}>
          <thead>
            <tr>
              <th>Source</th>
              <th>Status</th>
              <th>Last inquiry</th>
              <th>Last 28 days</th>
              <th className={styles.figure}>7 days</th>
              <th>Issues</th>
            </tr>
          </thead>
          <tbody>
            {sorted.map((row) => (
              <Row key={row.id} row={row} />
            ))}
          </tbody>
        </table>
      </div>
      {adding && <AddSource onClose={() => setAdding(false)} />}
    </>
  );
}

const SHAPES = { live: "◆", draft: "◇", paused: "‖" } as const;

export function State({ state }: { readonly state: SourceRow["state"] }) {
  return (
    <span className={`${styles.state} ${styles[state]}`}>
      {SHAPES[state]} {state}
    </span>
  );
}

function Row({ row }: { readonly row: SourceRow }) {
  const now = useNow();
  const { data: queue } = useQueue();
  const said = troubles(row);
  return (
    <tr>
      <td>
        <a data-row href={`/setup/sources/${row.key}`}>
          {row.name}
        </a>
        <div className={styles.quiet}>
          {CHANNELS[row.channel]}
          {row.line && `, ${row.line}`}
        </div>
      </td>
      <td>
        <State state={row.state} />
      </td>
      <td>
        {heardOf(row, queue?.zone ?? "UTC", now)}
        <div className={styles.quiet}>{row.health.total > 0 && rhythm(row)}</div>
      </td>
      <td>
        <Bars days={row.health.days} />
      </td>
      <td className={styles.figure}>
        {row.health.week}
        <div className={styles.quiet}>before: {row.health.weekBefore}</div>
      </td>
      <td>
        {said.length === 0 ? (
          <span className={styles.quiet}>All well</span>
        ) : (
          <ul className={styles.trouble}>
            {said.slice(0, 4).map((t) => (
              <li key={t.said} className={t.stops ? styles.stops : styles.note}>
                {t.said}
              </li>
            ))}
          </ul>
        )}
      </td>
    </tr>
  );
}

/** Arrivals by day, the newest at the right; the words say the sum, since bars alone say little. */
export function Bars({ days }: { readonly days: readonly number[] }) {
  const most = Math.max(1, ...days);
  const sum = days.reduce((a, b) => a + b, 0);
  return (
    <svg
      className={styles.bars}
      viewBox="0 0 112 28"
      role="img"
      aria-label={`${sum} in 28 days, at most ${most} a day`}
    >
      <line x1="0" x2="112" y1="27.5" y2="27.5" />
      {days.map((n, i) => {
        const height = (n / most) * 26;
        // biome-ignore lint/suspicious/noArrayIndexKey: a day is its place
        return <rect key={i} x={i * 4} width="3" y={27 - height} height={height} />;
      })}
    </svg>
  );
}

interface Made {
  readonly name: string;
  readonly channel: SourceRow["channel"];
  readonly line: string;
}

const HAS_LINE = new Set(["call", "text", "email", "document"]);

function AddSource({ onClose }: { readonly onClose: () => void }) {
  const change = useChange();
  const form = useForm<Made>({ defaultValues: { name: "", channel: "website", line: "" } });
  const channel = form.watch("channel");
  const save = form.handleSubmit(({ line, ...made }) =>
    change.mutate({
      call: "POST /sources",
      body: { ...made, ...(HAS_LINE.has(made.channel) && line && { line }) },
      said: "",
      after: (source) => location.assign(`/setup/sources/${source.key}`),
    }),
  );
  const kinds = Object.entries(CHANNELS).filter(([key]) => key !== "ad-form" && key !== "hand");
  return (
    <Dialog title="Add a source" onClose={onClose}>
      <form className={styles.stack} onSubmit={save}>
        <Field
          label="What you call it"
          error={form.formState.errors.name?.message}
          {...form.register("name", { required: "Give it a name." })}
        />
        <Choice
          label="What kind"
          value={channel}
          options={kinds.map(([value, label]) => ({ value, label }))}
          onChange={(value) => form.setValue("channel", value as Made["channel"])}
        />
        {HAS_LINE.has(channel) && (
          <Field
            label={
              channel === "call" || channel === "text"
                ? "Phone number it listens on"
                : "Mail address it listens on"
            }
            {...form.register("line")}
          />
        )}
        <p className={styles.quiet}>
          It begins as a draft: nothing reaches it until you put it live. Ad forms are connected under{" "}
          <a href="/setup/ads">Ad platform</a>.
        </p>
        <div className={styles.row}>
          <Button type="submit" look="strong" disabled={change.isPending}>
            Add as a draft
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

import { useState } from "react";
import { dayTime } from "../../../core/time/words.ts";
import { App } from "../../frame/App.tsx";
import { useInAddress } from "../../live/address.ts";
import { call } from "../../live/api.ts";
import { useNow } from "../../live/clock.ts";
import { useExperiment, useExperiments, useLabChoices } from "../../live/lab-queries.ts";
import { Button } from "../../ui/Button.tsx";
import { useSay } from "../../ui/Toasts.tsx";
import type { LabExperiment, LabLine } from "../../wire/lab-schemas.ts";
import styles from "./Lab.module.css";
import { Result } from "./Result.tsx";
import { SetUp, useLabForm } from "./SetUp.tsx";

/** Looking ahead: weeks of the desk run by its own engine, one set-up against another. */
export function LabView() {
  return (
    <App view="Lab">
      <Lab />
    </App>
  );
}

function Lab() {
  const { data: all, error } = useExperiments();
  const { data: choices } = useLabChoices();
  const [open, setOpen] = useInAddress("open");
  const form = useLabForm();
  const now = useNow();
  return (
    <main className={styles.page}>
      <header className={styles.head}>
        <h1>Lab</h1>
        <p>
          Weeks of this desk, run by the very engine that runs it live, as it is against as it could be.
          Nothing here changes anything for leads.
        </p>
      </header>
      {error && <p role="alert">{error.message}</p>}
      <div className={styles.columns}>
        <nav aria-label="Experiments" className={styles.kept}>
          <Button look={open ? "plain" : "strong"} onClick={() => setOpen(null)}>
            New experiment
          </Button>
          {all?.length === 0 && <p className={styles.quiet}>What you run is kept here, with its settings.</p>}
          <ul>
            {all?.map((line) => (
              <li key={line.id}>
                <button
                  type="button"
                  aria-current={open === line.id ? "true" : undefined}
                  onClick={() => setOpen(line.id, { replace: open !== null })}
                >
                  <b>{line.name}</b>
                  <small>{stateOf(line, choices?.zone ?? "UTC", now)}</small>
                </button>
              </li>
            ))}
          </ul>
        </nav>
        {open ? (
          <Opened
            key={open}
            id={open}
            onGone={() => setOpen(null)}
            onAgain={(experiment) => {
              form.from(experiment);
              setOpen(null);
            }}
          />
        ) : choices ? (
          <SetUp form={form} choices={choices} onBegun={(id) => setOpen(id)} />
        ) : (
          <p className={styles.quiet}>Looking …</p>
        )}
      </div>
    </main>
  );
}

const STATES = { done: "", running: "runs", failed: "could not be run", cancelled: "cancelled" } as const;

function stateOf({ state, done, total, at, by }: LabLine, zone: string, now: number): string {
  const day = dayTime(Date.parse(at), zone, now);
  if (state === "running") return `${done} of ${total} runs`;
  return [STATES[state], day, by].filter(Boolean).join(", ");
}

function Opened({
  id,
  onGone,
  onAgain,
}: {
  readonly id: string;
  readonly onGone: () => void;
  readonly onAgain: (experiment: LabExperiment) => void;
}) {
  const { data, error } = useExperiment(id);
  const say = useSay();
  const [sure, setSure] = useState(false);
  if (error) return <p role="alert">{error.message}</p>;
  if (!data) return <p className={styles.quiet}>Looking …</p>;
  const remove = () =>
    call("POST /lab/[id]/remove", { id }).then(
      () => {
        say.done(`“${data.name}” is taken out.`);
        onGone();
      },
      (e: Error) => say.wrong(e.message),
    );
  return (
    <section className={styles.result} aria-label={data.name}>
      <header className={styles.resultHead}>
        <h2>{data.name}</h2>
        <Button look="bare" onClick={() => onAgain(data)}>
          Again, with changes
        </Button>
        {sure ? (
          <>
            <Button look="bare" onClick={() => void remove()}>
              Yes, take it out
            </Button>
            <Button look="bare" onClick={() => setSure(false)}>
              Keep it
            </Button>
          </>
        ) : (
          <Button look="bare" onClick={() => setSure(true)}>
            Remove
          </Button>
        )}
      </header>
      <Sides experiment={data} />
      {data.state === "running" && (
        <p role="status" className={styles.running}>
          <progress max={data.total} value={data.done} aria-label="Runs done" />
          {data.done} of {data.total} runs
          <Button onClick={() => void call("POST /lab/[id]/cancel", { id })}>Cancel</Button>
        </p>
      )}
      {data.state === "cancelled" && <p className={styles.quiet}>It was cancelled. Nothing was changed.</p>}
      {data.state === "failed" && <p role="alert">It could not be run: {data.error}.</p>}
      {data.result && <Result experiment={data} result={data.result} />}
    </section>
  );
}

/** What is held against what. */
function Sides({ experiment: { said } }: { readonly experiment: LabExperiment }) {
  return (
    <dl className={styles.sides}>
      {(["a", "b"] as const).map((side) => (
        <div key={side}>
          <dt>
            <i className={styles[side]}>{side.toUpperCase()}</i>
          </dt>
          <dd>{said[side].length === 0 ? "As it is live" : said[side].join(" · ")}</dd>
        </div>
      ))}
    </dl>
  );
}

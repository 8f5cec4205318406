import { useMemo, useState } from "react";
import { dayTime, duration } from "../../../../core/time/words.ts";
import { call } from "../../../live/api.ts";
import { useNow } from "../../../live/clock.ts";
import { usePlayback, useRouting, useVersions } from "../../../live/routing-queries.ts";
import { Button } from "../../../ui/Button.tsx";
import { Bars } from "../../../ui/Chart.tsx";
import { Choice } from "../../../ui/Choice.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { Playback } from "../../../wire/routing-schemas.ts";
import { SPANS } from "../hours/spans.ts";
import setup from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import styles from "./Routing.module.css";

/** Rules played over the inquiries that really came in, before anybody publishes them. */
export function PlaybackView() {
  return (
    <SetupFrame place="Playback">
      <Playbacks />
    </SetupFrame>
  );
}

function Playbacks() {
  const { data: routing } = useRouting();
  const { data: versions = [] } = useVersions();
  const [of, setOf] = useState("");
  const [days, setDays] = useState("60");
  const [roster, setRoster] = useState<"then" | "now">("then");
  const [id, setId] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const { data: run, error } = usePlayback(id);
  if (!routing) return <p className={setup.quiet}>Looking …</p>;
  const chosen = of || (routing.draft ? "draft" : String(routing.version));
  const start = () =>
    call("POST /playbacks", {
      body: {
        of: chosen === "draft" ? "draft" : Number(chosen),
        days: Number(days),
        roster,
      },
    }).then(
      (begun) => {
        setId(begun.id);
        setProblem(null);
      },
      (e: Error) => setProblem(e.message),
    );
  return (
    <>
      <h1>Playback</h1>
      <p className={setup.intro}>
        What these rules would have done with the inquiries that really came in, in the same order, by the
        same engine.
      </p>
      <details className={setup.intro}>
        <summary>What it assumes</summary>
        <ul className={setup.trouble}>
          <li>Whoever is offered the same lead as then does what they did then.</li>
          <li>
            Whoever is offered another’s lead answers as they had really answered offers until that day: as
            often with a pass, as often not at all. Who had answered none yet takes it.
          </li>
          <li>What is passed on or lapses is offered on by these rules.</li>
          <li>What was moved by hand is moved by hand again; bells, tries and replies stay as they were.</li>
          <li>
            Once one lead goes elsewhere, turns and loads move for all that come later. Those are counted
            apart: the rules that were live would have sent them there as well.
          </li>
        </ul>
      </details>
      <div className={setup.row}>
        <Choice
          label="Play"
          value={chosen}
          options={[
            ...(routing.draft ? [{ value: "draft", label: "the draft" }] : []),
            ...versions.map((v) => ({
              value: String(v.version),
              label: `version ${v.version}${v.version === routing.version ? ", live" : ""}`,
            })),
          ]}
          onChange={setOf}
        />
        <Choice label="Over" value={days} options={SPANS} onChange={setDays} />
        <Choice
          label="With people and hours"
          value={roster}
          options={[
            { value: "then", label: "as they were" },
            { value: "now", label: "as they are now" },
          ]}
          onChange={(v) => setRoster(v as "then" | "now")}
        />
        <Button look="strong" disabled={run?.state === "running"} onClick={() => void start()}>
          Play
        </Button>
      </div>
      {(problem ?? error) && <p className={setup.wrong}>{problem ?? error?.message}</p>}
      {run?.state === "running" && (
        <p className={setup.row} role="status">
          <progress className={setup.progress} max={run.total || 1} value={run.done} />
          {run.total ? `${Math.round((100 * run.done) / run.total)} % of ${run.total} events` : "Reading …"}
          <Button onClick={() => void call("POST /playbacks/[id]/cancel", { id: run.id })}>Cancel</Button>
        </p>
      )}
      {run?.state === "cancelled" && <p className={setup.warn}>Cancelled. Nothing was changed.</p>}
      {run?.state === "failed" && <p className={setup.wrong}>It could not be played: {run.error}.</p>}
      {run?.result && <Result run={run} result={run.result} zone={routing.zone} />}
      {!run && (
        <p className={setup.quiet}>
          Nothing is changed by playing: rules are in force once they are published.
        </p>
      )}
    </>
  );
}

type Result = NonNullable<Playback["result"]>;

const index = (n: number | null) => (n === null ? "none" : n.toFixed(3));

function Result({
  run,
  result,
  zone,
}: {
  readonly run: Playback;
  readonly result: Result;
  readonly zone: string;
}) {
  const people = useMemo(
    () =>
      result.people
        .filter((p) => p.offered.was + p.offered.would > 0)
        .sort((a, b) => b.offered.would - a.offered.would),
    [result],
  );
  const chart = useMemo(
    () => ({
      names: people.map((p) => p.name),
      series: [
        { name: "as it was", values: people.map((p) => p.offered.was), faint: true },
        { name: "as it would have been", values: people.map((p) => p.offered.would) },
      ],
    }),
    [people],
  );
  const idle = result.rules.filter((r) => r.fired === 0 && !r.off);
  const wait = (w: Result["waits"]["was"]) =>
    w.count ? `${w.count}, ${duration(w.ms / w.count)} each` : "none";
  return (
    <>
      <div className={styles.spread}>
        <div>
          <b>
            {result.changed} of {result.inquiries}
          </b>
          <span>
            would first have gone elsewhere
            {result.changed > 0 &&
              `: ${result.byRules} by these rules, ${result.changed - result.byRules} because turns and loads had moved`}
          </span>
        </div>
        <div>
          <b>{index(result.jain.would)}</b>
          <span>how even first offers are, was {index(result.jain.was)} (Jain’s index, 1 is even)</span>
        </div>
        <div>
          <b>{result.refusals.would}</b>
          <span>passed or lapsed on the way, was {result.refusals.was}</span>
        </div>
        <div>
          <b>{wait(result.waits.would)}</b>
          <span>waited for somebody to come on duty, was {wait(result.waits.was)}</span>
        </div>
      </div>
      {result.changed === 0 && (
        <p className={setup.good}>{run.of} does with every one of these inquiries what was really done.</p>
      )}
      {idle.length > 0 && (
        <p className={setup.warn}>Never fired: {idle.map((r) => `“${r.name}”`).join(", ")}.</p>
      )}
      {people.length > 0 && (
        <Bars
          label="First offers per person, as it was and as it would have been"
          unit="offers"
          names={chart.names}
          series={chart.series}
          className={styles.chart}
        />
      )}
      <div className={setup.scroll}>
        <table className={setup.table}>
          <thead>
            <tr>
              <th>Person</th>
              <th className={styles.num}>First offers, was</th>
              <th className={styles.num}>would be</th>
              <th className={styles.num}>Got in the end, was</th>
              <th className={styles.num}>would be</th>
            </tr>
          </thead>
          <tbody>
            {[...people, ...result.people.filter((p) => !people.includes(p))].map((p) => (
              <tr key={p.id}>
                <td>{p.name}</td>
                <td className={styles.num}>{p.offered.was}</td>
                <td className={styles.num}>{p.offered.would}</td>
                <td className={styles.num}>{p.got.was}</td>
                <td className={styles.num}>{p.got.would}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <h2>Groups and rules</h2>
      <p>
        {result.groups
          .map((g) => `${g.name}: ${g.offered.would} first offers, was ${g.offered.was}`)
          .join(". ")}
        {result.groups.length > 0 && ". "}
        Standby {result.standby.would}, was {result.standby.was}.
      </p>
      <ul className={setup.trouble}>
        {result.rules.map((r) => (
          <li key={r.id}>
            {r.name}: {r.off ? "switched off" : r.fired === 0 ? "never fired" : `offered ${r.fired} times`}
          </li>
        ))}
      </ul>
      <Differences result={result} zone={zone} />
    </>
  );
}

const CAUSES = { rules: "by these rules", moved: "turns and loads had moved" } as const;

/** How many differences are drawn at once. */
const PAGE = 50;

function Differences({ result, zone }: { readonly result: Result; readonly zone: string }) {
  const [q, setQ] = useState("");
  const [most, setMost] = useState(PAGE);
  const [cause, setCause] = useState("");
  const now = useNow();
  if (result.differences.length === 0) return null;
  const wanted = q.trim().toLowerCase();
  const found = result.differences.filter(
    (d) =>
      (cause === "" || d.cause === cause) &&
      `${d.name ?? ""} ${d.source} ${d.was} ${d.would}`.toLowerCase().includes(wanted),
  );
  return (
    <>
      <h2>Who would have got what else</h2>
      <div className={setup.row}>
        <Field
          label="Find"
          quiet
          type="search"
          placeholder="A lead, a source or a person"
          value={q}
          onChange={(e) => setQ(e.target.value)}
        />
        <Choice
          label="Why"
          quiet
          value={cause}
          options={[
            { value: "", label: "for either reason" },
            { value: "rules", label: `${CAUSES.rules} (${result.byRules})` },
            { value: "moved", label: `${CAUSES.moved} (${result.changed - result.byRules})` },
          ]}
          onChange={setCause}
        />
        <span className={setup.quiet}>
          {found.length} of {result.changed}
        </span>
      </div>
      <table className={`${setup.table} ${setup.cards}`}>
        <thead>
          <tr>
            <th>Lead</th>
            <th>When</th>
            <th>Source</th>
            <th>Was</th>
            <th>Would be</th>
            <th>Why</th>
          </tr>
        </thead>
        <tbody>
          {found.slice(0, most).map((d) => (
            <tr key={`${d.leadId}${d.at}`}>
              <td>
                <a href={`/?lead=${d.leadId}`}>{d.name ?? "no name"}</a>
              </td>
              <td>{dayTime(Date.parse(d.at), zone, now)}</td>
              <td>{d.source}</td>
              <td>{d.was}</td>
              <td>{d.would}</td>
              <td className={setup.quiet}>{CAUSES[d.cause]}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {found.length > most && <Button onClick={() => setMost(most + 200)}>Show more</Button>}
    </>
  );
}

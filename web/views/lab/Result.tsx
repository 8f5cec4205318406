import { useMemo } from "react";
import { percent, sayMinutes } from "../../../core/report/words.ts";
import { call } from "../../live/api.ts";
import { Button } from "../../ui/Button.tsx";
import { Plot } from "../../ui/Plot.tsx";
import { Scrolls } from "../../ui/Scrolls.tsx";
import { useSay } from "../../ui/Toasts.tsx";
import type { LabExperiment, LabResult } from "../../wire/lab-schemas.ts";
import { drawWaits } from "../figures/plots.ts";
import { DayOnWire } from "./DayOnWire.tsx";
import styles from "./Lab.module.css";

type Line = LabResult["differences"][number];

/** How a measure is said, and whether more of it is better; null where neither is. */
const SAID: Readonly<
  Record<Line["key"], { readonly say: (n: number) => string; readonly more: boolean | null }>
> = {
  medianMinutes: { say: (n) => sayMinutes(Math.abs(n)), more: false },
  inTarget: { say: (n) => percent(n), more: true },
  rang: { say: plain, more: false },
  passed: { say: plain, more: null },
  lapsed: { say: plain, more: false },
  messages: { say: plain, more: null },
  reached: { say: plain, more: true },
  won: { say: plain, more: true },
  tries: { say: plain, more: null },
  evenness: { say: (n) => n.toFixed(3), more: true },
};

function plain(n: number): string {
  return Math.abs(n) < 100 ? n.toFixed(1) : Math.round(n).toLocaleString("en");
}

const signed = ({ key }: Line, n: number) => {
  const { say } = SAID[key];
  const sign = n > 0 ? "+" : n < 0 ? "−" : "±";
  const share = key === "inTarget" ? `${(Math.abs(n) * 100).toFixed(1)} points` : say(Math.abs(n));
  return n === 0 ? "none" : `${sign}${share}`;
};

/** What can be said of a difference: nothing where its interval holds none. */
function verdict({ key, mean, low, high }: Line): {
  readonly said: string;
  readonly tone: "better" | "worse" | "none";
} {
  if (mean === null || low === null || high === null) return { said: "nothing to tell", tone: "none" };
  if (low === 0 && high === 0) return { said: "exactly the same", tone: "none" };
  if (low <= 0 && high >= 0) return { said: "could be chance", tone: "none" };
  const { more } = SAID[key];
  if (more === null) return { said: mean > 0 ? "more with B" : "fewer with B", tone: "none" };
  return mean > 0 === more ? { said: "B is better", tone: "better" } : { said: "A is better", tone: "worse" };
}

/** What an experiment came to: what B differs by, how fast, who has how much, a day of it, and what it assumes. */
export function Result({
  experiment,
  result,
}: {
  readonly experiment: LabExperiment;
  readonly result: LabResult;
}) {
  return (
    <>
      <p className={styles.quiet}>
        {result.runs} runs of each, {Math.round(result.weeks * 10) / 10} weeks, about{" "}
        {Math.round(result.came).toLocaleString("en")} inquiries a run, seed {experiment.asked.seed}; live
        were the rules of version {result.rulesVersion}.
      </p>
      <Differences lines={result.differences} />
      <Draft experiment={experiment} />
      <Waits result={result} />
      <Loads result={result} />
      {result.days.a && result.days.b && <DayOnWire days={{ a: result.days.a, b: result.days.b }} />}
      <section className={styles.assumes}>
        <h3>What it takes for granted</h3>
        <ul>
          {result.assumes.map((sentence) => (
            <li key={sentence}>{sentence}</li>
          ))}
        </ul>
      </section>
    </>
  );
}

function Differences({ lines }: { readonly lines: readonly Line[] }) {
  return (
    <Scrolls label="What B differs by">
      <table className={styles.differences}>
        <thead>
          <tr>
            <th scope="col">On average of a run</th>
            <th scope="col">
              <i className={styles.a}>A</i>
            </th>
            <th scope="col">
              <i className={styles.b}>B</i>
            </th>
            <th scope="col">B less A, with its 95 % interval</th>
            <th scope="col" />
          </tr>
        </thead>
        <tbody>
          {lines.map((line) => {
            const { said, tone } = verdict(line);
            const { say } = SAID[line.key];
            return (
              <tr key={line.key}>
                <th scope="row">{line.name}</th>
                <td>{line.a === null ? "–" : say(line.a)}</td>
                <td>{line.b === null ? "–" : say(line.b)}</td>
                <td className={styles.beam}>
                  {line.mean !== null && line.low !== null && line.high !== null && (
                    <>
                      <Beam line={{ mean: line.mean, low: line.low, high: line.high }} tone={tone} />
                      <span>
                        {signed(line, line.mean)}
                        {line.low !== line.high && (
                          <small>
                            {signed(line, line.low)} to {signed(line, line.high)}
                          </small>
                        )}
                      </span>
                    </>
                  )}
                </td>
                <td data-tone={tone}>{said}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </Scrolls>
  );
}

const BEAM = 120;

/** The interval of a difference about nought, each on its own scale. */
function Beam({
  line: { mean, low, high },
  tone,
}: {
  readonly line: { readonly mean: number; readonly low: number; readonly high: number };
  readonly tone: string;
}) {
  const most = Math.max(Math.abs(low), Math.abs(high)) * 1.15 || 1;
  const x = (n: number) => BEAM / 2 + (n / most) * (BEAM / 2 - 6);
  return (
    <svg width={BEAM} height="20" aria-hidden="true" data-tone={tone}>
      <line x1={BEAM / 2} x2={BEAM / 2} y1="1" y2="19" className={styles.nought} />
      <line x1={x(low)} x2={x(high)} y1="10" y2="10" className={styles.interval} />
      <circle cx={x(mean)} cy="10" r="4" className={styles.mean} />
    </svg>
  );
}

/** Rules that proved themselves become the draft; what else was changed is named. */
function Draft({ experiment }: { readonly experiment: LabExperiment }) {
  const say = useSay();
  const sides = (["a", "b"] as const).filter((side) => experiment.draftable[side]);
  if (sides.length === 0) return null;
  const make = (side: "a" | "b") =>
    call("POST /lab/[id]/draft", { id: experiment.id, body: { side } }).then(
      ({ byHand }) =>
        say.done(
          `The rules of ${side.toUpperCase()} are the draft, to be looked at and published under Set-up, Routing.${
            byHand.length > 0 ? ` By hand: ${byHand.join("; ")}.` : ""
          }`,
          undefined,
          30_000,
        ),
      (e: Error) => say.wrong(e.message),
    );
  return (
    <p className={styles.draft}>
      {sides.map((side) => (
        <Button key={side} onClick={() => void make(side)}>
          Make the rules of {side.toUpperCase()} the draft
        </Button>
      ))}
      <a href="/setup/routing">Routing</a>
    </p>
  );
}

function Waits({ result: { tried } }: { readonly result: LabResult }) {
  const draw = useMemo(() => {
    const points = (side: "a" | "b") => [
      { t: 0, s: 1, low: 0, high: 0 },
      ...tried.map((t) => ({ t: t.minutes, s: 1 - t[side], low: 0, high: 0 })),
    ];
    return drawWaits(
      [
        { name: "A", points: points("a"), look: "plain" },
        { name: "B", points: points("b"), look: "strong" },
      ],
      null,
    );
  }, [tried]);
  return (
    <Plot
      title="Who still waits"
      said="The share that nobody has tried yet, by minutes of the desk since it came in; the mean over the runs. A is dashed, B drawn through."
      label={tried
        .map((t) => `after ${t.minutes} minutes A ${percent(1 - t.a)}, B ${percent(1 - t.b)}`)
        .join("; ")}
      draw={draw}
      height={240}
      file="lab-waits"
      table={{
        head: ["Minutes", "Tried with A", "Tried with B"],
        rows: tried.map((t) => [String(t.minutes), t.a.toFixed(4), t.b.toFixed(4)]),
      }}
    />
  );
}

function Loads({ result: { people, weeks } }: { readonly result: LabResult }) {
  const most = Math.max(1, ...people.flatMap((p) => [p.a?.tries ?? 0, p.b?.tries ?? 0])) / weeks;
  const cell = (load: LabResult["people"][number]["a"], side: "a" | "b") =>
    load ? (
      <>
        <td>{(load.leads / weeks).toFixed(1)}</td>
        <td>
          <span className={styles.bar}>
            <i className={styles[side]} style={{ width: `${(load.tries / weeks / most) * 100}%` }} />
            {(load.tries / weeks).toFixed(0)}
          </span>
        </td>
        <td>{(load.busyMinutes / 60 / weeks).toFixed(1)} h</td>
      </>
    ) : (
      <td colSpan={3}>not there</td>
    );
  if (people.length === 0) return null;
  return (
    <section>
      <h3>Who has how much, a week</h3>
      <Scrolls label="Who has how much, a week">
        <table className={styles.loads}>
          <thead>
            <tr>
              <th />
              {(["a", "b"] as const).map((side) => (
                <th key={side} colSpan={3} scope="colgroup">
                  <i className={styles[side]}>{side.toUpperCase()}</i>
                </th>
              ))}
            </tr>
            <tr>
              <th scope="col">Person</th>
              {(["a", "b"] as const).flatMap((side) =>
                ["Leads first", "Tries", "At it"].map((head) => (
                  <th key={side + head} scope="col">
                    {head}
                  </th>
                )),
              )}
            </tr>
          </thead>
          <tbody>
            {people.map((p) => (
              <tr key={p.id}>
                <th scope="row">{p.name}</th>
                {cell(p.a, "a")}
                {cell(p.b, "b")}
              </tr>
            ))}
          </tbody>
        </table>
      </Scrolls>
    </section>
  );
}

import { percent } from "../../../core/report/words.ts";
import { usePeopleFigures } from "../../live/figure-queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Empty } from "../../ui/Empty.tsx";
import { Plot } from "../../ui/Plot.tsx";
import { Scrolls } from "../../ui/Scrolls.tsx";
import type { PeopleFigures } from "../../wire/figure-schemas.ts";
import styles from "./Figures.module.css";
import type { PageProps } from "./page.ts";
import { drawRanges, type RangeRow, rangesHeight } from "./plots.ts";

type Member = PeopleFigures["people"][number];
const OUTCOMES = [
  { key: "inTarget", title: "Tried within the target" },
  { key: "reached", title: "Reached" },
  { key: "won", title: "Won" },
] as const;

/** What each was given and what came of it, against what could be expected of it. */
export function PeoplePage({ span, onBehind }: PageProps) {
  const { data, error } = usePeopleFigures(span);
  if (error && !data) return <p role="alert">{error.message}</p>;
  if (!data) return <p className={styles.loading}>Reading the record …</p>;
  if (data.people.length === 0)
    return (
      <Empty title="Nobody sells here yet">
        <p>
          Add people under <a href="/setup/people">Set-up, People</a>: what they are given is told here.
        </p>
      </Empty>
    );
  return (
    <>
      <p className={styles.note}>
        Expected is what anybody would have come to with the same leads ({data.strata}). Inside of the thick
        range a difference is no more than luck; outside of the thin one it hardly is. Nobody is ranked.
      </p>
      <Given members={data.people} onBehind={onBehind} />
      {OUTCOMES.map(({ key, title }) => (
        <Outcome key={key} members={data.people} outcome={key} title={title} file={`people-${key}`} />
      ))}
      {data.groups.length > 0 && (
        <>
          <h2>Groups</h2>
          {OUTCOMES.map(({ key, title }) => (
            <Outcome
              key={key}
              members={data.groups}
              outcome={key}
              title={`Groups: ${title.toLowerCase()}`}
              file={`groups-${key}`}
            />
          ))}
        </>
      )}
    </>
  );
}

function Given({
  members,
  onBehind,
}: {
  readonly members: readonly Member[];
  readonly onBehind: PageProps["onBehind"];
}) {
  return (
    <Scrolls label="What each was given">
      <table className={styles.table}>
        <thead>
          <tr>
            <th scope="col">Who</th>
            <th scope="col">Given</th>
            <th scope="col">Asked</th>
            <th scope="col">Took</th>
            <th scope="col">In target</th>
            <th scope="col">Reached</th>
            <th scope="col">Won</th>
            <th scope="col">Open now</th>
          </tr>
        </thead>
        <tbody>
          {members.map((m) => (
            <tr key={m.key}>
              <th scope="row">{m.name}</th>
              <td>
                <Button
                  look="bare"
                  onClick={() => onBehind("all", `Given to ${m.name}`, { by: "person", key: m.key })}
                >
                  {m.given}
                </Button>
              </td>
              <td>{m.asked}</td>
              <td>
                {percent(m.took.share)}
                {m.took.n > 0 && (
                  <small>
                    {percent(m.took.low)} to {percent(m.took.high)}
                  </small>
                )}
              </td>
              {OUTCOMES.map(({ key }) => (
                <td key={key} data-alarm={m[key].stands === "fewer, hardly by chance" || undefined}>
                  {m[key].count} of {m[key].of}
                  <small>{m[key].of === 0 ? "" : m[key].stands}</small>
                </td>
              ))}
              <td data-alarm={(m.ceiling !== null && (m.open ?? 0) >= m.ceiling) || undefined}>
                {m.open}
                {m.ceiling !== null && <small>at most {m.ceiling}</small>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Scrolls>
  );
}

function Outcome({
  members,
  outcome,
  title,
  file,
}: {
  readonly members: readonly Member[];
  readonly outcome: (typeof OUTCOMES)[number]["key"];
  readonly title: string;
  readonly file: string;
}) {
  const told = members.filter((m) => m[outcome].of > 0);
  const rows = told.map((m): RangeRow => {
    const { count, of, expected, low95, high95, low998, high998, stands } = m[outcome];
    return {
      name: `${m.name} (${of})`,
      at: count / of,
      low: low95 / of,
      high: high95 / of,
      wide: { low: low998 / of, high: high998 / of },
      alarm: stands === "fewer, hardly by chance",
      said: `${m.name}: ${count} of ${of}, expected ${expected.toFixed(1)}\nby luck ${Math.round(low95)} to ${Math.round(high95)}: ${stands}`,
    };
  });
  const max = Math.min(1, Math.max(0.05, ...rows.flatMap((r) => [r.at ?? 0, r.wide?.high ?? 0])) * 1.05);
  const draw = drawRanges(rows, { max, of: (v) => `${Math.round(v * 100)} %` });
  if (told.length === 0) return null;
  return (
    <Plot
      title={title}
      said="The diamond is what came of it; the ranges are what luck alone leaves likely of leads like theirs (95 and 99.8 of 100)."
      label={rows.map((r) => r.said.replaceAll("\n", ", ")).join("; ")}
      draw={draw}
      height={rangesHeight(rows.length)}
      file={file}
      table={{
        head: ["Who", "Count", "Of", "Expected", "95 % from", "to", "99.8 % from", "to", "Stands"],
        rows: told.map((m) => {
          const o = m[outcome];
          return [
            m.name,
            String(o.count),
            String(o.of),
            o.expected.toFixed(2),
            String(Math.round(o.low95)),
            String(Math.round(o.high95)),
            String(Math.round(o.low998)),
            String(Math.round(o.high998)),
            o.stands,
          ];
        }),
      }}
    />
  );
}

import { percent } from "../../../core/report/words.ts";
import { useEffort } from "../../live/figure-queries.ts";
import { Empty } from "../../ui/Empty.tsx";
import { Plot } from "../../ui/Plot.tsx";
import type { EffortFigures } from "../../wire/figure-schemas.ts";
import styles from "./Figures.module.css";
import type { PageProps } from "./page.ts";
import { between, drawBars, drawRanges, type RangeRow, rangesHeight } from "./plots.ts";
import { WhichLeads } from "./WhichLeads.tsx";

/** How much was tried, and what it brought. */
export function EffortPage({ span, onBehind }: PageProps) {
  const { data, error } = useEffort(span);
  if (error && !data) return <p role="alert">{error.message}</p>;
  if (!data) return <p className={styles.loading}>Reading the record …</p>;
  if (data.leads === 0)
    return (
      <Empty title="Nobody inquired in these days">
        <p>Choose other days. What was tried with leads that came in then is told here.</p>
      </Empty>
    );
  return (
    <>
      <div className={styles.two}>
        <NthTries data={data} onBehind={onBehind} />
        <PerLead data={data} onBehind={onBehind} />
      </div>
      <Worth
        data={data}
        onBehind={onBehind}
        rows={data.reachedBy}
        title="What an earlier first try was worth: reached"
        what="reached within 14 days"
        file="worth-reached"
      />
      <Worth
        data={data}
        onBehind={onBehind}
        rows={data.wonBy}
        title="What an earlier first try was worth: won"
        what="won so far"
        file="worth-won"
      />
      <Hours data={data} onBehind={onBehind} />
      <Channels data={data} onBehind={onBehind} />
      <section className={styles.note} aria-label="Rules of thumb">
        <h2>What the trade says</h2>
        <p>Rules of thumb, not from this desk: hold them against the figures above.</p>
        <ul>
          {data.rulesOfThumb.map((rule) => (
            <li key={rule}>{rule}</li>
          ))}
        </ul>
      </section>
    </>
  );
}

interface Asks {
  readonly data: EffortFigures;
  readonly onBehind: PageProps["onBehind"];
}

function NthTries({ data, onBehind }: Asks) {
  const bars = data.nth.map(({ n, orMore, reached, soFar }) => ({
    value: reached.share,
    low: reached.low,
    high: reached.high,
    said: `${orMore ? `try ${n} or later` : `try ${n}`}: reached ${percent(reached.share)} (${between(percent(reached.low), percent(reached.high))}) of ${reached.n} not reached before\nup to here ${percent(soFar.share)} of all that were tried`,
  }));
  const draw = drawBars({
    names: data.nth.map(({ n, orMore }) => (orMore ? `${n}+` : String(n))),
    bars,
    of: (v) => `${Math.round(v * 100)} %`,
    max: 1,
    line: { name: "reached up to here", values: data.nth.map((t) => t.soFar.share) },
  });
  return (
    <Plot
      title="What one more try brought"
      said="Bars: of leads not reached before, the share reached at that try, with its interval. Dashed: of all leads that were tried, the share we had reached by then."
      label={bars.map((b) => b.said.replaceAll("\n", ", ")).join("; ")}
      draw={draw}
      height={260}
      file="nth-try"
      table={{
        head: ["Try", "Of leads", "Reached", "Share", "At least", "At most", "Reached so far"],
        rows: data.nth.map(({ n, orMore, reached, soFar }) => [
          orMore ? `${n} and later` : String(n),
          String(reached.n),
          String(reached.hits),
          reached.share?.toFixed(4) ?? "",
          reached.low.toFixed(4),
          reached.high.toFixed(4),
          soFar.share?.toFixed(4) ?? "",
        ]),
      }}
    >
      <WhichLeads
        parts={data.nth.map(({ n, orMore, reached }) => ({
          key: String(n),
          label: orMore ? `try ${n} or later` : `try ${n}`,
          n: reached.n,
          onOpen: () => onBehind("all", `Not reached before try ${n}`, { by: "nth-try", key: String(n) }),
        }))}
      />
    </Plot>
  );
}

function PerLead({ data, onBehind }: Asks) {
  const last = data.triesPerLead.length - 1;
  const names = data.triesPerLead.map((_, i) => (i === last ? `${i}+` : String(i)));
  const bars = data.triesPerLead.map((n, i) => ({
    value: n,
    said: `${n} leads with ${i === last ? `${i} tries or more` : i === 1 ? "1 try" : `${i} tries`}`,
  }));
  const draw = drawBars({ names, bars, of: (v) => v.toLocaleString("en") });
  const mean = data.tries / data.leads;
  return (
    <Plot
      title="Tries per lead"
      said={`${data.tries.toLocaleString("en")} tries for ${data.leads.toLocaleString("en")} leads, ${mean.toFixed(1)} each.`}
      label={bars.map((b) => b.said).join("; ")}
      draw={draw}
      height={260}
      file="tries-per-lead"
      table={{ head: ["Tries", "Leads"], rows: data.triesPerLead.map((n, i) => [names[i]!, String(n)]) }}
    >
      <WhichLeads
        parts={data.triesPerLead.map((n, i) => ({
          key: String(i),
          label: `${names[i]} tries`,
          n,
          onOpen: () => onBehind("all", `Leads with ${names[i]} tries`, { by: "tries", key: String(i) }),
        }))}
      />
    </Plot>
  );
}

function Worth({
  data,
  onBehind,
  rows: told,
  title,
  what,
  file,
}: Asks & {
  readonly rows: EffortFigures["reachedBy"];
  readonly title: string;
  readonly what: string;
  readonly file: string;
}) {
  const rows = told.map(
    (w): RangeRow => ({
      name: `${w.name} (${w.n})`,
      at: w.adjusted,
      low: w.low,
      high: w.high,
      other: w.raw,
      said: `First try ${w.name}: ${percent(w.adjusted)} ${what} (${between(percent(w.low), percent(w.high))}), raw ${percent(w.raw)}\ncan be compared for ${percent(w.covered)} of all`,
    }),
  );
  const max = Math.min(1, Math.max(0.05, ...told.flatMap((w) => [w.high ?? 0, w.raw])) * 1.15);
  const draw = drawRanges(rows, { max, of: (v) => `${Math.round(v * 100)} %` });
  return (
    <Plot
      title={title}
      said={`Leads that came in at least 14 days ago and were tried, ${data.judged - data.neverTried} of ${data.judged}, by how long the first try took in open hours. Full: as if ${data.strata} had been alike (standardized, with the interval of resampling); hollow: as it was. It cannot show what an earlier try causes: who looks easy may be tried first, and what nobody writes down is not made alike.`}
      label={rows.map((r) => r.said.replaceAll("\n", ", ")).join("; ")}
      draw={draw}
      height={rangesHeight(rows.length)}
      file={file}
      table={{
        head: [
          "First try",
          "Leads",
          "Of them",
          "Raw",
          "Made alike",
          "At least",
          "At most",
          "Can be compared",
        ],
        rows: told.map((w) => [
          w.name,
          String(w.n),
          String(w.hits),
          w.raw.toFixed(4),
          w.adjusted?.toFixed(4) ?? "",
          w.low?.toFixed(4) ?? "",
          w.high?.toFixed(4) ?? "",
          w.covered.toFixed(4),
        ]),
      }}
    >
      <WhichLeads
        parts={told.map((w) => ({
          key: w.group,
          label: w.name,
          n: w.n,
          onOpen: () => onBehind("all", `First tried ${w.name}`, { by: "delay", key: w.group }),
        }))}
      />
    </Plot>
  );
}

function Hours({ data, onBehind }: Asks) {
  const bars = data.byHour.map(({ name, reached }) => ({
    value: reached.share,
    ...(reached.n > 0 && { low: reached.low, high: reached.high }),
    said: `${name} their time: ${reached.n} calls, reached ${percent(reached.share)}${reached.n > 0 ? ` (${between(percent(reached.low), percent(reached.high))})` : ""}`,
  }));
  const draw = drawBars({
    names: data.byHour.map((h) => h.key),
    bars,
    of: (v) => `${Math.round(v * 100)} %`,
    max: 1,
  });
  return (
    <Plot
      title="Calls by their time of day"
      said="The share of calls that reached somebody, by the hour of the lead’s own clock, with its interval."
      label={bars.map((b) => b.said).join("; ")}
      draw={draw}
      height={220}
      file="calls-by-hour"
      table={wayTable("Hour, their time", data.byHour)}
    >
      <WhichLeads
        parts={data.byHour.flatMap(({ key, name, reached }) =>
          reached.n === 0
            ? []
            : {
                key,
                label: `${name}, calls`,
                n: reached.n,
                onOpen: () => onBehind("all", `Called at ${name} their time`, { by: "call-hour", key }),
              },
        )}
      />
    </Plot>
  );
}

const wayTable = (name: string, ways: EffortFigures["byHour"]) => ({
  head: [name, "Tries", "Reached", "Share", "At least", "At most"],
  rows: ways.map(({ name: way, reached }) => [
    way,
    String(reached.n),
    String(reached.hits),
    reached.share?.toFixed(4) ?? "",
    reached.low.toFixed(4),
    reached.high.toFixed(4),
  ]),
});

function Channels({ data, onBehind }: Asks) {
  const rows = data.byChannel.map(
    ({ name, reached }): RangeRow => ({
      name: `${name} (${reached.n})`,
      at: reached.share,
      low: reached.low,
      high: reached.high,
      said: `${name}: reached ${percent(reached.share)} of ${reached.n} (${between(percent(reached.low), percent(reached.high))})`,
    }),
  );
  const draw = drawRanges(rows, { max: 1, of: (v) => `${Math.round(v * 100)} %` });
  return (
    <Plot
      title="By way of trying"
      said="The share of tries by which somebody was reached at once. What is answered later to a text or an email is not counted as reached by it."
      label={rows.map((r) => r.said).join("; ")}
      draw={draw}
      height={rangesHeight(rows.length)}
      file="tries-by-channel"
      table={wayTable("Way", data.byChannel)}
    >
      <WhichLeads
        parts={data.byChannel.map(({ key, name, reached }) => ({
          key,
          label: name,
          n: reached.n,
          onOpen: () => onBehind("all", `Tried by ${name.toLowerCase()}`, { by: "channel", key }),
        }))}
      />
    </Plot>
  );
}

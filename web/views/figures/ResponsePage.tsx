import { percent, sayMinutes } from "../../../core/report/words.ts";
import { useInAddress } from "../../live/address.ts";
import { useResponse } from "../../live/figure-queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Empty } from "../../ui/Empty.tsx";
import { Plot } from "../../ui/Plot.tsx";
import type { ResponseFigures } from "../../wire/figure-schemas.ts";
import styles from "./Figures.module.css";
import type { PageProps } from "./page.ts";
import {
  between,
  drawRanges,
  drawWaits,
  drawWeek,
  type RangeRow,
  rangesHeight,
  WEEK_HEIGHT,
} from "./plots.ts";
import { WhichLeads } from "./WhichLeads.tsx";

const UNTIL = [
  { value: "try", label: "the first try" },
  { value: "talk", label: "the first talk" },
  { value: "reply", label: "the first automatic reply" },
] as const;
const CLOCK = [
  { value: "desk", label: "open hours" },
  { value: "wall", label: "all hours" },
] as const;
const BY = [
  { value: "source", label: "source" },
  { value: "person", label: "person" },
  { value: "group", label: "group" },
  { value: "product", label: "product" },
  { value: "rule", label: "rule" },
  { value: "hour", label: "hour of the week" },
] as const;

const CURVES = { try: "first try", talk: "first talk", reply: "automatic reply" } as const;
const WHAT = {
  try: "one of us first tried to reach them",
  talk: "both sides first talked or wrote",
  reply: "the first automatic reply went out",
} as const;

type Until = keyof typeof WHAT;
const choiceOf = <T extends string>(options: readonly { readonly value: T }[], value: string | null): T =>
  options.find((o) => o.value === value)?.value ?? options[0]!.value;

/** How long leads waited, with those who still do. */
export function ResponsePage({ span, onBehind }: PageProps) {
  const [untilSet, setUntil] = useInAddress("until");
  const [clockSet, setClock] = useInAddress("clock");
  const [bySet, setBy] = useInAddress("by");
  const [split, setSplit] = useInAddress("split");
  const until = choiceOf(UNTIL, untilSet);
  const clock = choiceOf(CLOCK, clockSet);
  const by = choiceOf(BY, bySet);
  const { data, error } = useResponse({ ...span, until, clock, by, ...(split && { split }) });
  return (
    <>
      <div className={styles.asks}>
        <Choice
          label="Time to"
          value={until}
          options={UNTIL}
          onChange={(v) => setUntil(v, { replace: true })}
        />
        <Choice
          label="Counted in"
          value={clock}
          options={CLOCK}
          onChange={(v) => setClock(v, { replace: true })}
        />
        <Choice label="By" value={by} options={BY} onChange={(v) => setBy(v, { replace: true })} />
        <label>
          Before and after
          <input
            type="date"
            value={split ?? ""}
            min={span.from}
            max={span.to}
            onChange={(e) => setSplit(e.target.value || null, { replace: true })}
          />
        </label>
      </div>
      {error && !data && <p role="alert">{error.message}</p>}
      {!data && !error && <p className={styles.loading}>Reading the record …</p>}
      {data && data.n === 0 && (
        <Empty title="Nobody inquired in these days">
          <p>Choose other days, or wait until leads come in: they are told of here within a minute.</p>
        </Empty>
      )}
      {data && data.n > 0 && (
        <>
          <KeyFigures data={data} until={until} clock={clock} onBehind={onBehind} />
          <Waits data={data} until={until} clock={clock} />
          {data.split && <Split data={data} />}
          {by === "hour" ? (
            <ByHour data={data} />
          ) : (
            <ByGroup data={data} by={by} name={BY.find((b) => b.value === by)!.label} onBehind={onBehind} />
          )}
          <Offers data={data} />
        </>
      )}
    </>
  );
}

interface Part {
  readonly data: ResponseFigures;
}

function KeyFigures({
  data,
  until,
  clock,
  onBehind,
}: Part & { readonly until: Until; readonly clock: string; readonly onBehind: PageProps["onBehind"] }) {
  const { median, low, high, quartiles, inTarget, n, censored } = data;
  const count = (value: number) => value.toLocaleString("en");
  return (
    <ul className={styles.key}>
      <li>
        <b>{sayMinutes(median)}</b>
        <span>until half had it</span>
        <small>{median === null ? "fewer than half have" : between(sayMinutes(low), sayMinutes(high))}</small>
      </li>
      <li>
        <b>{sayMinutes(quartiles[1].at)}</b>
        <span>until three of four had it</span>
        <small>
          one of four after {sayMinutes(quartiles[0].at)}
          {clock === "desk" ? ", open hours" : ""}
        </small>
      </li>
      <li>
        <b>{percent(inTarget.share)}</b>
        <span>
          tried within the target{" "}
          <Button look="bare" onClick={() => onBehind("late", "Not tried within the target")}>
            the others
          </Button>
        </span>
        <small>
          {inTarget.n === 0
            ? "none was due"
            : `${between(percent(inTarget.low), percent(inTarget.high))}, of ${count(inTarget.n)}`}
        </small>
      </li>
      <li>
        <b>{count(n)}</b>
        <span>leads</span>
        <small>
          {until === "try" ? (
            <Button look="bare" onClick={() => onBehind("untried", "Nobody has tried them")}>
              {count(censored)} not tried
            </Button>
          ) : (
            `${count(censored)} without it so far`
          )}
        </small>
      </li>
    </ul>
  );
}

function Waits({ data, until, clock }: Part & { readonly until: Until; readonly clock: string }) {
  const order = [...data.milestones].sort((a, b) => Number(b.until === until) - Number(a.until === until));
  const draw = drawWaits(
    order.map((m, i) => ({
      name: CURVES[m.until],
      points: m.curve,
      look: i === 0 ? ("strong" as const) : m.until === "reply" ? ("faint" as const) : ("plain" as const),
      band: i === 0,
    })),
    data.target,
  );
  return (
    <Plot
      title="Share of leads still waiting"
      said={`From coming in until ${WHAT[until]}, in ${clock === "desk" ? "the desk’s open hours as they are now" : "all hours"}. Leads that still wait, and those closed or set aside before, count as long as they waited (Kaplan and Meier; the band is where the true share lies 95 times in 100).`}
      label={`Share still waiting. ${data.milestones.map((m) => `${CURVES[m.until]}: ${percent(m.curve.at(-1)?.s ?? 1)} at the end`).join("; ")}`}
      draw={draw}
      height={300}
      file="response"
      table={{
        head: ["Until", "Minutes", "Still wait", "At least", "At most", "Waiting before"],
        rows: data.milestones.flatMap((m) =>
          m.curve.map((p) => [
            CURVES[m.until],
            p.t.toFixed(2),
            p.s.toFixed(4),
            p.low.toFixed(4),
            p.high.toFixed(4),
            String(p.atRisk),
          ]),
        ),
      }}
    >
      {!data.everOpen && clock === "desk" && (
        <p className={styles.note}>
          The desk was not open in these days: choose all hours to see how long they waited.
        </p>
      )}
    </Plot>
  );
}

function Split({ data }: Part) {
  const { before, after, logRank, atTarget } = data.split!;
  const draw = drawWaits(
    [
      { name: "after", points: after.curve, look: "strong", band: true },
      { name: "before", points: before.curve, look: "plain", band: true },
    ],
    data.target,
  );
  const target = data.target === null ? "" : sayMinutes(data.target);
  const difference = atTarget
    ? `${target} after coming in, ${Math.abs(atTarget.difference * 100).toFixed(1)} of 100 ${atTarget.difference >= 0 ? "more" : "fewer"} had it than before (between ${(atTarget.low * 100).toFixed(1)} and ${(atTarget.high * 100).toFixed(1)}).`
    : "Too few to say how they differ at the target.";
  const tested = logRank
    ? logRank.p < 0.001
      ? "So great a difference over the whole would hardly ever come by chance (p below 0.001)."
      : `A difference as great over the whole comes by chance in ${(logRank.p * 100).toFixed(1)} of 100 cases.`
    : "Too few to test the difference.";
  return (
    <Plot
      title="Before and after"
      said={`${difference} ${tested} (log-rank; ${before.n} leads before, ${after.n} after.)`}
      label={`Before: half after ${sayMinutes(before.median.at)}. After: half after ${sayMinutes(after.median.at)}.`}
      draw={draw}
      height={240}
      file="response-before-after"
      table={{
        head: ["When", "Minutes", "Still wait", "At least", "At most"],
        rows: (["before", "after"] as const).flatMap((when) =>
          data.split![when].curve.map((p) => [
            when,
            p.t.toFixed(2),
            p.s.toFixed(4),
            p.low.toFixed(4),
            p.high.toFixed(4),
          ]),
        ),
      }}
    />
  );
}

/** So many groups are drawn; all of them stand in the table. */
const MOST_GROUPS = 24;

function ByGroup({
  data,
  by,
  name,
  onBehind,
}: Part & { readonly by: string; readonly name: string; readonly onBehind: PageProps["onBehind"] }) {
  const shown = data.groups.slice(0, MOST_GROUPS);
  const rows = shown.map(
    (g): RangeRow => ({
      name: `${g.name} (${g.n})`,
      at: g.median.at,
      low: g.median.low,
      high: g.median.high,
      said: `${g.name}\nhalf after ${sayMinutes(g.median.at)} (${between(sayMinutes(g.median.low), sayMinutes(g.median.high))})\n${percent(g.inTarget.share)} within the target`,
    }),
  );
  const highs = shown.flatMap((g) => [g.median.high ?? g.median.at ?? 0]);
  const max = Math.max(5, data.target ?? 0, ...highs) * 1.2;
  const draw = drawRanges(rows, {
    max,
    of: sayMinutes,
    stretch: true,
    target: data.target === null ? undefined : { at: data.target, name: `target ${sayMinutes(data.target)}` },
  });
  const test = data.logRank;
  const tested = !test
    ? "Too few to test whether they differ."
    : test.p < 0.001
      ? "That they differ is hardly chance (log-rank, p below 0.001)."
      : `So much difference comes by chance in ${(test.p * 100).toFixed(0)} of 100 cases (log-rank).`;
  return (
    <Plot
      title={`By ${name}`}
      said={`How long until half had it, with where the true figure lies 95 times in 100. ${tested}`}
      label={rows.map((r) => r.said.replaceAll("\n", ", ")).join("; ")}
      draw={draw}
      height={rangesHeight(rows.length)}
      file={`response-by-${by}`}
      table={{
        head: [
          name,
          "Leads",
          "Without it",
          "Half after, min",
          "At least",
          "At most",
          "In target",
          "At least",
          "At most",
          "Of",
        ],
        rows: data.groups.map((g) => [
          g.name,
          String(g.n),
          String(g.censored),
          g.median.at?.toFixed(2) ?? "",
          g.median.low?.toFixed(2) ?? "",
          g.median.high?.toFixed(2) ?? "",
          g.inTarget.share?.toFixed(4) ?? "",
          g.inTarget.low.toFixed(4),
          g.inTarget.high.toFixed(4),
          String(g.inTarget.n),
        ]),
      }}
    >
      <WhichLeads
        parts={shown.map((g) => ({
          key: g.key ?? "",
          label: g.name,
          n: g.n,
          onOpen: () => onBehind("all", g.name, { by, key: g.key }),
        }))}
      />
    </Plot>
  );
}

function ByHour({ data }: Part) {
  const cells = data.groups.map((g) => ({
    hour: Number(g.key),
    value: g.inTarget.share,
    label: g.inTarget.share === null ? "" : String(Math.round(g.inTarget.share * 100)),
    said: `${g.name}\n${g.n} leads, ${percent(g.inTarget.share)} within the target (${between(percent(g.inTarget.low), percent(g.inTarget.high))})\nhalf after ${sayMinutes(g.median.at)}`,
  }));
  const draw = drawWeek(cells, [0, 1], ["--ember-wash", "--sheet", "--tarn-wash"]);
  const rows = [...data.groups].sort((a, b) => Number(a.key) - Number(b.key));
  return (
    <Plot
      title="By hour of the week they came in"
      said="Of 100 leads that came in an hour, how many were tried within the target, by the desk’s clock. Few leads in an hour say little: the table has the intervals."
      label={`Within the target by hour: ${rows.map((g) => `${g.name} ${percent(g.inTarget.share)}`).join(", ")}`}
      draw={draw}
      height={WEEK_HEIGHT}
      file="response-by-hour"
      table={{
        head: ["Hour", "Leads", "In target", "At least", "At most", "Half after, min"],
        rows: rows.map((g) => [
          g.name,
          String(g.n),
          g.inTarget.share?.toFixed(4) ?? "",
          g.inTarget.low.toFixed(4),
          g.inTarget.high.toFixed(4),
          g.median.at?.toFixed(2) ?? "",
        ]),
      }}
    />
  );
}

function Offers({ data }: Part) {
  const rows = data.offers.map(
    (o): RangeRow => ({
      name: `${o.name} (${o.asked})`,
      at: o.median.at,
      low: o.median.low,
      high: o.median.high,
      said: `${o.name}: half of the offers taken after ${sayMinutes(o.median.at)}\ntook ${percent(o.took.share)}, passed ${o.passed}, lapsed ${o.lapsed}, ${o.gone} went to others first`,
    }),
  );
  const max = Math.max(2, ...data.offers.map((o) => o.median.high ?? o.median.at ?? 0)) * 1.2;
  const draw = drawRanges(rows, { max, of: sayMinutes, stretch: true });
  if (data.offers.length === 0) return null;
  return (
    <Plot
      title="Offers: how long until they are taken"
      said="From being asked until half of the offers were taken, by the wall. Offers passed, lapsed or taken by others first count as long as they could still have been taken."
      label={rows.map((r) => r.said.replaceAll("\n", ", ")).join("; ")}
      draw={draw}
      height={rangesHeight(rows.length)}
      file="offers"
      table={{
        head: [
          "Person",
          "Asked",
          "Took",
          "At least",
          "At most",
          "Passed",
          "Lapsed",
          "Gone",
          "Half after, min",
        ],
        rows: data.offers.map((o) => [
          o.name,
          String(o.asked),
          o.took.share?.toFixed(4) ?? "",
          o.took.low.toFixed(4),
          o.took.high.toFixed(4),
          String(o.passed),
          String(o.lapsed),
          String(o.gone),
          o.median.at?.toFixed(2) ?? "",
        ]),
      }}
    />
  );
}

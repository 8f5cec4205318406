import { useMemo, useState } from "react";
import { percent } from "../../../core/report/words.ts";
import { useInAddress } from "../../live/address.ts";
import { useSourceFigures } from "../../live/figure-queries.ts";
import { useMe } from "../../live/queries.ts";
import { Button } from "../../ui/Button.tsx";
import { Choice } from "../../ui/Choice.tsx";
import { Empty } from "../../ui/Empty.tsx";
import { Plot } from "../../ui/Plot.tsx";
import { Scrolls } from "../../ui/Scrolls.tsx";
import type { SourceFigures } from "../../wire/figure-schemas.ts";
import styles from "./Figures.module.css";
import type { PageProps } from "./page.ts";
import { drawRanges, type RangeRow, rangesHeight } from "./plots.ts";
import { SpendDialog } from "./SpendDialog.tsx";

const BY = [
  { value: "source", label: "source" },
  { value: "campaign", label: "campaign" },
  { value: "month", label: "month they came in" },
] as const;
const ATTRIBUTION = [
  { value: "first", label: "first inquiry" },
  { value: "last", label: "latest inquiry" },
] as const;

type Told = SourceFigures["groups"][number];
type Cost = Told["perWon"];

/** Money as it is read in passing: whole units from a hundred on. */
function useMoney(currency: string | undefined) {
  return useMemo(() => {
    const shape = (digits: number) =>
      new Intl.NumberFormat("en-US", {
        style: "currency",
        currency: currency ?? "USD",
        minimumFractionDigits: digits,
        maximumFractionDigits: digits,
      });
    const [whole, exact] = [shape(0), shape(2)];
    return (amount: number | null) =>
      amount === null ? "–" : (amount >= 100 ? whole : exact).format(amount);
  }, [currency]);
}

/** What sources brought and cost. */
export function SourcesPage({ span, onBehind }: PageProps) {
  const [bySet, setBy] = useInAddress("by");
  const [attributionSet, setAttribution] = useInAddress("attribution");
  const by = BY.find((b) => b.value === bySet)?.value ?? "source";
  const attribution = ATTRIBUTION.find((a) => a.value === attributionSet)?.value ?? "first";
  const { data, error } = useSourceFigures({ ...span, by, attribution });
  const { data: me } = useMe();
  const [spending, setSpending] = useState(false);
  const money = useMoney(data?.currency);
  return (
    <>
      <div className={styles.asks}>
        <Choice label="By" value={by} options={BY} onChange={(v) => setBy(v, { replace: true })} />
        <Choice
          label="A lead counts for its"
          value={attribution}
          options={ATTRIBUTION}
          onChange={(v) => setAttribution(v, { replace: true })}
        />
        {me?.rights.includes("setup.change") && (
          <Button onClick={() => setSpending(true)}>Enter spend</Button>
        )}
      </div>
      {error && !data && <p role="alert">{error.message}</p>}
      {!data && !error && <p className={styles.loading}>Reading the record …</p>}
      {data && data.whole.leads === 0 && (
        <Empty title="Nobody inquired in these days">
          <p>
            Choose other days. What sources brought is told by the leads that came in then, whenever they were
            won.
          </p>
        </Empty>
      )}
      {data && data.whole.leads > 0 && (
        <>
          <Table data={data} by={by} money={money} onBehind={onBehind} />
          {data.whole.spend !== null && (
            <div className={styles.two}>
              <Costs data={data} of="perReached" title="Cost of one person reached" money={money} />
              <Costs data={data} of="perWon" title="Cost of one lead won" money={money} />
            </div>
          )}
          <Shares data={data} of="reached" title="Reached" />
          <Shares data={data} of="won" title="Won so far" />
          <p className={styles.note}>
            Leads count where they came in, and what was won of them later counts there too. Spend is that of
            whole months ({data.months.join(", ")}): choose days that are whole months to hold it against what
            came. Ranges are where the true figure lies 95 times in 100 (Wilson for shares, Poisson for what a
            count costs). Qualified is whoever has come as far as “{data.qualifiedFrom}”.
            {data.elsewhere.length > 0 &&
              ` Not counted: ${data.elsewhere.map((e) => `${e.amount.toLocaleString("en")} ${e.currency}`).join(", ")}, which is in another currency than the company’s.`}
          </p>
        </>
      )}
      {spending && <SpendDialog onClose={() => setSpending(false)} />}
    </>
  );
}

interface Part {
  readonly data: SourceFigures;
  readonly money: (amount: number | null) => string;
}

function Table({
  data,
  by,
  money,
  onBehind,
}: Part & { readonly by: string; readonly onBehind: PageProps["onBehind"] }) {
  const isSpent = data.whole.spend !== null;
  return (
    <Scrolls label="What sources brought and cost">
      <table className={styles.table}>
        <thead>
          <tr>
            <th scope="col">{by === "month" ? "Month" : by === "campaign" ? "Campaign" : "Source"}</th>
            <th scope="col">Inquiries</th>
            <th scope="col">Leads</th>
            <th scope="col">Reached</th>
            <th scope="col">Qualified</th>
            <th scope="col">Won</th>
            <th scope="col">Value won</th>
            {isSpent && (
              <>
                <th scope="col">Spend</th>
                <th scope="col">per inquiry</th>
                <th scope="col">per reached</th>
                <th scope="col">per won</th>
                <th scope="col">Won per 1 spent</th>
              </>
            )}
          </tr>
        </thead>
        <tbody>
          {[...data.groups, data.whole].map((told) => (
            <tr key={told.key}>
              <th scope="row">{told.name}</th>
              <td>{told.inquiries}</td>
              <td>
                {told === data.whole ? (
                  told.leads
                ) : (
                  <Button look="bare" onClick={() => onBehind("all", told.name, { by, key: told.key })}>
                    {told.leads}
                  </Button>
                )}
              </td>
              {(["reached", "qualified", "won"] as const).map((part) => (
                <td key={part}>
                  {told === data.whole ? (
                    told[part].hits
                  ) : (
                    <Button
                      look="bare"
                      onClick={() => onBehind(part, `${told.name}: ${part}`, { by, key: told.key })}
                    >
                      {told[part].hits}
                    </Button>
                  )}
                  <small>{percent(told[part].share)}</small>
                </td>
              ))}
              <td>{money(told.value)}</td>
              {isSpent && (
                <>
                  <td>{money(told.spend)}</td>
                  <CostCell cost={told.perInquiry} money={money} />
                  <CostCell cost={told.perReached} money={money} />
                  <CostCell cost={told.perWon} money={money} />
                  <td>{told.return === null ? "–" : told.return.toFixed(1)}</td>
                </>
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </Scrolls>
  );
}

function CostCell({ cost, money }: { readonly cost: Cost; readonly money: Part["money"] }) {
  return (
    <td>
      {money(cost.each)}
      {cost.low !== null && (
        <small>
          {cost.high === null ? `from ${money(cost.low)}` : `${money(cost.low)} to ${money(cost.high)}`}
        </small>
      )}
    </td>
  );
}

function Costs({
  data,
  of,
  title,
  money,
}: Part & { readonly of: "perReached" | "perWon"; readonly title: string }) {
  const told = data.groups.filter((g) => g.spend !== null);
  const rows = told.map((g): RangeRow => {
    const { each, low, high } = g[of];
    const range = high === null ? `from ${money(low)}` : `${money(low)} to ${money(high)}`;
    return { name: g.name, at: each, low, high, said: `${g.name}: ${money(each)} (${range})` };
  });
  const max = Math.max(1, ...rows.map((r) => Math.min(r.high ?? 0, (r.at ?? 0) * 4) || r.low || 0)) * 1.15;
  const draw = drawRanges(rows, { max, of: money });
  return (
    <Plot
      title={title}
      said="What was spent over how many there were, with what chance leaves open. A bar that runs to the edge has no upper bound that could be told, or one beyond it."
      label={rows.map((r) => r.said).join("; ")}
      draw={draw}
      height={rangesHeight(rows.length)}
      file={`sources-${of}`}
      table={{
        head: ["Source", "Each", "At least", "At most"],
        rows: told.map((g) => [
          g.name,
          g[of].each?.toFixed(2) ?? "",
          g[of].low?.toFixed(2) ?? "",
          g[of].high?.toFixed(2) ?? "",
        ]),
      }}
    />
  );
}

function Shares({
  data,
  of,
  title,
}: {
  readonly data: SourceFigures;
  readonly of: "reached" | "won";
  readonly title: string;
}) {
  const told = data.groups.filter((g) => g.leads > 0);
  const rows = told.map((g): RangeRow => {
    const { share, low, high, n } = g[of];
    return {
      name: `${g.name} (${n})`,
      at: share,
      low,
      high,
      said: `${g.name}: ${percent(share)} of ${n} (${percent(low)} to ${percent(high)})`,
    };
  });
  const max = Math.min(
    1,
    Math.max(0.05, ...told.map((g) => (g.leads < 5 ? (g[of].share ?? 0) : g[of].high))) * 1.05,
  );
  const draw = drawRanges(rows, { max, of: (v) => `${Math.round(v * 100)} %` });
  return (
    <Plot
      title={title}
      said="The share of leads, with where the true share lies 95 times in 100."
      label={rows.map((r) => r.said).join("; ")}
      draw={draw}
      height={rangesHeight(rows.length)}
      file={`sources-${of}`}
      table={{
        head: ["Source", "Leads", "Of them", "Share", "At least", "At most"],
        rows: told.map((g) => [
          g.name,
          String(g[of].n),
          String(g[of].hits),
          g[of].share?.toFixed(4) ?? "",
          g[of].low.toFixed(4),
          g[of].high.toFixed(4),
        ]),
      }}
    />
  );
}

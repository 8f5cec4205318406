import type { CustomSeriesRenderItem } from "echarts";
import { percent, sayMinutes, WEEKDAYS } from "../../../core/report/words.ts";
import type { Drawn, Inks } from "../../ui/use-chart.ts";

/** How figures are drawn: waits, ranges, bars, weeks. Uncertainty is always drawn with them. */

/** A figure with the bounds of its interval. */
export const between = (low: string, high: string): string => `${low} to ${high}`;

/** What hovering tells, line by line: words of anybody’s, and never read as HTML. */
function told(...lines: readonly string[]): HTMLElement {
  const box = document.createElement("div");
  box.style.whiteSpace = "pre-line";
  box.textContent = lines.join("\n");
  return box;
}

/** Where minutes lie on a scale that stretches the first ones. */
const stretched = (minutes: number) => Math.log10(1 + minutes);
const shrunk = (x: number) => 10 ** x - 1;
const TICKS = [0, 1, 2, 5, 15, 60, 240, 600, 1440, 4320, 10_080, 43_200];

const tick = (minutes: number) =>
  minutes < 60 ? `${minutes} min` : minutes < 1440 ? `${minutes / 60} h` : `${minutes / 1440} d`;

const waitAxis = (most: number, text: Record<string, unknown>, ink: Inks) => {
  const ticks = TICKS.filter((t) => t <= most * 1.05).map(stretched);
  return {
    type: "value" as const,
    min: 0,
    max: stretched(most),
    axisTick: { show: true, customValues: ticks },
    axisLabel: {
      ...text,
      customValues: ticks,
      formatter: (x: number) => tick(Math.round(shrunk(x))),
      hideOverlap: true,
    },
    axisLine: { show: true, lineStyle: { color: ink("--rule-strong") } },
    splitLine: { show: false },
  };
};

/** Round steps of an axis from 0 that end at or above the most: a quarter each of a round figure. */
function steps(most: number): { max: number; interval: number } {
  const size = 10 ** Math.floor(Math.log10(most / 4));
  const interval =
    [1, 1.25, 1.5, 2, 2.5, 3, 4, 5, 7.5, 10].map((n) => n * size).find((n) => n * 4 >= most * 0.999) ??
    most / 4;
  return { max: interval * 4, interval };
}

export interface Curve {
  readonly name: string;
  readonly points: readonly {
    readonly t: number;
    readonly s: number;
    readonly low: number;
    readonly high: number;
  }[];
  readonly look: "strong" | "plain" | "faint";
  /** Whether its band is drawn. */
  readonly band?: boolean;
}

/** So far a curve of waits is drawn: to where so few are left that nothing more can be said, two weeks at most (minutes). */
const FURTHEST = 20_160;

/** The share that still waits, falling, with bands, the target as a labelled line. Each curve is named where it ends. */
export function drawWaits(curves: readonly Curve[], target: number | null): Drawn {
  const last = Math.max(...curves.map((c) => c.points.at(-1)?.t ?? 0), target ?? 0, 5);
  const most = Math.min(FURTHEST, last * 1.1);
  return (ink, text) => {
    const color = { strong: ink("--tarn"), plain: ink("--ink"), faint: ink("--ink-2") };
    const type = { strong: "solid", plain: "dashed", faint: "dotted" } as const;
    const data = (points: Curve["points"], of: (p: Curve["points"][number]) => number) => {
      const within = points.filter((p) => p.t <= most);
      const end = within.at(-1);
      return [...within.map((p) => [stretched(p.t), of(p)]), ...(end ? [[stretched(most), of(end)]] : [])];
    };
    return {
      grid: { left: 4, right: 16, top: 44, bottom: 4, containLabel: true },
      legend: {
        top: 0,
        left: 0,
        data: curves.map((c) => c.name),
        textStyle: { ...text, color: ink("--ink") },
        itemWidth: 28,
      },
      tooltip: {
        trigger: "axis" as const,
        formatter: (items: unknown) => {
          const shown = (items as { seriesName: string; value: [number, number] }[]).filter(
            (i) => i.seriesName,
          );
          const at = shown[0] ? sayMinutes(shrunk(shown[0].value[0])) : "";
          return told(at, ...shown.map((i) => `${i.seriesName}: ${percent(i.value[1])} still wait`));
        },
      },
      xAxis: waitAxis(most, text, ink),
      yAxis: {
        type: "value" as const,
        min: 0,
        max: 1,
        interval: 0.25,
        axisLabel: { ...text, formatter: (v: number) => `${v * 100} %` },
        splitLine: { lineStyle: { color: ink("--rule") } },
      },
      series: curves.flatMap((curve, i) => [
        ...(curve.band
          ? [
              {
                type: "line" as const,
                name: "",
                stack: `band${i}`,
                step: "end" as const,
                symbol: "none",
                silent: true,
                lineStyle: { opacity: 0 },
                data: data(curve.points, (p) => p.low),
              },
              {
                type: "line" as const,
                name: "",
                stack: `band${i}`,
                step: "end" as const,
                symbol: "none",
                silent: true,
                lineStyle: { opacity: 0 },
                areaStyle: { color: color[curve.look], opacity: 0.14 },
                data: data(curve.points, (p) => p.high - p.low),
              },
            ]
          : []),
        {
          type: "line" as const,
          name: curve.name,
          step: "end" as const,
          symbol: "none",
          lineStyle: { width: 2, color: color[curve.look], type: type[curve.look] },
          itemStyle: { color: color[curve.look] },
          data: data(curve.points, (p) => p.s),
          ...(i === 0 &&
            target !== null && {
              markLine: {
                symbol: "none",
                silent: true,
                label: {
                  ...text,
                  color: ink("--brass"),
                  formatter: `target ${tick(target)}`,
                  position: "end" as const,
                },
                lineStyle: { color: ink("--brass"), type: "solid" as const, width: 1 },
                data: [{ xAxis: stretched(target) }],
              },
            }),
        },
      ]),
    };
  };
}

export interface RangeRow {
  readonly name: string;
  readonly at: number | null;
  readonly low: number | null;
  readonly high: number | null;
  /** A wider range around it, drawn thin. */
  readonly wide?: { readonly low: number; readonly high: number } | undefined;
  /** Another figure on the same scale, drawn as a hollow mark. */
  readonly other?: number | null | undefined;
  /** Needs to be looked at. */
  readonly alarm?: boolean | undefined;
  readonly said: string;
}

interface Scale {
  readonly max: number;
  readonly of: (value: number) => string;
  readonly stretch?: boolean;
  readonly target?: { readonly at: number; readonly name: string } | undefined;
}

/** A diamond with its range on each line, as leads and people are drawn here. */
export function drawRanges(rows: readonly RangeRow[], scale: Scale): Drawn {
  const x = (value: number) => (scale.stretch ? stretched(value) : value);
  const most = scale.stretch ? scale.max : steps(scale.max).max;
  const cut = (value: number) => Math.min(Math.max(0, value), most);
  return (ink, text) => {
    const render: CustomSeriesRenderItem = (params, api) => {
      const row = rows[params.dataIndex]!;
      const at = (value: number) => api.coord([x(cut(value)), params.dataIndex]) as [number, number];
      const line = (from: number, to: number, width: number, color: string) => {
        const [x1, y] = at(from);
        const [x2] = at(to);
        return {
          type: "line" as const,
          shape: { x1, x2, y1: y, y2: y },
          style: { stroke: color, lineWidth: width },
        };
      };
      const diamond = (value: number, hollow: boolean) => {
        const [cx, cy] = at(value);
        const r = 5;
        const color = row.alarm ? ink("--ember") : hollow ? ink("--ink-2") : ink("--tarn");
        return {
          type: "polygon" as const,
          shape: {
            points: [
              [cx, cy - r],
              [cx + r, cy],
              [cx, cy + r],
              [cx - r, cy],
            ] as [number, number][],
          },
          style: { fill: hollow ? ink("--sheet") : color, stroke: color, lineWidth: 1.5 },
        };
      };
      return {
        type: "group" as const,
        children: [
          ...(row.wide ? [line(row.wide.low, row.wide.high, 1, ink("--rule-strong"))] : []),
          ...(row.low !== null ? [line(row.low, row.high ?? most, 5, ink("--rule-strong"))] : []),
          ...(row.other !== null && row.other !== undefined ? [diamond(row.other, true)] : []),
          ...(row.at !== null ? [diamond(row.at, false)] : []),
        ],
      };
    };
    const axis = scale.stretch
      ? waitAxis(scale.max, text, ink)
      : {
          type: "value" as const,
          min: 0,
          ...steps(scale.max),
          axisLabel: { ...text, formatter: scale.of, hideOverlap: true },
          axisLine: { show: true, lineStyle: { color: ink("--rule-strong") } },
          splitLine: { show: false },
        };
    return {
      grid: { left: 4, right: 24, top: scale.target ? 24 : 6, bottom: 4, containLabel: true },
      tooltip: {
        formatter: (item: unknown) => told(rows[(item as { dataIndex: number }).dataIndex]?.said ?? ""),
      },
      xAxis: axis,
      yAxis: {
        type: "category" as const,
        inverse: true,
        data: rows.map((r) => r.name),
        axisTick: { show: false },
        axisLine: { show: false },
        axisLabel: { ...text, color: ink("--ink"), width: 190, overflow: "truncate" as const, interval: 0 },
        splitLine: { show: true, lineStyle: { color: ink("--rule") } },
      },
      series: [
        {
          type: "custom" as const,
          renderItem: render,
          data: rows.map((r, i) => [x(cut(r.at ?? r.low ?? 0)), i]),
          ...(scale.target && {
            markLine: {
              symbol: "none",
              silent: true,
              label: {
                ...text,
                color: ink("--brass"),
                formatter: scale.target.name,
                position: "start" as const,
              },
              lineStyle: { color: ink("--brass"), type: "solid" as const, width: 1 },
              data: [{ xAxis: x(scale.target.at) }],
            },
          }),
        },
      ],
    };
  };
}
/** How high a picture of so many lines is. */
export const rangesHeight = (rows: number): number => 48 + rows * 26;

export interface BarsDrawn {
  readonly names: readonly string[];
  readonly bars: readonly {
    readonly value: number | null;
    readonly low?: number | undefined;
    readonly high?: number | undefined;
    readonly said: string;
  }[];
  readonly of: (value: number) => string;
  readonly max?: number | undefined;
  /** A second figure by the same names, drawn as a stepped line. */
  readonly line?: { readonly name: string; readonly values: readonly (number | null)[] } | undefined;
}

/** Standing bars with the bounds of chance, and a stepped line to hold them against. */
export function drawBars({ names, bars, of, max, line }: BarsDrawn): Drawn {
  return (ink, text) => {
    const whisker: CustomSeriesRenderItem = (params, api) => {
      const { low, high } = bars[params.dataIndex]!;
      if (low === undefined || high === undefined) return null;
      const [cx, y1] = api.coord([params.dataIndex, low]) as [number, number];
      const [, y2] = api.coord([params.dataIndex, Math.min(high, max ?? high)]) as [number, number];
      return {
        type: "line" as const,
        shape: { x1: cx, x2: cx, y1, y2 },
        style: { stroke: ink("--ink"), lineWidth: 1 },
        silent: true,
      };
    };
    return {
      grid: { left: 4, right: 8, top: 24, bottom: 4, containLabel: true },
      tooltip: {
        trigger: "axis" as const,
        axisPointer: { type: "shadow" as const },
        formatter: (items: unknown) =>
          told(bars[(items as { dataIndex: number }[])[0]?.dataIndex ?? 0]?.said ?? ""),
      },
      xAxis: {
        type: "category" as const,
        data: [...names],
        axisTick: { show: false },
        axisLine: { lineStyle: { color: ink("--rule-strong") } },
        axisLabel: { ...text, hideOverlap: true },
      },
      yAxis: {
        type: "value" as const,
        min: 0,
        ...steps(max ?? Math.max(1, ...bars.map((b) => b.high ?? b.value ?? 0))),
        axisLabel: { ...text, formatter: of },
        splitLine: { lineStyle: { color: ink("--rule") } },
      },
      series: [
        {
          type: "bar" as const,
          data: bars.map((b) => b.value),
          itemStyle: { color: ink("--tarn"), opacity: 0.75 },
          barCategoryGap: "35%",
        },
        { type: "custom" as const, renderItem: whisker, data: bars.map((_, i) => [i, 0]), z: 3 },
        ...(line
          ? [
              {
                type: "line" as const,
                name: line.name,
                data: [...line.values],
                step: "middle" as const,
                symbol: "none",
                lineStyle: { color: ink("--ink"), width: 2, type: "dashed" as const },
                endLabel: {
                  show: true,
                  ...text,
                  color: ink("--ink"),
                  formatter: line.name,
                  align: "right" as const,
                  offset: [0, -12],
                },
              },
            ]
          : []),
      ],
    };
  };
}

export interface WeekCell {
  readonly hour: number;
  readonly value: number | null;
  readonly label: string;
  readonly said: string;
}

/**
 * The hours of a week: days below one another, hours to the right. Cells say their figure in words; ink grows with `value`, from
 * the least to the most.
 */
export function drawWeek(
  cells: readonly WeekCell[],
  ends: readonly [number, number],
  inks: readonly string[],
): Drawn {
  const shown = cells.filter((c) => c.value !== null);
  const hours = shown.map((c) => c.hour % 24);
  const first = Math.min(...hours, 23);
  const last = Math.max(...hours, first);
  return (ink, text) => ({
    grid: { left: 4, right: 4, top: 4, bottom: 4, containLabel: true },
    tooltip: {
      formatter: (item: unknown) => told(shown[(item as { dataIndex: number }).dataIndex]?.said ?? ""),
    },
    visualMap: {
      show: false,
      min: ends[0],
      max: ends[1],
      dimension: 2,
      inRange: { color: inks.map((name) => ink(name)) },
    },
    xAxis: {
      type: "category" as const,
      data: Array.from({ length: last - first + 1 }, (_, i) => `${first + i}`),
      axisTick: { show: false },
      axisLine: { show: false },
      axisLabel: text,
    },
    yAxis: {
      type: "category" as const,
      inverse: true,
      data: [...WEEKDAYS],
      axisTick: { show: false },
      axisLine: { show: false },
      axisLabel: { ...text, color: ink("--ink") },
    },
    series: [
      {
        type: "heatmap" as const,
        data: shown.map((c) => [(c.hour % 24) - first, Math.floor(c.hour / 24), c.value!]),
        label: {
          show: true,
          ...text,
          fontSize: 11,
          color: ink("--ink"),
          formatter: ({ dataIndex }: { dataIndex: number }) => shown[dataIndex]!.label,
        },
        itemStyle: { borderColor: ink("--paper"), borderWidth: 2 },
        emphasis: { disabled: true },
      },
    ],
  });
}
/** How high a picture of a week is. */
export const WEEK_HEIGHT = 250;

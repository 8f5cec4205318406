import { useCallback } from "react";
import { type Inks, useChart } from "./use-chart.ts";

interface Props {
  /** What it shows, for whoever can't see it; the figures stand in a table beside it. */
  readonly label: string;
  readonly names: readonly string[];
  readonly series: readonly {
    readonly name: string;
    readonly values: readonly number[];
    readonly faint?: boolean;
  }[];
  readonly unit: string;
  readonly className?: string | undefined;
}

/** Lying bars, one for each series beside each name, in the desk's own inks. */
export function Bars({ label, names, series, unit, className }: Props) {
  const option = useCallback(
    (ink: Inks, text: Record<string, unknown>) => ({
      color: series.map((s) => (s.faint ? ink("--rule-strong") : ink("--tarn"))),
      grid: { left: 0, right: 40, top: 28, bottom: 20, containLabel: true },
      legend: { top: 0, left: 0, icon: "rect", itemWidth: 10, itemHeight: 10, textStyle: text },
      tooltip: {
        trigger: "axis" as const,
        axisPointer: { type: "shadow" as const },
        valueFormatter: (v: unknown) => `${v} ${unit}`,
      },
      xAxis: {
        type: "value" as const,
        name: unit,
        nameLocation: "end" as const,
        nameGap: 6,
        nameTextStyle: text,
        splitNumber: 4,
        splitLine: { lineStyle: { color: ink("--rule") } },
        axisLabel: text,
      },
      yAxis: {
        type: "category" as const,
        inverse: true,
        data: [...names],
        axisTick: { show: false },
        axisLine: { lineStyle: { color: ink("--rule-strong") } },
        axisLabel: { ...text, color: ink("--ink"), interval: 0 },
      },
      series: series.map((s) => ({
        type: "bar" as const,
        name: s.name,
        data: [...s.values],
        barMaxWidth: 9,
        barGap: "20%",
        label: { show: true, position: "right" as const, distance: 4, ...text, fontSize: 11 },
      })),
    }),
    [names, series, unit],
  );
  const node = useChart(option);
  return (
    <div
      ref={node}
      role="img"
      aria-label={label}
      className={className}
      style={{ height: 56 + names.length * 15 * series.length }}
    />
  );
}

/** What came in each hour of a day, as bars, against what is usual, as steps. */
export function Hours({
  label,
  came,
  usual,
}: {
  readonly label: string;
  readonly came: readonly number[];
  readonly usual: readonly number[];
}) {
  const option = useCallback(
    (ink: Inks, text: Record<string, unknown>) => ({
      color: [ink("--tarn"), ink("--ink-2")],
      grid: { left: 0, right: 4, top: 28, bottom: 4, containLabel: true },
      legend: { top: 0, left: 0, itemWidth: 12, itemHeight: 8, textStyle: text },
      tooltip: {
        trigger: "axis" as const,
        valueFormatter: (v: unknown) => String(Math.round(Number(v) * 10) / 10),
      },
      xAxis: {
        type: "category" as const,
        data: came.map((_, hour) => String(hour)),
        axisTick: { show: false },
        axisLine: { lineStyle: { color: ink("--rule-strong") } },
        axisLabel: { ...text, interval: 2 },
      },
      yAxis: {
        type: "value" as const,
        minInterval: 1,
        splitNumber: 3,
        splitLine: { lineStyle: { color: ink("--rule") } },
        axisLabel: text,
      },
      series: [
        { type: "bar" as const, name: "came in", data: [...came], barCategoryGap: "30%" },
        {
          type: "line" as const,
          name: "usual",
          data: [...usual],
          step: "middle" as const,
          symbol: "none",
          lineStyle: { width: 2, type: "dashed" as const },
        },
      ],
    }),
    [came, usual],
  );
  const node = useChart(option);
  return <div ref={node} role="img" aria-label={label} style={{ height: 180 }} />;
}

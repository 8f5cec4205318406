import { BarChart } from "echarts/charts";
import { GridComponent, LegendComponent, TooltipComponent } from "echarts/components";
import { init, use as register } from "echarts/core";
import { SVGRenderer } from "echarts/renderers";
import { useEffect, useRef } from "react";

register([BarChart, GridComponent, LegendComponent, TooltipComponent, SVGRenderer]);

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
  const node = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const element = node.current;
    if (!element) return;
    const ink = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();
    const text = {
      color: ink("--ink-2"),
      fontFamily: getComputedStyle(document.body).fontFamily,
      fontSize: 12,
    };
    const chart = init(element, undefined, { renderer: "svg" });
    chart.setOption({
      animation: false,
      color: series.map((s) => (s.faint ? ink("--rule-strong") : ink("--tarn"))),
      grid: { left: 0, right: 40, top: 28, bottom: 20, containLabel: true },
      legend: { top: 0, left: 0, icon: "rect", itemWidth: 10, itemHeight: 10, textStyle: text },
      tooltip: {
        trigger: "axis",
        axisPointer: { type: "shadow" },
        valueFormatter: (v: unknown) => `${v} ${unit}`,
      },
      xAxis: {
        type: "value",
        name: unit,
        nameLocation: "end",
        nameGap: 6,
        nameTextStyle: text,
        splitNumber: 4,
        splitLine: { lineStyle: { color: ink("--rule") } },
        axisLabel: text,
      },
      yAxis: {
        type: "category",
        inverse: true,
        data: [...names],
        axisTick: { show: false },
        axisLine: { lineStyle: { color: ink("--rule-strong") } },
        axisLabel: { ...text, color: ink("--ink"), interval: 0 },
      },
      series: series.map((s) => ({
        type: "bar",
        name: s.name,
        data: [...s.values],
        barMaxWidth: 9,
        barGap: "20%",
        label: { show: true, position: "right", distance: 4, ...text, fontSize: 11 },
      })),
    });
    const fit = new ResizeObserver(() => chart.resize());
    fit.observe(element);
    return () => {
      fit.disconnect();
      chart.dispose();
    };
  }, [names, series, unit]);
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

import { BarChart, CustomChart, HeatmapChart, LineChart } from "echarts/charts";
import {
  GridComponent,
  LegendComponent,
  MarkLineComponent,
  TooltipComponent,
  VisualMapComponent,
} from "echarts/components";
import { init, use as register } from "echarts/core";
import { CanvasRenderer, SVGRenderer } from "echarts/renderers";
import { useCallback, useEffect, useRef } from "react";

register([
  BarChart,
  LineChart,
  CustomChart,
  HeatmapChart,
  GridComponent,
  LegendComponent,
  MarkLineComponent,
  TooltipComponent,
  VisualMapComponent,
  SVGRenderer,
  CanvasRenderer,
]);

/** A token’s colour, by its name. */
export type Inks = (name: string) => string;
export type ChartOption = Parameters<ReturnType<typeof init>["setOption"]>[0];
/** What is drawn, in the inks and letters of the theme that is on. */
export type Drawn = (ink: Inks, text: Record<string, unknown>) => ChartOption;

const ink: Inks = (name) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();
const letters = () => ({
  color: ink("--ink-2"),
  fontFamily: getComputedStyle(document.body).fontFamily,
  fontSize: 12,
});

/** A chart that lives as long as its element, drawn again when `option` changes. */
export function useChart(option: Drawn) {
  const node = useRef<HTMLDivElement>(null);
  const chart = useRef<ReturnType<typeof init> | null>(null);
  const draw = useRef(option);
  const redraw = useCallback(
    () => chart.current?.setOption({ animation: false, ...draw.current(ink, letters()) }, { notMerge: true }),
    [],
  );
  useEffect(() => {
    const element = node.current;
    if (!element) return;
    chart.current = init(element, undefined, { renderer: "svg" });
    redraw();
    const fit = new ResizeObserver(() => chart.current?.resize());
    fit.observe(element);
    // Another theme has other inks.
    const theme = new MutationObserver(redraw);
    theme.observe(document.documentElement, { attributeFilter: ["data-theme"] });
    return () => {
      theme.disconnect();
      fit.disconnect();
      chart.current?.dispose();
      chart.current = null;
    };
  }, [redraw]);
  useEffect(() => {
    draw.current = option;
    redraw();
  }, [option, redraw]);
  return node;
}

/** So many dots of a picture lie on one of the page. */
const SHARP = 2;

/** The same chart as a PNG, as large as it is drawn, as an address that holds it. */
export function toPng(option: Drawn, { width, height }: { width: number; height: number }): string {
  const element = document.createElement("div");
  const chart = init(element, undefined, { renderer: "canvas", width, height });
  try {
    chart.setOption({ animation: false, ...option(ink, letters()) });
    return chart.getDataURL({ type: "png", pixelRatio: SHARP, backgroundColor: ink("--sheet") });
  } finally {
    chart.dispose();
  }
}

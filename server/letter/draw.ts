import { mkdtemp, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { renderAsync } from "@resvg/resvg-js";
import { BarChart, LineChart } from "echarts/charts";
import { GridComponent, LegendComponent, TitleComponent } from "echarts/components";
import { type EChartsCoreOption, init, use as register } from "echarts/core";
import { SVGRenderer } from "echarts/renderers";
import type { LetterChart } from "../../core/report/letter/parts.ts";
import { FAMILY, FONT_SETS, fontFile } from "../fonts/face.ts";

register([BarChart, LineChart, GridComponent, LegendComponent, TitleComponent, SVGRenderer]);

/** How large a chart is in the mail (CSS pixels), and how many dots a pixel has: sharp on any screen. */
const WIDTH = 640;
const HEIGHT = 260;
/** What stands above bars on their side, and the axis below them. */
const HEAD_HEIGHT = 96;
/** So many letters fit side by side under an axis. */
const LETTERS = 84;
const DOTS = 2;

/** The inks of the light theme (`web/styles/tokens.css`): a mail is read on paper. */
export const INKS = { paper: "#ffffff", ink: "#1e2430", second: "#565d6b", rule: "#ddd7c9", tarn: "#17636b" };
/** For what stands side by side, told apart by its lightness as well. */
const COLORS = [INKS.tarn, "#b9b09c", "#a8442a"];

/** More names than this are not all written under an axis. */
const MOST_NAMES = 24;

function optionOf(chart: LetterChart): EChartsCoreOption {
  const text = { color: INKS.second, fontFamily: FAMILY, fontSize: 12 };
  const isLines = chart.kind === "lines";
  const isMany = !isLines && chart.names.length > MOST_NAMES;
  const values = {
    type: "value",
    min: 0,
    axisLabel: text,
    minInterval: chart.isShare ? 0 : 1,
    splitLine: { lineStyle: { color: INKS.rule } },
    ...(chart.isShare && { max: 1, axisLabel: { ...text, formatter: shareLabel } }),
  };
  const names = !isLines && {
    type: "category",
    data: [...chart.names],
    axisTick: { show: false },
    axisLine: { lineStyle: { color: INKS.rule } },
    axisLabel: { ...text, hideOverlap: isMany, ...(!isMany && { interval: 0 }) },
  };
  return {
    animation: false,
    backgroundColor: INKS.paper,
    color: COLORS,
    textStyle: text,
    title: {
      text: chart.said,
      left: 4,
      top: 2,
      textStyle: { ...text, color: INKS.ink, fontSize: 13, fontWeight: "normal" },
    },
    grid: { left: 8, right: 16, top: 58, bottom: isLines ? 24 : 8 },
    legend: {
      show: chart.series.length > 1,
      top: 24,
      left: 0,
      icon: "rect",
      itemHeight: 10,
      textStyle: text,
    },
    xAxis: isLines ? minutes(chart.x, text) : isOnItsSide(chart) ? values : names,
    yAxis: isLines || !isOnItsSide(chart) ? values : { ...names, inverse: true },
    series: isLines
      ? chart.series.map(({ name, points }, i) => ({
          type: "line",
          name,
          step: "end",
          symbol: "none",
          lineStyle: { width: 2.5, type: i === 0 ? "solid" : "dashed" },
          data: points.map(([x, y]) => [x, y]),
        }))
      : chart.series.map(({ name, values }) => ({
          type: "bar",
          name,
          barMaxWidth: 34,
          barGap: "10%",
          ...(chart.isStacked && { stack: "all" }),
          data: [...values],
        })),
  };
}

const minutes = (name: string, text: object) => ({
  type: "value",
  min: 0,
  name,
  nameLocation: "middle",
  nameGap: 26,
  nameTextStyle: text,
  axisLabel: text,
  splitLine: { show: false },
  axisLine: { show: true, lineStyle: { color: INKS.rule } },
});

/** Names that would not fit side by side stand below one another, their bars to the right. */
const isOnItsSide = (chart: LetterChart): boolean =>
  chart.kind === "bars" &&
  chart.names.length <= MOST_NAMES &&
  chart.names.reduce((sum, name) => sum + name.length + 3, 0) > LETTERS;

/** How high a chart is drawn. */
const heightOf = (chart: LetterChart): number =>
  chart.kind === "bars" && isOnItsSide(chart)
    ? HEAD_HEIGHT + chart.names.length * (chart.isStacked ? 26 : 14 + 12 * chart.series.length)
    : HEIGHT;

const shareLabel = (share: number) => `${Math.round(share * 100)} %`;

/** Charts as PNG pictures, in the app's own letters. Rejects where the folder for temporary files can't be written. */
export async function drawCharts(charts: readonly LetterChart[]): Promise<Buffer[]> {
  const folder = await mkdtemp(join(tmpdir(), "kite-bell-letters-"));
  try {
    const fontFiles = FONT_SETS.map((set) => join(folder, `${set}.ttf`));
    for (const [i, set] of FONT_SETS.entries()) await writeFile(fontFiles[i]!, fontFile(set, "400"));
    const font = { loadSystemFonts: false, fontFiles, defaultFontFamily: FAMILY };
    const pictures: Buffer[] = [];
    for (const chart of charts) {
      const drawn = init(null, undefined, {
        renderer: "svg",
        ssr: true,
        width: WIDTH,
        height: heightOf(chart),
      });
      try {
        drawn.setOption(optionOf(chart));
        const svg = drawn.renderToSVGString();
        const picture = await renderAsync(svg, { font, fitTo: { mode: "zoom", value: DOTS } });
        pictures.push(picture.asPng());
      } finally {
        drawn.dispose();
      }
    }
    return pictures;
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

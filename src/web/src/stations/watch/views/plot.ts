/** A line tile's chart: columns out of the server's envelopes, and the options of uPlot. */
import uPlot from "uplot";
import type { ReadingView, TileData } from "@/api/client";
import { zonedDate } from "@/kit/zoned";
import { cssColour, episodeBands, limitLines } from "../alert-marks";
import { withGaps } from "../gaps";
import { dashes, find, seriesColour, type Stretch } from "./board";

export interface PlotLine {
  label: string;
  unit: string;
  scale: string;
  decimals: number;
  colour: string;
  dash: number[];
  earlier: boolean;
  reading: ReadingView | undefined;
}

/** The lines of a tile and their joined columns: of each line low, mean and high. */
export function columnsOf(data: TileData, readings: ReadingView[], joined: boolean, ownAxes: boolean) {
  const lines: PlotLine[] = [];
  const tables: uPlot.AlignedData[] = [];
  data.lines.forEach((s, i) => {
    const reading = find(readings, s);
    const unit = reading?.unit ?? "";
    const base = {
      unit,
      scale: ownAxes ? `${s.node}/${s.reading}` : unit || "1",
      decimals: reading?.decimals ?? 1,
      colour: seriesColour(i),
      reading,
    };
    lines.push({ ...base, label: reading?.label ?? s.reading, dash: dashes[i % 8]!, earlier: false });
    tables.push(withGaps(s.line, reading?.longestGapMs, joined));
    if (s.earlier) {
      lines.push({ ...base, label: `${reading?.label ?? s.reading}, before`, dash: [2, 4], earlier: true });
      tables.push(withGaps(s.earlier, reading?.longestGapMs, joined));
    }
  });
  const columns = tables.length ? uPlot.join(tables) : ([[]] as unknown as uPlot.AlignedData);
  return { lines, columns };
}

interface Draw {
  width: number;
  height: number;
  zone: string;
  stretch: () => Stretch;
  data: () => TileData;
  hover: (at: number | null) => void;
  zoomed: (to: Stretch) => void;
}

/** Options of a chart with one axis a scale, at most two beside each other; limits and episodes are drawn in. */
export function optionsOf(lines: PlotLine[], d: Draw): uPlot.Options {
  const scales = [...new Set(lines.map((l) => l.scale))];
  const faint = cssColour("--faint");
  const axis = { stroke: faint, ticks: { show: false }, font: "12px Source Sans 3 Variable" };
  const grid = { stroke: cssColour("--rule"), width: 1 };
  return {
    width: d.width,
    height: d.height,
    tzDate: zonedDate(d.zone),
    legend: { show: false },
    cursor: { y: false, points: { show: true }, drag: { x: true, y: false, setScale: false } },
    padding: [8, 8, 0, 0],
    scales: {
      x: { time: true, range: () => [d.stretch().from / 1000, d.stretch().to / 1000] },
      ...Object.fromEntries(scales.map((s) => [s, { auto: true }])),
    },
    axes: [
      {
        ...axis,
        grid,
        space: 70,
        size: 24,
        values: [
          [31_536_000, "{YYYY}", null, null, null, null, null, null, 1],
          [2_419_200, "{MMM}", "\n{YYYY}", null, null, null, null, null, 1],
          [86_400, "{D} {MMM}", null, null, null, null, null, null, 1],
          [3600, "{HH}:{mm}", null, null, null, null, null, null, 1],
          [60, "{HH}:{mm}", null, null, null, null, null, null, 1],
          [1, "{HH}:{mm}:{ss}", null, null, null, null, null, null, 1],
        ],
      },
      ...scales.slice(0, 4).map((scale, i) => ({
        ...axis,
        scale,
        grid: { ...grid, show: i === 0 },
        side: i % 2 ? 1 : 3,
        size: 48,
        space: 28,
        values: (_: uPlot, ticks: number[]) => ticks.map((v) => String(Number(v.toPrecision(6)))),
      })),
    ],
    series: [
      {},
      ...lines.flatMap((l) => {
        const colour = cssColour(l.colour) + (l.earlier ? "88" : "");
        const hidden = { scale: l.scale, width: 0, points: { show: false } };
        return [hidden, { scale: l.scale, stroke: colour, width: 1.6, dash: l.dash, points: { show: false } }, hidden];
      }),
    ],
    bands: lines.flatMap((l, i) =>
      l.earlier ? [] : [{ series: [i * 3 + 3, i * 3 + 1] as [number, number], fill: cssColour(l.colour) + "2a" }],
    ),
    hooks: {
      setCursor: [(u) => d.hover(u.cursor.idx ?? null)],
      setSelect: [
        (u) => {
          if (u.select.width < 4) return;
          d.zoomed({
            from: u.posToVal(u.select.left, "x") * 1000,
            to: u.posToVal(u.select.left + u.select.width, "x") * 1000,
          });
          u.setSelect({ left: 0, top: 0, width: 0, height: 0 }, false);
        },
      ],
      drawClear: [(u) => episodeBands(u, d.data().episodes, d.stretch().to)],
      draw: [
        (u) =>
          limitLines(
            u,
            d.data().thresholds,
            (limit) => lines.find((l) => l.reading?.node === limit.node && l.reading?.key === limit.reading)?.scale,
          ),
      ],
    },
  };
}

/** Limits that rules watch, and episodes, drawn into a chart. */
import type uPlot from "uplot";
import type { EpisodeData, ThresholdData } from "@/api/client";

/** A CSS variable as the canvas needs it: its value now. */
export const cssColour = (name: string) =>
  getComputedStyle(document.documentElement)
    .getPropertyValue(name.replace(/^var\(|\)$/g, ""))
    .trim();

/** Episodes as bands behind the lines; one that lasts reaches to the end. */
export function episodeBands(u: uPlot, episodes: EpisodeData[], endMs: number) {
  const { ctx, bbox } = u;
  ctx.save();
  ctx.fillStyle = cssColour("--stop") + "22";
  for (const e of episodes) {
    const from = Math.max(bbox.left, u.valToPos(e.fromMs / 1000, "x", true));
    const to = Math.min(bbox.left + bbox.width, u.valToPos((e.toMs ?? endMs) / 1000, "x", true));
    if (to > from) ctx.fillRect(from, bbox.top, Math.max(1, to - from), bbox.height);
  }
  ctx.restore();
}

/** Limits as dashed lines with the name of their rule. */
export function limitLines(u: uPlot, limits: ThresholdData[], scaleOf: (limit: ThresholdData) => string | undefined) {
  const { ctx, bbox } = u;
  ctx.save();
  ctx.strokeStyle = ctx.fillStyle = cssColour("--stop");
  ctx.font = `${12 * devicePixelRatio}px Source Sans 3 Variable`;
  ctx.textAlign = "left";
  ctx.textBaseline = "alphabetic";
  ctx.setLineDash([4, 4]);
  for (const limit of limits) {
    const scale = scaleOf(limit);
    const y = scale === undefined ? -1 : u.valToPos(limit.limit, scale, true);
    if (y < bbox.top || y > bbox.top + bbox.height) continue;
    ctx.beginPath();
    ctx.moveTo(bbox.left, y);
    ctx.lineTo(bbox.left + bbox.width, y);
    ctx.stroke();
    // Under the line where there is no room above it.
    ctx.fillText(limit.label, bbox.left + 4, y - 14 * devicePixelRatio < bbox.top ? y + 13 * devicePixelRatio : y - 4);
  }
  ctx.restore();
}

/** A map of margins as a picture: a dot a cell, in the colours of the sheet. */
import type { HeatMap } from "@/api/client";

/** Bands of a map from the best down: from which margin each holds, dB, and what it is called. */
export const bandsOf = (map: HeatMap) => [
  { from: 50, label: "very strong", colour: "--moss", opacity: 0.7 },
  { from: 35, label: "strong", colour: "--moss", opacity: 0.5 },
  { from: 20, label: "good", colour: "--moss", opacity: 0.33 },
  { from: map.enoughDb, label: "enough", colour: "--moss", opacity: 0.16 },
  { from: 0, label: "now and then", colour: "--risk", opacity: 0.4 },
  { from: -Infinity, label: "nothing", colour: "--stop", opacity: 0.45 },
];

export function heatImage(map: HeatMap): string {
  const canvas = document.createElement("canvas");
  [canvas.width, canvas.height] = [map.columns, map.rows];
  const context = canvas.getContext("2d");
  if (!context) return "";
  const style = getComputedStyle(document.documentElement);
  const bands = bandsOf(map).map((b) => ({ ...b, fill: style.getPropertyValue(b.colour).trim() }));
  map.margins.forEach((margin, i) => {
    const band = bands.find((b) => margin >= b.from)!;
    context.globalAlpha = band.opacity;
    context.fillStyle = band.fill;
    context.fillRect(i % map.columns, Math.floor(i / map.columns), 1, 1);
  });
  return canvas.toDataURL();
}

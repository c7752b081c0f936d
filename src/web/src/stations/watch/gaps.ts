/** Columns of a chart out of an envelope of the server's. */
import type { SeriesData } from "@/api/client";

/** Marks of samples that no line shows, as the server's SampleFlags: suspect, set aside. */
export const leftOut = 8 | 32;

/** Time in seconds, low, mean, high. */
export type Columns = [number[], (number | null)[], (number | null)[], (number | null)[]];

/** A gap is a fact: nulls stand where a stretch is longer than the plan allows; `joined` leaves them out. */
export function withGaps(line: SeriesData["line"], longestGapMs: number | null | undefined, joined = false): Columns {
  const gap = joined ? Infinity : Math.max(line.stepMs * 2.2, (longestGapMs ?? Infinity) * 3);
  const out: Columns = [[], [], [], []];
  line.t.forEach((at, i) => {
    if (i > 0 && at - line.t[i - 1]! > gap) {
      out[0].push((line.t[i - 1]! + at) / 2000);
      for (const c of [out[1], out[2], out[3]]) c.push(null);
    }
    out[0].push(at / 1000);
    out[1].push(line.low[i]!);
    out[2].push(line.mean[i]!);
    out[3].push(line.high[i]!);
  });
  return out;
}

/** Columns of several lines: the times, then low, mean and high of each. */
type AnyColumns = (number | null | undefined)[][];

/**
 * Puts a live value into the columns of a chart at its time: behind what is there, beside another line's value of the same moment, or in between, as the values of one
 * message come in any order. What lies before the chart is left out.
 */
export function takeIn(columns: AnyColumns, line: number, t: number, value: number): boolean {
  const times = columns[0] as number[];
  if (times.length && t < times[0]!) return false;
  let at = times.length;
  while (at > 0 && times[at - 1]! >= t) at--;
  if (times[at] !== t) columns.forEach((c, i) => c.splice(at, 0, i === 0 ? t : undefined));
  const [low, mean, high] = [1, 2, 3].map((i) => columns[line * 3 + i]!);
  low![at] = Math.min(low![at] ?? value, value);
  mean![at] = value;
  high![at] = Math.max(high![at] ?? value, value);
  return true;
}

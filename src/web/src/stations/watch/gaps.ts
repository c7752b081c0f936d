/** Columns of a chart out of an envelope of the server's. */
import type { SeriesData } from "@/api/client";

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

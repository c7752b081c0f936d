/** What is typed into the table of readings, as edits; each answers what is wrong with it, or nothing. */
import type { ReadingDesign } from "@/api/client";
import type { SiteContext } from "@/app/site";
import { noTime } from "@/kit/faults";
import { exactDuration, parseDuration } from "@/kit/format";

/** The longest time between two values, ms: by the clock, or all the same where it is sent on change. */
export const gap = (r: ReadingDesign) => r.intervalMs ?? r.heartbeatMs;

/** The edits of the readings of a node, by the column that is typed in. */
export function useReadingEdits(site: SiteContext, node: () => string) {
  async function put(r: ReadingDesign, change: Partial<ReadingDesign>, label: string): Promise<string | undefined> {
    const done = await site.apply(label, [{ kind: "putReading", node: node(), reading: { ...r, ...change } }], true);
    return done.ok ? undefined : done.reasons.join(" ");
  }

  function every(r: ReadingDesign, text: string) {
    if (text === "" && r.intervalMs === null) return put(r, { heartbeatMs: null }, `${r.label}: on change only`);
    const ms = parseDuration(text);
    if (ms === undefined) return noTime(text).says;
    return put(r, r.intervalMs === null ? { heartbeatMs: ms } : { intervalMs: ms }, `${r.label}: ${exactDuration(ms)}`);
  }

  function together(r: ReadingDesign, text: string) {
    const n = Number(text);
    if (!Number.isInteger(n) || n < 1) return `"${text}" is no count; write a whole number from 1.`;
    return put(r, { batchOf: n }, `${r.label}: ${n} together`);
  }

  function expected(r: ReadingDesign, text: string) {
    if (text === "") return put(r, { perDay: null }, `${r.label}: as usual`);
    const n = Number(text.replace(",", "."));
    return Number.isNaN(n)
      ? `"${text}" is no count; write how many a day, such as 40.`
      : put(r, { perDay: n }, `${r.label}: ${n} a day`);
  }

  function within(r: ReadingDesign, text: string) {
    if (text === "") return put(r, { wantedWithinMs: null }, `${r.label}: any time`);
    const ms = parseDuration(text);
    if (ms === undefined) return `"${text}" is no time; write it like 30 s or 2 min, or leave it empty.`;
    return put(r, { wantedWithinMs: ms }, `${r.label}: within ${exactDuration(ms)}`);
  }

  function when(r: ReadingDesign, way: "clock" | "change") {
    const change =
      way === "clock"
        ? { intervalMs: gap(r) ?? 60_000, heartbeatMs: null }
        : { intervalMs: null, heartbeatMs: gap(r), batchOf: 1 };
    return put(r, change, `${r.label}: ${way === "clock" ? "by the clock" : "when it changes"}`);
  }

  return { every, together, expected, within, when };
}

/** Round steps for the axes of drawings. */

/** Steps of 1, 2 or 5 times a power of ten: about `count` of them between two values. */
export function linearSteps(from: number, to: number, count: number): number[] {
  const raw = (to - from) / count;
  if (!(raw > 0)) return [from];
  const power = 10 ** Math.floor(Math.log10(raw));
  const step = ([1, 2, 5, 10].find((m) => m * power >= raw) ?? 10) * power;
  const first = Math.ceil(from / step);
  return Array.from({ length: Math.floor(to / step) - first + 1 }, (_, n) => (first + n) * step);
}

/** Powers of ten from one value to another, ends included. */
export function decades(low: number, high: number): number[] {
  const first = Math.floor(Math.log10(low));
  return Array.from({ length: Math.ceil(Math.log10(high)) - first + 1 }, (_, n) => 10 ** (first + n));
}

/** Moments as an axis of time says them, in milliseconds. */
export const moments: { ms: number; label: string }[] = [
  { ms: 10_000, label: "10 s" },
  { ms: 60_000, label: "1 min" },
  { ms: 300_000, label: "5 min" },
  { ms: 900_000, label: "15 min" },
  { ms: 3_600_000, label: "1 h" },
  { ms: 21_600_000, label: "6 h" },
  { ms: 86_400_000, label: "1 d" },
];

/** Colours of series, each also with a dash: never told by colour alone. */
export const strokes = [
  { colour: "var(--act)", dash: "" },
  { colour: "var(--clay)", dash: "7 3" },
  { colour: "var(--moss)", dash: "2 3" },
  { colour: "var(--risk)", dash: "9 3 2 3" },
  { colour: "var(--faint)", dash: "4 4" },
  { colour: "var(--stop)", dash: "1 4" },
  { colour: "var(--ink)", dash: "12 4" },
];
export const strokeOf = (at: number) => strokes[at % strokes.length]!;

/** Numbers and times as a maker reads them. */
import { useMemoize } from "@vueuse/core";
import type { Figure } from "@/api/client";

/** Three significant figures, without an exponent. */
export function number(value: number): string {
  if (value === 0) return "0";
  const digits = Math.max(0, 2 - Math.floor(Math.log10(Math.abs(value))));
  const rounded = digits > 0 ? value.toFixed(Math.min(digits, 6)) : String(Math.round(Number(value.toPrecision(3))));
  return rounded.includes(".") ? rounded.replace(/\.?0+$/, "") : rounded;
}

/** A value with a unit that suits its size. */
export function amount(value: number, unit: string): [string, string] {
  const scaled: Record<string, [number, number, string][]> = {
    ms: [
      [60000, 1 / 60000, "min"],
      [1000, 0.001, "s"],
      [0, 1, "ms"],
    ],
    s: [
      [3600, 1 / 3600, "h"],
      [120, 1 / 60, "min"],
      [0, 1, "s"],
    ],
    mA: [
      [1000, 0.001, "A"],
      [0.1, 1, "mA"],
      [0, 1000, "µA"],
    ],
    Ω: [
      [1e6, 1e-6, "MΩ"],
      [1000, 0.001, "kΩ"],
      [0, 1, "Ω"],
    ],
    µF: [
      [1e6, 1e-6, "F"],
      [1000, 0.001, "mF"],
      [0, 1, "µF"],
    ],
    d: [
      [730, 1 / 365.25, "years"],
      [0, 1, "days"],
    ],
  };
  const [, by, name] = scaled[unit]?.find(([from]) => Math.abs(value) >= from) ?? [0, 1, unit];
  const text = number(value * by);
  return [text, text === "1" && name.length > 3 ? name.slice(0, -1) : name];
}

/** A figure in one line, with its band when it has one. */
export function figureText(figure: Figure): string {
  if (figure.value === null) return "not known";
  const [text, unit] = amount(figure.value, figure.unit);
  return `${text} ${unit}`.trim();
}

export function bandText(figure: Figure): string {
  if (figure.value === null || figure.low === null || figure.high === null || figure.low === figure.high) return "";
  const [low, lowUnit] = amount(figure.low, figure.unit);
  const [high, highUnit] = amount(figure.high, figure.unit);
  return lowUnit === highUnit ? `${low} to ${high} ${high ? highUnit : ""}`.trim() : `${low} ${lowUnit} to ${high} ${highUnit}`;
}

/** A share as percent, without what floating point adds. */
export const percentOf = (share: number) => Number((share * 100).toPrecision(12));

export const inSeconds = (ms: number) => ms / 1000;

/** "0.25 s": milliseconds with three figures. */
export const seconds = (ms: number) => `${number(inSeconds(ms))} s`;

export const kibibytes = (bytes: number) => `${(bytes / 1024).toFixed(0)} KiB`;

/** "12 s", "5 min", "3 h": a stretch of time in milliseconds. */
export function duration(ms: number): string {
  const s = Math.round(ms / 1000);
  if (s < 120) return `${ms < 10000 && ms % 1000 !== 0 ? number(ms / 1000) : s} s`;
  if (s < 7200) return `${number(s / 60)} min`;
  if (s < 172800) return `${number(s / 3600)} h`;
  return `${number(s / 86400)} d`;
}

/** How old something is, in whole seconds while it is young. */
export const ageText = (ms: number) => duration(Math.round(Math.max(0, ms) / 1000) * 1000);

/** Making a formatter is dear: one serves for each zone. */
const momentFormat = useMemoize((timeZone: string, withDate: boolean) => {
  const options: Intl.DateTimeFormatOptions = { hour: "2-digit", minute: "2-digit", second: "2-digit", hour12: false, timeZone };
  if (withDate) Object.assign(options, { day: "numeric", month: "short" });
  return new Intl.DateTimeFormat("en-GB", options);
});

/** A moment in the site's time zone. */
export const moment = (ms: number, timeZone: string, withDate = false): string => momentFormat(timeZone, withDate).format(ms);

/** Keeps a number and its unit on one line. */
export const unbroken = (text: string) => text.replace(/(\d) (?=[A-Za-z°µΩ%])/g, "$1\u00a0");

/** A planned stretch of time exactly, as it is typed: "90 s", "10 min 10 s", "2 h". What is shown in a field and saved again stays what it was. */
export function exactDuration(ms: number): string {
  if (ms < 120_000) return `${ms / 1000} s`;
  const whole = [
    [60_000, 120, "min"],
    [3_600_000, 48, "h"],
    [86_400_000, Infinity, "d"],
  ] as const;
  for (const [length, most, unit] of whole) if (ms % length === 0 && ms / length < most) return `${ms / length} ${unit}`;
  const parts: string[] = [];
  let rest = ms;
  for (const [length, unit] of [
    [86_400_000, "d"],
    [3_600_000, "h"],
    [60_000, "min"],
  ] as const) {
    if (rest >= length) parts.push(`${Math.floor(rest / length)} ${unit}`);
    rest %= length;
  }
  if (rest > 0) parts.push(`${rest / 1000} s`);
  return parts.join(" ");
}

/** Milliseconds of "30 s", "5 min", "2 h", "1 d", several of them ("10 min 10 s") or plain seconds; undefined for anything else. */
export function parseDuration(text: string): number | undefined {
  const factors: Record<string, number> = { ms: 1, s: 1000, sec: 1000, m: 60_000, min: 60_000, h: 3_600_000, d: 86_400_000 };
  if (/^\s*\d+(?:[.,]\d+)?\s*$/.test(text)) return Math.round(Number(text.trim().replace(",", ".")) * 1000);
  if (!/^\s*(?:\d+(?:[.,]\d+)?\s*(?:ms|sec|s|min|m|h|d)\s*)+$/i.test(text)) return undefined;
  const parts = [...text.matchAll(/(\d+(?:[.,]\d+)?)\s*(ms|sec|s|min|m|h|d)/gi)];
  return Math.round(parts.reduce((sum, [, n, unit]) => sum + Number(n!.replace(",", ".")) * factors[unit!.toLowerCase()]!, 0));
}

/** Metres of "3.6", "3,6 m", "360 cm", "12 ft 4 in" or 12' 4"; to the tenth of a millimetre; undefined for anything else. A foot is 0.3048 m (of 1959). */
export function parseMetres(text: string): number | undefined {
  const factors: Record<string, number> = { m: 1, cm: 0.01, mm: 0.001, ft: 0.3048, "'": 0.3048, in: 0.0254, '"': 0.0254 };
  const number = String.raw`\d+(?:[.,]\d+)?`;
  if (new RegExp(String.raw`^\s*-?${number}\s*$`).test(text)) return Number(text.trim().replace(",", "."));
  const unit = `mm|cm|m|ft|in|'|"`;
  if (!new RegExp(String.raw`^\s*(?:${number}\s*(?:${unit})\s*)+$`, "i").test(text)) return undefined;
  const parts = [...text.matchAll(new RegExp(String.raw`(${number})\s*(${unit})`, "gi"))];
  const metres = parts.reduce((sum, [, n, of]) => sum + Number(n!.replace(",", ".")) * factors[of!.toLowerCase()]!, 0);
  return Math.round(metres * 10_000) / 10_000;
}

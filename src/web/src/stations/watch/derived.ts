/** Readings that are worked out: what a site offers, the fields of a form, and back. */
import { useQuery } from "@tanstack/vue-query";
import {
  api,
  answer,
  type DerivedChoice,
  type DerivedChoices,
  type DerivedFrom,
  type ReadingRef,
  type VesselTile,
} from "@/api/client";
import type { SiteContext } from "@/app/site";
import { noTime, type Fault } from "@/kit/faults";
import { exactDuration, parseDuration } from "@/kit/format";
import { idOf, refOf } from "./names";

export const derivedNode = "derived";
export type DerivedKind = DerivedFrom["kind"];

/** What can be worked out on a site as it is designed, with the usual numbers of each formula. */
export function useDerivedChoices(site: SiteContext) {
  const { data } = useQuery({
    queryKey: ["derived-choices", site.key, site.revision],
    staleTime: Infinity,
    placeholderData: (old: DerivedChoices | undefined) => old,
    queryFn: () => answer(api.GET("/api/sites/{site}/derived/choices", { params: { path: { site: site.key.value } } })),
  });
  return data;
}
export const choiceOf = (choices: DerivedChoices | undefined, kind: DerivedKind): DerivedChoice | undefined =>
  choices?.kinds.find((c) => c.usual.kind === kind);

/** A field of numbers: an empty one is an empty string. */
export type Num = number | "" | undefined;

/** A vessel's shape and measures; its reading stands beside. */
export type VesselForm = {
  [K in keyof Omit<VesselTile, "kind" | "reading">]: VesselTile[K] extends number ? Num : VesselTile[K];
};

/** The shape with its measures as numbers. */
export const vesselOf = (v: VesselForm) => ({
  shape: v.shape,
  down: v.down,
  sensorCm: Number(v.sensorCm),
  widthCm: Number(v.widthCm),
  lengthCm: Number(v.lengthCm),
  heightCm: Number(v.heightCm),
});

export interface DerivedForm {
  kind: DerivedKind;
  /** "node/key" by role, or the sensors of presence. */
  of: string[];
  terms: { reading: string; factor: Num }[];
  plus: Num;
  percent: Num;
  factor: Num;
  above: Num;
  base: Num;
  side: "above" | "below";
  ground: "wood" | "stone";
  within: string;
  pulsesOf: "none" | "litre" | "revolution" | "kilowattHour" | "millimetreOfRain";
  pulsesEach: Num;
  hold: string;
  node: string;
  measure: "level" | "litres" | "share";
  vessel?: VesselForm;
}
const blank = {
  of: [],
  terms: [],
  plus: "",
  percent: "",
  factor: "",
  above: "",
  base: "",
  side: "below",
  ground: "wood",
  within: "",
  pulsesOf: "none",
  pulsesEach: "",
  hold: "",
  node: "",
  measure: "litres",
} satisfies Omit<DerivedForm, "kind">;

/** The choice of a reading; that of a blank one is empty. */
const chosen = (r: ReadingRef | null | undefined) => (r?.node ? idOf(r) : "");

/** The fields of a formula; a blank reading is an empty choice. */
export function formOf(f: DerivedFrom): DerivedForm {
  const form: DerivedForm = { ...blank, kind: f.kind };
  switch (f.kind) {
    case "dewPoint":
    case "waterInAir":
      return { ...form, of: [f.temperature, f.humidity].map(chosen) };
    case "mouldIndex":
      return { ...form, of: [chosen(f.temperature), chosen(f.humidity), chosen(f.surface)], ground: f.ground };
    case "conductivityAt25":
      return { ...form, of: [f.conductivity, f.temperature].map(chosen), percent: f.percentPerKelvin };
    case "dissolvedSolids":
      return { ...form, of: [f.conductivity, f.temperature].map(chosen), percent: f.percentPerKelvin, factor: f.factor };
    case "vessel":
      return { ...form, of: [chosen(f.vessel.reading)], measure: f.measure, vessel: { ...f.vessel } };
    case "rate":
      return {
        ...form,
        of: [chosen(f.reading)],
        within: exactDuration(f.withinMs),
        pulsesOf: f.pulses?.of ?? "none",
        pulsesEach: f.pulses?.each ?? "",
      };
    case "runningHours":
      return { ...form, of: [chosen(f.reading)], above: f.above };
    case "degreeDays":
      return { ...form, of: [chosen(f.temperature)], base: f.baseCelsius, side: f.side };
    case "sum":
      return { ...form, terms: f.terms.map((t) => ({ reading: chosen(t.reading), factor: t.factor })), plus: f.plus };
    case "presence":
      return { ...form, of: f.of.map(chosen), hold: exactDuration(f.holdMs) };
    case "lostShare":
      return { ...form, node: f.node, within: exactDuration(f.withinMs) };
    case "daysLeft":
      return { ...form, node: f.node };
  }
}

/** How it is worked out, or what is missing. */
export function fromOf(f: DerivedForm, choice: DerivedChoice): { made?: DerivedFrom; fault?: Fault } {
  const missing = choice.roles.find((r, i) => r.count === "one" && !f.of[i]);
  if (missing?.label === "Reading") return { fault: { says: "Choose a reading." } };
  if (missing) return { fault: { says: `Choose a reading for ${missing.label.toLowerCase()}.` } };
  const [a, b, c] = f.of.map((id) => (id ? refOf(id) : undefined));
  const [within, hold] = [parseDuration(f.within), parseDuration(f.hold)];
  const noStretch = { fault: noTime(f.within, "derived.from.withinMs") };
  switch (f.kind) {
    case "dewPoint":
    case "waterInAir":
      return { made: { kind: f.kind, temperature: a!, humidity: b! } };
    case "mouldIndex":
      return { made: { kind: f.kind, temperature: a!, humidity: b!, surface: c ?? null, ground: f.ground } };
    case "conductivityAt25":
      return { made: { kind: f.kind, conductivity: a!, temperature: b!, percentPerKelvin: Number(f.percent) } };
    case "dissolvedSolids": {
      const [percentPerKelvin, factor] = [Number(f.percent), Number(f.factor)];
      return { made: { kind: f.kind, conductivity: a!, temperature: b!, percentPerKelvin, factor } };
    }
    case "vessel":
      return { made: { kind: f.kind, measure: f.measure, vessel: { reading: a!, ...vesselOf(f.vessel!) } } };
    case "rate": {
      const pulses = f.pulsesOf === "none" ? null : { of: f.pulsesOf, each: Number(f.pulsesEach) };
      return within === undefined ? noStretch : { made: { kind: f.kind, reading: a!, withinMs: within, pulses } };
    }
    case "runningHours":
      return { made: { kind: f.kind, reading: a!, above: Number(f.above) } };
    case "degreeDays":
      return { made: { kind: f.kind, temperature: a!, baseCelsius: Number(f.base), side: f.side } };
    case "sum": {
      const terms = f.terms.filter((t) => t.reading).map((t) => ({ reading: refOf(t.reading), factor: Number(t.factor) }));
      return terms.length
        ? { made: { kind: f.kind, terms, plus: Number(f.plus) } }
        : { fault: { says: "Choose at least one reading." } };
    }
    case "presence":
      if (!f.of.length) return { fault: { says: "Choose at least one sensor." } };
      return hold === undefined
        ? { fault: noTime(f.hold, "derived.from.holdMs") }
        : { made: { kind: f.kind, of: f.of.map(refOf), holdMs: hold } };
    case "lostShare":
      if (!f.node) return { fault: { says: "Choose a node." } };
      return within === undefined ? noStretch : { made: { kind: f.kind, node: f.node, withinMs: within } };
    case "daysLeft":
      return f.node ? { made: { kind: f.kind, node: f.node } } : { fault: { says: "Choose a node." } };
  }
}

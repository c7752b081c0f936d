/** Readings that are worked out: their kinds, the fields of a form, and back. */
import type { DerivedDesign, DerivedFrom, NodeDesign, ReadingView } from "@/api/client";
import { exactDuration, parseDuration } from "@/kit/format";
import { idOf, refOf } from "./names";

export const derivedNode = "derived";
export type DerivedKind = DerivedFrom["kind"];

/** What a reading of a formula is for, and the units it may come in (none: any). */
interface Role {
  label: string;
  units: string[];
  optional?: boolean;
}
const air: Role[] = [
  { label: "Temperature", units: ["°C"] },
  { label: "Humidity", units: ["%RH"] },
];
const water: Role[] = [
  { label: "Conductivity", units: ["µS/cm", "mS/cm"] },
  { label: "Temperature of the water", units: ["°C"] },
];
export const kinds: { value: DerivedKind; label: string; name: string; decimals: number; roles: Role[] }[] = [
  { value: "sum", label: "sum or difference", name: "Difference", decimals: 1, roles: [] },
  { value: "dewPoint", label: "dew point", name: "Dew point", decimals: 1, roles: air },
  { value: "waterInAir", label: "water in the air", name: "Water in the air", decimals: 1, roles: air },
  {
    value: "mouldIndex",
    label: "mould index of a surface",
    name: "Mould index",
    decimals: 2,
    roles: [...air, { label: "Temperature of the surface", units: ["°C"], optional: true }],
  },
  {
    value: "rate",
    label: "how fast it rises, or flow and speed from pulses",
    name: "Rate",
    decimals: 2,
    roles: [{ label: "Reading", units: [] }],
  },
  {
    value: "runningHours",
    label: "running hours",
    name: "Running hours",
    decimals: 2,
    roles: [{ label: "Runs while", units: [] }],
  },
  {
    value: "degreeDays",
    label: "degree days",
    name: "Degree days",
    decimals: 1,
    roles: [{ label: "Temperature", units: ["°C"] }],
  },
  { value: "presence", label: "presence of several sensors", name: "Somebody there", decimals: 0, roles: [] },
  {
    value: "vessel",
    label: "level or volume of a vessel",
    name: "Volume",
    decimals: 0,
    roles: [{ label: "Distance or height", units: ["mm", "cm", "m"] }],
  },
  { value: "conductivityAt25", label: "conductivity at 25 °C", name: "Conductivity at 25 °C", decimals: 0, roles: water },
  { value: "dissolvedSolids", label: "dissolved solids", name: "Dissolved solids", decimals: 0, roles: water },
  { value: "lostShare", label: "lost messages of a node", name: "Lost messages", decimals: 0, roles: [] },
  { value: "daysLeft", label: "days left on the cells of a node", name: "Days left", decimals: 0, roles: [] },
];
export const kindOf = (kind: DerivedKind) => kinds.find((k) => k.value === kind)!;

/** A field of numbers: an empty one is an empty string. */
export type Num = number | "" | undefined;

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
  vessel: VesselForm;
}

export interface VesselForm {
  shape: "upright" | "lying" | "box";
  down: boolean;
  sensorCm: Num;
  widthCm: Num;
  lengthCm: Num;
  heightCm: Num;
}
export const usualVessel: VesselForm = {
  shape: "upright",
  down: true,
  sensorCm: 150,
  widthCm: 100,
  lengthCm: 100,
  heightCm: 120,
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

export function formOf(f: DerivedFrom | undefined): DerivedForm {
  const form: DerivedForm = {
    kind: f?.kind ?? "sum",
    of: [],
    terms: [
      { reading: "", factor: 1 },
      { reading: "", factor: -1 },
    ],
    plus: 0,
    percent: 1.91,
    factor: 0.64,
    above: 0,
    base: 18,
    side: "below",
    ground: "wood",
    within: "1 h",
    pulsesOf: "none",
    pulsesEach: 450,
    hold: "5 min",
    node: "",
    measure: "litres",
    vessel: { ...usualVessel },
  };
  switch (f?.kind) {
    case "dewPoint":
    case "waterInAir":
      return { ...form, of: [idOf(f.temperature), idOf(f.humidity)] };
    case "mouldIndex":
      return { ...form, of: [idOf(f.temperature), idOf(f.humidity), f.surface ? idOf(f.surface) : ""], ground: f.ground };
    case "conductivityAt25":
      return { ...form, of: [idOf(f.conductivity), idOf(f.temperature)], percent: f.percentPerKelvin };
    case "dissolvedSolids":
      return { ...form, of: [idOf(f.conductivity), idOf(f.temperature)], percent: f.percentPerKelvin, factor: f.factor };
    case "vessel":
      return { ...form, of: [idOf(f.vessel.reading)], measure: f.measure, vessel: { ...f.vessel } };
    case "rate":
      return {
        ...form,
        of: [idOf(f.reading)],
        within: exactDuration(f.withinMs),
        pulsesOf: f.pulses?.of ?? "none",
        pulsesEach: f.pulses?.each ?? 450,
      };
    case "runningHours":
      return { ...form, of: [idOf(f.reading)], above: f.above };
    case "degreeDays":
      return { ...form, of: [idOf(f.temperature)], base: f.baseCelsius, side: f.side };
    case "sum":
      return { ...form, terms: f.terms.map((t) => ({ reading: idOf(t.reading), factor: t.factor })), plus: f.plus };
    case "presence":
      return { ...form, of: f.of.map(idOf), hold: exactDuration(f.holdMs) };
    case "lostShare":
      return { ...form, node: f.node, within: exactDuration(f.withinMs) };
    case "daysLeft":
      return { ...form, node: f.node };
    default:
      return form;
  }
}

/** How it is worked out, or what is missing. */
export function fromOf(f: DerivedForm): { made?: DerivedFrom; fault?: string } {
  const roles = kindOf(f.kind).roles;
  const missing = roles.find((r, i) => !r.optional && !f.of[i]);
  if (missing) return { fault: `Choose a reading for ${missing.label.toLowerCase()}.` };
  const [a, b, c] = f.of.map((id) => (id ? refOf(id) : undefined));
  const within = parseDuration(f.within);
  const hold = parseDuration(f.hold);
  switch (f.kind) {
    case "dewPoint":
    case "waterInAir":
      return { made: { kind: f.kind, temperature: a!, humidity: b! } };
    case "mouldIndex":
      return { made: { kind: "mouldIndex", temperature: a!, humidity: b!, surface: c ?? null, ground: f.ground } };
    case "conductivityAt25":
      return { made: { kind: "conductivityAt25", conductivity: a!, temperature: b!, percentPerKelvin: Number(f.percent) } };
    case "dissolvedSolids":
      return {
        made: {
          kind: "dissolvedSolids",
          conductivity: a!,
          temperature: b!,
          percentPerKelvin: Number(f.percent),
          factor: Number(f.factor),
        },
      };
    case "vessel":
      return { made: { kind: "vessel", measure: f.measure, vessel: { reading: a!, ...vesselOf(f.vessel) } } };
    case "rate":
      return within === undefined
        ? { fault: `"${f.within}" is no time; write it like 30 min or 2 h.` }
        : {
            made: {
              kind: "rate",
              reading: a!,
              withinMs: within,
              pulses: f.pulsesOf === "none" ? null : { of: f.pulsesOf, each: Number(f.pulsesEach) },
            },
          };
    case "runningHours":
      return { made: { kind: "runningHours", reading: a!, above: Number(f.above) } };
    case "degreeDays":
      return { made: { kind: "degreeDays", temperature: a!, baseCelsius: Number(f.base), side: f.side } };
    case "sum": {
      const terms = f.terms.filter((t) => t.reading).map((t) => ({ reading: refOf(t.reading), factor: Number(t.factor) }));
      return terms.length ? { made: { kind: "sum", terms, plus: Number(f.plus) } } : { fault: "Choose at least one reading." };
    }
    case "presence":
      if (!f.of.length) return { fault: "Choose at least one sensor." };
      return hold === undefined
        ? { fault: `"${f.hold}" is no time; write it like 5 min.` }
        : { made: { kind: "presence", of: f.of.map(refOf), holdMs: hold } };
    case "lostShare":
      if (!f.node) return { fault: "Choose a node." };
      return within === undefined
        ? { fault: `"${f.within}" is no time; write it like 1 h.` }
        : { made: { kind: "lostShare", node: f.node, withinMs: within } };
    default:
      return f.node ? { made: { kind: "daysLeft", node: f.node } } : { fault: "Choose a node." };
  }
}

/** Readings that suit a role. */
export const suits = (r: ReadingView, units: string[]) =>
  units.length ? units.includes(r.unit) : r.kind === "gauge" || r.kind === "counter" || r.kind === "state";

/** What a node shows by itself, offered to rules like readings: made when a rule wants it. */
export function ofNodes(nodes: NodeDesign[], derived: DerivedDesign[]): DerivedDesign[] {
  const has = (kind: DerivedKind, node: string) =>
    derived.some((d) => d.from.kind === kind && "node" in d.from && d.from.node === node);
  const free = (key: string) => (derived.some((d) => d.key === key) ? `${key}-2` : key);
  return nodes.flatMap((n) => {
    const made: DerivedDesign[] = [];
    if (!has("lostShare", n.key))
      made.push({
        key: free(`lost-${n.key}`.slice(0, 28)),
        label: `Lost messages, ${n.label}`.slice(0, 60),
        from: { kind: "lostShare", node: n.key, withinMs: 3_600_000 },
        decimals: 0,
      });
    if (n.power.kind === "cells" && !has("daysLeft", n.key))
      made.push({
        key: free(`left-${n.key}`.slice(0, 28)),
        label: `Days left, ${n.label}`.slice(0, 60),
        from: { kind: "daysLeft", node: n.key },
        decimals: 0,
      });
    return made;
  });
}

/** The fields of a zone, and back. */
import type { UsualDesign, ZoneChoices, ZoneDesign } from "@/api/client";
import { noTime, type Fault } from "@/kit/faults";
import { exactDuration, parseDuration } from "@/kit/format";
import { clock, minuteOf, tellForm, tellOf, type Day } from "./tell";

/** Where each time lies in the edit. */
const times = {
  exit: "zone.exitMs",
  entry: "zone.entryMs",
  within: "zone.withinMs",
  sound: "zone.soundMs",
  holdOff: "zone.holdOffMs",
  away: "zone.presence.awayMs",
  soundAfter: "zone.soundAfterMs",
} as const;
type Time = keyof typeof times;

/** A sensor or an output as one value of a form, "node/key". */
export const idOf = (s: { node: string; reading?: string; output?: string }) => `${s.node}/${s.reading ?? s.output}`;
const pair = (id: string) => ({ node: id.split("/")[0]!, reading: id.split("/")[1]! });
const output = (id: string) => ({ node: id.split("/")[0]!, output: id.split("/")[1]! });

export function zoneForm(z: ZoneDesign | undefined, usual: UsualDesign) {
  const from = z ?? usual.zone;
  const armed = (z?.schedule ?? usual.armedByClock).armed;
  return {
    label: from.label,
    /** Sensors that trigger, by their choice. */
    sensors: new Map(from.sensors.map((s) => [idOf(s), { entry: s.entry, inverted: s.inverted }])),
    sounders: new Set(from.sounders.map(idOf)),
    times: {
      exit: exactDuration(from.exitMs),
      entry: exactDuration(from.entryMs),
      within: exactDuration(from.withinMs),
      sound: exactDuration(from.soundMs),
      holdOff: exactDuration(from.holdOffMs),
      away: exactDuration((z?.presence ?? usual.presence).awayMs),
      soundAfter: exactDuration(z?.soundAfterMs || usual.zoneSoundAfterMs),
    } as Record<Time, string>,
    triggers: from.triggers as number | "",
    /** When it sounds. */
    sounds: (z?.soundOnceTold ? "told" : z?.soundAfterMs ? "after" : "now") as "now" | "after" | "told",
    chirps: from.chirps ?? true,
    lamp: z?.lamp ? idOf(z.lamp) : "",
    note: from.note,
    tell: tellForm(z?.tell),
    byClock: !!z?.schedule,
    from: clock(armed.fromMinute),
    to: clock(armed.toMinute),
    on: [...armed.days] as Day[],
    button: z?.button ? idOf(z.button) : "",
    presence: z?.presence ? idOf(z.presence) : "",
  };
}
export type ZoneForm = ReturnType<typeof zoneForm>;

/** The zone that the form says, or what is wrong with its times. */
export function zoneOf(f: ZoneForm, key: string, choices: ZoneChoices): { made?: ZoneDesign; faults: Fault[] } {
  const ms = Object.fromEntries(Object.entries(f.times).map(([k, text]) => [k, parseDuration(text)]));
  const faults: Fault[] = Object.entries(f.times)
    .filter(([k]) => ms[k] === undefined)
    .map(([k, text]) => noTime(text, times[k as Time]));
  const { made: tell, fault } = tellOf(f.tell);
  if (fault) faults.push({ says: fault, field: "zone.tell" });
  const [from, to] = [minuteOf(f.from), minuteOf(f.to)];
  if (f.byClock && (from === undefined || to === undefined))
    faults.push({ says: "Write the times of the schedule like 22:30.", field: "zone.schedule.armed.toMinute" });
  if (faults.length) return { faults };
  const made: ZoneDesign = {
    key,
    label: f.label.trim(),
    sensors: choices.sensors
      .filter((s) => f.sensors.has(idOf(s)))
      .map((s) => ({ node: s.node, reading: s.reading, ...f.sensors.get(idOf(s))! })),
    exitMs: ms.exit!,
    entryMs: ms.entry!,
    triggers: Number(f.triggers),
    withinMs: ms.within!,
    sounders: choices.outputs
      .map(idOf)
      .filter((id) => f.sounders.has(id))
      .map(output),
    soundMs: ms.sound!,
    holdOffMs: ms.holdOff!,
    soundAfterMs: f.sounds === "now" ? 0 : ms.soundAfter!,
    soundOnceTold: f.sounds === "told",
    chirps: f.chirps,
    lamp: f.lamp ? output(f.lamp) : null,
    tell,
    note: f.note.trim(),
    schedule: f.byClock ? { armed: { fromMinute: from!, toMinute: to!, days: f.on } } : null,
    button: f.button ? pair(f.button) : null,
    presence: f.presence ? { ...pair(f.presence), awayMs: ms.away! } : null,
  };
  return { made, faults };
}

/** Kinds of tiles: their names, and what a new one is. */
import type { ReadingRef, ReadingView, TileContent, TileDesign } from "@/api/client";
import { find } from "./board";

export type TileKind = TileContent["kind"];
export const kinds: { value: TileKind; label: string; width: number; height: number }[] = [
  { value: "figure", label: "figure", width: 1, height: 1 },
  { value: "line", label: "lines over time", width: 2, height: 2 },
  { value: "lanes", label: "lanes of events", width: 4, height: 2 },
  { value: "vessel", label: "level in a vessel", width: 2, height: 2 },
  { value: "counter", label: "counter by the hour, day or month", width: 2, height: 2 },
  { value: "sequence", label: "two events together or alone", width: 2, height: 1 },
  { value: "plan", label: "plan with values", width: 2, height: 3 },
  { value: "output", label: "output with its switch", width: 1, height: 1 },
  { value: "zone", label: "zone with its arming", width: 2, height: 1 },
  { value: "nodes", label: "nodes", width: 4, height: 2 },
  { value: "note", label: "note", width: 2, height: 1 },
];

/** Which readings a kind can show. */
export function fits(kind: TileKind, r: ReadingView, outputs: Set<string>): boolean {
  switch (kind) {
    case "line":
      return r.kind === "gauge";
    case "vessel":
      return r.kind === "gauge" && ["m", "cm", "mm"].includes(r.unit);
    case "lanes":
    case "sequence":
      return r.kind === "state" || r.kind === "event";
    case "counter":
      return r.kind === "counter";
    case "output":
      return outputs.has(`${r.node}/${r.key}`);
    default:
      return true;
  }
}
export const takesMany = (kind: TileKind) => ["line", "lanes", "plan"].includes(kind);

export function readingsOf(c: TileContent): ReadingRef[] {
  switch (c.kind) {
    case "line":
    case "lanes":
    case "plan":
      return c.of;
    case "output":
      return [c.output];
    case "sequence":
      return [c.first, c.second];
    case "figure":
    case "vessel":
    case "counter":
      return [c.reading];
    default:
      return [];
  }
}

export function titleOf(t: TileDesign, readings: ReadingView[]): string {
  if (t.label) return t.label;
  if (t.content.kind === "sequence") return `${t.content.both}, ${t.content.firstAlone}, ${t.content.secondAlone}`;
  const first = readingsOf(t.content)[0];
  const reading = first && find(readings, first);
  if (reading)
    return takesMany(t.content.kind) && readingsOf(t.content).length > 1 ? `${reading.label} and others` : reading.label;
  return (
    { nodes: "Nodes", note: "Note", zone: "Arming" }[t.content.kind as string] ??
    (first ? `${first.node}/${first.reading}` : "Tile")
  );
}

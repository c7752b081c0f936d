import type { HeatSource, Opening, Room, SiteDesign, Wall } from "@/api/client";

type Place = SiteDesign["place"];

export const materialNames: Record<Wall["material"], string> = {
  plasterboard: "plasterboard",
  brick: "brick",
  concrete: "concrete",
  timber: "timber",
  glass: "glass",
  metal: "metal",
};
/** What it is like in a room. */
export const tagNames: Record<Room["tags"][number], string> = {
  wet: "wet",
  outdoor: "outdoors",
  hot: "hot",
  cold: "cold",
  dusty: "dusty",
  sleeping: "people asleep",
  trees: "trees or a hedge",
};
export const openingNames: Record<Opening["kind"], string> = {
  door: "door",
  window: "window",
  coatedWindow: "coated window",
  passage: "passage",
};

export const heatSourceNames: Record<HeatSource["kind"], string> = {
  heater: "a heater, stove or boiler",
  vent: "a fan, vent or air conditioner",
};

/** What is on one floor of a place; null is the ground. */
export function onFloor(place: Place, floor: string | null): Place {
  const known = new Set(place.floors?.map((f) => f.key));
  const of = (f: string | null | undefined) => (f && known.has(f) ? f : null);
  const rooms = place.rooms.filter((r) => of(r.floor) === floor);
  return {
    ...place,
    rooms,
    walls: place.walls.filter((w) => of(w.floor) === floor),
    heatSources: place.heatSources?.filter((h) => of(h.floor) === floor),
    spots: place.spots.filter((s) => of(place.rooms.find((r) => r.key === s.room)?.floor) === floor),
  };
}

/** Floors to choose from, the ground among them; empty where there is but one. */
export const floorChoices = (place: Place) =>
  place.floors?.length ? [{ value: "", label: "Ground" }, ...place.floors.map((f) => ({ value: f.key, label: f.label }))] : [];

/** The part of a plan that is drawn, in metres. */
export interface PlanBox {
  x: number;
  y: number;
  w: number;
  h: number;
}

interface At {
  x: number;
  y: number;
}

/** The box round points, with a margin; below room for a line of text where it is wanted. */
export function planBox(points: At[], margin: number, below = 0): PlanBox {
  if (!points.length) return { x: 0, y: 0, w: 10, h: 6 };
  const xs = points.map((p) => p.x);
  const ys = points.map((p) => p.y);
  const [x, y] = [Math.min(...xs) - margin, Math.min(...ys) - margin];
  return { x, y, w: Math.max(...xs) - x + margin, h: Math.max(...ys) - y + margin + below };
}

/** Outlines as one path, to be filled by the even-odd rule. */
export const outlinePath = (outlines: At[][]) => outlines.map((o) => `M${o.map((p) => `${p.x} ${p.y}`).join("L")}Z`).join("");

/** Where a thing goes from where it is by then: presses that come before the answer to the last add up. */
export type Where = (now: { x: number; y: number }) => { x: number; y: number };

/** Where the arrow keys lead. */
export const arrowSteps: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** A step by an arrow key, to whole centimetres; nothing for another key. */
export function arrowMove(e: KeyboardEvent, metres: number): Where | undefined {
  const by = arrowSteps[e.key];
  const step = (from: number, direction: number) => Math.round((from + direction * metres) * 100) / 100;
  return by && (({ x, y }) => ({ x: step(x, by[0]), y: step(y, by[1]) }));
}

/** Things of the plan that are moved from where they are by then. */
import { useSite } from "./site";
import type { Where } from "@/kit/plan";

export function useMoves() {
  const site = useSite();
  return {
    spot: (key: string, to: Where) =>
      site.apply(`${site.design.value?.place.spots.find((s) => s.key === key)?.label ?? key} moved`, ({ place }) =>
        place.spots
          .filter((s) => s.key === key)
          .map((s) => ({ s, at: to(s) }))
          .filter(({ s, at }) => s.x !== at.x || s.y !== at.y)
          .map(({ s, at }) => ({ kind: "putSpot", spot: { ...s, x: at.x, y: at.y } })),
      ),
    heat: (key: string, label: string, to: Where) =>
      site.apply(`${label} moved`, ({ place }) =>
        (place.heatSources ?? [])
          .filter((h) => h.key === key)
          .map((h) => ({ kind: "putHeatSource", heatSource: { ...h, ...to(h) } })),
      ),
    corner: (key: string, label: string, corner: number, to: Where) =>
      site.apply(`A corner of ${label} moved`, ({ place }) =>
        place.rooms
          .filter((r) => r.key === key && r.corners[corner])
          .map((r) => ({ kind: "moveCorner", key, corner, to: to(r.corners[corner]!) })),
      ),
  };
}

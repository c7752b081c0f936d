/** Words for calibrations, and what a sensor shows while one is made. */
import { useQuery } from "@tanstack/vue-query";
import type { Ref } from "vue";
import { api, answer, type CalibrationKind, type CalibrationPoint } from "@/api/client";
import { useSite } from "@/app/site";

export const kinds: Record<CalibrationKind, { label: string; how: string; least: number; most: number }> = {
  offset: { label: "offset", how: "Beside a reference, once both show the same air or water.", least: 1, most: 50 },
  twoPoints: { label: "two points", how: "Dry and wet, empty and full, ice water and warm water.", least: 2, most: 2 },
  line: { label: "line through points", how: "Three points or more; what they are off the line is shown.", least: 3, most: 50 },
  table: { label: "table", how: "For a sensor that is not straight: ohms to bar, height to litres.", least: 2, most: 50 },
  standard: {
    label: "standard solution",
    how: "Rinse, dip it into the standard, and say what stands on the bottle and how warm it is.",
    least: 1,
    most: 50,
  },
  scale: { label: "counts per unit", how: "Let a measured amount through and count.", least: 1, most: 50 },
};

/** What a reading shows before calibration, and whether it has settled; asked anew every two seconds. */
/** @param taken Points that were taken already: a value that has not moved since is no further one. */
export function useSteadiness(
  node: Ref<string>,
  reading: Ref<string>,
  wanted: Ref<boolean>,
  taken: Ref<CalibrationPoint[]>,
  since: Ref<number | undefined>,
) {
  const site = useSite();
  return useQuery({
    queryKey: ["steadiness", site.key, node, reading, taken, since],
    enabled: wanted,
    refetchInterval: 2000,
    queryFn: () =>
      answer(
        api.GET("/api/sites/{site}/nodes/{node}/readings/{reading}/steadiness", {
          params: {
            path: { site: site.key.value, node: node.value, reading: reading.value },
            query: { since: since.value, raw: taken.value.map((p) => p.raw), spread: taken.value.map((p) => p.spread) },
          },
        }),
      ),
  });
}

/** The readings of the site with their newest samples, kept fresh by live updates. */
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { api, answer, type LiveSample, type ReadingView } from "@/api/client";
import type { SiteContext } from "@/app/site";
import { newest } from "@/live/live";
import { duration, number } from "@/kit/format";

export function useReadings(site: SiteContext) {
  const query = useQuery({
    queryKey: ["readings", site.key],
    // Values come by themselves; what is worked out of them is asked for.
    refetchInterval: 30_000,
    queryFn: () => answer(api.GET("/api/sites/{site}/readings", { params: { path: { site: site.key.value } } })),
  });
  const readings = computed(() =>
    (query.data.value ?? []).map((r) => {
      const live = newest.get(`${r.node}/${r.key}`);
      return live && (!r.newest || live.t >= r.newest.t) ? { ...r, newest: live } : r;
    }),
  );
  return { readings, loading: query.isPending, failed: computed(() => query.error.value?.message) };
}

/** The words of a state, on and off. */
const words: Record<string, [string, string]> = {
  motion: ["motion", "still"],
  presence: ["somebody there", "nobody"],
  contact: ["closed", "open"],
  level: ["reached", "not reached"],
  relay: ["on", "off"],
  vibration: ["knocked", "quiet"],
};

/** How long a state was not at rest in the stretch that is shown. Empty for never. */
export function happenedText(
  r: Pick<ReadingView, "kind" | "quantity" | "unit" | "decimals" | "newest" | "restsOn">,
  totalMs: number,
): string {
  if (totalMs <= 0) return "";
  const word = valueText(r, r.restsOn ? 0 : 1);
  const now = r.newest ? valueText(r, r.newest.value) : "";
  return `, ${word === now ? "" : `${word} `}${duration(totalMs)} in all`;
}

export function valueText(r: Pick<ReadingView, "kind" | "quantity" | "unit" | "decimals">, value: number): string {
  if (r.kind === "state" || r.kind === "event") return (words[r.quantity] ?? ["on", "off"])[value > 0 ? 0 : 1];
  return `${r.decimals >= 0 ? value.toFixed(r.decimals) : number(value)} ${r.unit}`.trim();
}

/** True when nothing came for longer than the server's zones and permits wait, or nothing ever did. */
export const isStale = (r: ReadingView, sample: LiveSample | null | undefined, now: number) =>
  !sample || (r.silentAfterMs !== null && now - sample.t > r.silentAfterMs);

/** Nodes that were heard, and of which nothing came for longer than any of their readings may keep silent. */
export function silentNodes(readings: ReadingView[], now: number): { node: string; lastMs: number }[] {
  const heard = readings.filter((r) => r.newest);
  return [...new Set(heard.map((r) => r.node))]
    .map((node) => heard.filter((r) => r.node === node))
    .filter((of) => of.every((r) => r.silentAfterMs !== null && isStale(r, r.newest, now)))
    .map((of) => ({ node: of[0]!.node, lastMs: Math.max(...of.map((r) => r.newest!.t)) }))
    .sort((a, b) => a.lastMs - b.lastMs);
}

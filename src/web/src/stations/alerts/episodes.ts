/** The episodes of the site, open ones first, with what can be said of each. */
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { answer, api, type EpisodeView } from "@/api/client";
import type { SiteContext } from "@/app/site";
import { useSiteTime } from "@/live/clock";
import { number } from "@/kit/format";
import { useNames } from "@/stations/watch/names";
import { stretchRound } from "@/stations/watch/views/range";
import { readingsOf } from "@/stations/watch/views/tile-forms";

export function useEpisodes(site: SiteContext) {
  const names = useNames(site);
  const now = useSiteTime(site);
  const query = useQuery({
    queryKey: ["episodes", site.key],
    queryFn: () => answer(api.GET("/api/sites/{site}/episodes", { params: { path: { site: site.key.value } } })),
  });
  const episodes = computed(() =>
    [...(query.data.value ?? [])].sort(
      (a, b) => Number(a.clearedMs !== null) - Number(b.clearedMs !== null) || b.raisedMs - a.raisedMs,
    ),
  );
  const open = computed(() => episodes.value.filter((e) => e.clearedMs === null));
  const rule = (e: EpisodeView) => site.design.value?.rules.find((r) => r.key === e.rule);
  const note = (e: EpisodeView) => rule(e)?.note ?? site.design.value?.zones?.find((z) => `zone:${z.key}` === e.rule)?.note;

  /** What was seen: the cause that was told, or the value. */
  function seen(e: EpisodeView) {
    if (e.cause) return e.cause;
    const r = rule(e);
    // What merely happened has no value that says anything.
    return e.value === null || r?.condition.kind === "silentFor" || (r && names.isState(r.node, r.reading))
      ? ""
      : `at ${number(e.value)} ${r ? names.unit(r.node, r.reading) : ""}`.trim();
  }

  /** The address of the view that draws what the rule watches, around the episode; where none does, of the one that is laid out of all readings. */
  function stretchOf(e: EpisodeView) {
    const r = rule(e);
    const watched = r ? [r, ...(r.also ?? []).map((p) => p.reading)].map((x) => `${x.node}/${x.reading}`) : [];
    const views = site.design.value?.views ?? [];
    const draws = (kinds: string[]) => (v: (typeof views)[number]) =>
      v.tiles.some(
        (t) => kinds.includes(t.content.kind) && readingsOf(t.content).some((x) => watched.includes(`${x.node}/${x.reading}`)),
      );
    const view = (views.find(draws(["line"])) ?? views.find(draws(["lanes", "figure", "vessel"])))?.key ?? "first";
    const stretch = stretchRound(e.raisedMs, e.clearedMs ?? now.value);
    return `/${site.key.value}/watch/${view}?from=${stretch.from}&to=${stretch.to}`;
  }

  return { query, episodes, open, note, seen, stretchOf, now };
}

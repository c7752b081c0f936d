/** The zones as they stand, kept fresh by live updates. */
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { api, answer } from "@/api/client";
import type { SiteContext } from "@/app/site";

export function useZones(site: SiteContext) {
  const query = useQuery({
    queryKey: ["zones", site.key, computed(() => site.site.value?.revision)],
    placeholderData: (old) => old,
    queryFn: () => answer(api.GET("/api/sites/{site}/zones", { params: { path: { site: site.key.value } } })),
  });
  return { zones: computed(() => query.data.value ?? []), failed: computed(() => query.error.value?.message) };
}

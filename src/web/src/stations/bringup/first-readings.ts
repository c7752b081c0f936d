/** The first readings of a node, its test mode, and which of its states are proven. */
import { useQuery } from "@tanstack/vue-query";
import type { Ref } from "vue";
import { api, answer } from "@/api/client";
import { useSite } from "@/app/site";

export function useFirstReadings(node: Ref<string>) {
  const site = useSite();
  return useQuery({
    queryKey: ["first-readings", site.key, node],
    refetchInterval: 2000,
    queryFn: () =>
      answer(
        api.GET("/api/sites/{site}/nodes/{node}/first-readings", {
          params: { path: { site: site.key.value, node: node.value } },
        }),
      ),
  });
}

/** The outputs of the site with who switched them last, kept fresh by live updates. */
import { useQuery } from "@tanstack/vue-query";
import { api, answer } from "@/api/client";
import type { SiteContext } from "@/app/site";

export const useOutputs = (site: SiteContext) =>
  useQuery({
    queryKey: ["outputs", site.key],
    refetchInterval: 5000,
    queryFn: () => answer(api.GET("/api/sites/{site}/outputs", { params: { path: { site: site.key.value } } })),
  });

/** Site time in the browser: the server's, carried on at its speed. */
import { useIntervalFn } from "@vueuse/core";
import { ref, watch } from "vue";
import type { SiteContext } from "@/app/site";

export function useSiteTime(site: SiteContext) {
  const now = ref(Date.now());
  let base = { site: Date.now(), here: Date.now(), speed: 1 };
  const tick = () => (now.value = base.site + (Date.now() - base.here) * base.speed);
  watch(
    () => site.site.value,
    (s) => {
      if (s) base = { site: s.siteNowMs, here: Date.now(), speed: s.speed };
      tick();
    },
    { immediate: true },
  );
  useIntervalFn(tick, 1000);
  return now;
}

/** The node in hand at a station of nodes: the one in the address, or the first there is. */
import { computed, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import { useSite } from "@/app/site";

export function useNodeInHand(station: string) {
  const site = useSite();
  const route = useRoute();
  const router = useRouter();
  const key = computed(() => (route.params.node ? String(route.params.node) : undefined));
  watch(
    () => [site.design.value, key.value] as const,
    ([design, wanted]) => {
      const first = design?.nodes[0];
      if (first && !design.nodes.some((n) => n.key === wanted)) void router.replace(`/${site.key.value}/${station}/${first.key}`);
    },
    { immediate: true },
  );
  return { key, node: computed(() => site.node(key.value)), plan: computed(() => site.nodePlan(key.value)) };
}

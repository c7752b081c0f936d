<script setup lang="ts">
/** The working of a figure: as it came, or asked for by the figure's address in the plan; it follows the plan as it changes. */
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { api, answer, type Figure, type Worked } from "@/api/client";
import WorkingView from "@/kit/WorkingView.vue";
import { useSite } from "./site";

const props = defineProps<{ figure: Figure }>();
const site = useSite();
const query = useQuery({
  queryKey: ["figure", site.key, computed(() => props.figure.at), site.planStamp],
  enabled: computed(() => !props.figure.working && !!props.figure.at),
  placeholderData: (old: Worked | undefined) => old,
  queryFn: () =>
    answer(
      api.GET("/api/sites/{site}/plan/figure", {
        params: { path: { site: site.key.value }, query: { at: props.figure.at! } },
      }),
    ),
});
const worked = computed(() => (props.figure.working ? (props.figure as Worked) : query.data.value));
</script>

<template>
  <WorkingView v-if="worked?.label === figure.label" :figure="worked" />
  <p v-else-if="query.error.value || worked" class="text-sm text-faint" role="status">
    The plan has changed; choose the figure again.
  </p>
  <p v-else class="text-sm text-faint" role="status">Fetching the working…</p>
</template>

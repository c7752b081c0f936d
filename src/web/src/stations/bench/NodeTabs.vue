<script setup lang="ts">
/** The nodes of the site, as links that stay at the station. */
import { useRoute } from "vue-router";
import { useSite } from "@/app/site";
import SeverityMark from "@/kit/SeverityMark.vue";

defineProps<{ station: string }>();
const site = useSite();
const route = useRoute();
const worst = (node: string) =>
  (site.plan.value?.findings ?? []).find((f) => f.subject.node === node && f.severity !== "note")?.severity;
</script>

<template>
  <nav class="mb-4 flex gap-1 overflow-x-auto border-b border-rule md:flex-wrap md:overflow-visible" aria-label="Nodes">
    <RouterLink
      v-for="n in site.design.value?.nodes ?? []"
      :key="n.key"
      :to="`/${site.key.value}/${station}/${n.key}`"
      class="flex min-h-10 shrink-0 items-center gap-1.5 border-b-2 px-3"
      :class="route.params.node === n.key ? 'border-act font-semibold' : 'border-transparent hover:text-act'"
      :aria-current="route.params.node === n.key ? 'page' : undefined"
    >
      <SeverityMark v-if="worst(n.key)" :severity="worst(n.key)!" />{{ n.label }}
    </RouterLink>
  </nav>
</template>

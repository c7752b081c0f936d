<script setup lang="ts">
/** The eight stations with their numbers, and how many stops and risks each has. A bar at the foot on a phone. */
import { computed } from "vue";
import { useRoute } from "vue-router";
import SeverityMark from "@/kit/SeverityMark.vue";
import { useSite } from "./site";
import { stations } from "./stations";

const route = useRoute();
const site = useSite();
const rows = computed(() =>
  stations.map((s) => {
    const findings = site.findings(s.key);
    return {
      ...s,
      to:
        `/${String(route.params.site)}/${s.key}` +
        (route.params.node && s.key !== "place" && s.key !== "alerts" ? `/${String(route.params.node)}` : ""),
      stops: findings.filter((f) => f.severity === "stop").length,
      risks: findings.filter((f) => f.severity === "risk").length,
    };
  }),
);
</script>

<template>
  <nav
    aria-label="Stations"
    class="fixed inset-x-0 bottom-0 z-20 flex overflow-x-auto border-t border-rule bg-paper md:sticky md:top-0 md:h-screen md:w-28 md:shrink-0 md:flex-col md:overflow-visible md:border-t-0 md:border-r"
  >
    <RouterLink to="/" class="hidden px-3 py-2.5 text-lg font-semibold text-act md:block">Cenotic</RouterLink>
    <RouterLink
      v-for="s in rows"
      :key="s.key"
      :to="s.to"
      :title="s.asks"
      class="flex min-h-14 min-w-[4.6rem] flex-col justify-center border-t-4 border-transparent px-2 py-1 md:min-w-0 md:border-t-0 md:border-l-4"
      active-class="border-act! bg-sheet font-semibold"
    >
      <span class="flex items-baseline gap-1.5"
        ><span class="mono text-sm text-faint">{{ s.number }}</span
        >{{ s.name }}</span
      >
      <span v-if="s.stops || s.risks" class="flex gap-2 text-sm">
        <span v-if="s.stops"><SeverityMark severity="stop" /> {{ s.stops }}<span class="sr-only"> stops</span></span>
        <span v-if="s.risks"><SeverityMark severity="risk" /> {{ s.risks }}<span class="sr-only"> risks</span></span>
      </span>
    </RouterLink>
  </nav>
</template>

<script setup lang="ts">
/** The eight stations with their numbers, and how many stops and risks each has. A bar at the foot on a phone. */
import { computed } from "vue";
import { useRoute } from "vue-router";
import SeverityMark from "@/kit/SeverityMark.vue";
import { useSite } from "./site";
import { stationPath, stations } from "./stations";

/** Episodes that nobody has acknowledged yet. */
const props = defineProps<{ open: number }>();
const route = useRoute();
const site = useSite();
const rows = computed(() =>
  stations.map((s) => {
    const findings = site.findings(s.key);
    return {
      ...s,
      to: stationPath(String(route.params.site), s.key, route.params.node),
      stops: findings.filter((f) => f.severity === "stop").length,
      risks: findings.filter((f) => f.severity === "risk").length,
      open: s.key === "alerts" ? props.open : 0,
    };
  }),
);
</script>

<template>
  <nav
    aria-label="Stations"
    class="fixed inset-x-0 bottom-0 z-20 grid grid-cols-8 border-t border-rule bg-paper md:sticky md:top-0 md:flex md:h-screen md:w-28 md:shrink-0 md:flex-col md:border-t-0 md:border-r"
  >
    <RouterLink to="/" class="hidden px-3 py-2.5 text-lg font-semibold text-act md:block">Cenotic</RouterLink>
    <RouterLink
      v-for="s in rows"
      :key="s.key"
      :to="s.to"
      :title="s.asks"
      class="flex min-h-14 flex-col items-center justify-center border-t-4 border-transparent py-1 text-xs md:items-start md:border-t-0 md:border-l-4 md:px-2 md:text-base"
      active-class="border-act! bg-sheet font-semibold"
    >
      <span class="flex flex-col items-center whitespace-nowrap md:flex-row md:items-baseline md:gap-1.5"
        ><span class="mono text-sm text-faint">{{ s.number }}</span
        >{{ s.name }}</span
      >
      <span v-if="s.open" class="text-xs font-semibold whitespace-nowrap text-stop md:text-sm" data-open-count
        >{{ s.open }} open</span
      >
      <span v-if="s.stops || s.risks" class="flex gap-1 text-xs md:gap-2 md:text-sm">
        <span v-if="s.stops" class="whitespace-nowrap"
          ><SeverityMark severity="stop" /> {{ s.stops }}<span class="sr-only"> stops</span></span
        >
        <span v-if="s.risks" class="whitespace-nowrap"
          ><SeverityMark severity="risk" /> {{ s.risks }}<span class="sr-only"> risks</span></span
        >
      </span>
    </RouterLink>
  </nav>
</template>

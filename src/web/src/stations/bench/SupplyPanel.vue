<script setup lang="ts">
/** What is to be added, or rails against their budgets. */
import type { BenchPlan } from "@/api/client";
import FigureView from "@/kit/FigureView.vue";

defineProps<{ plan: BenchPlan; part: "additions" | "rails" }>();
const width = (percent: number | null | undefined) => Math.min(100, percent ?? 0);
</script>

<template>
  <ul v-if="part === 'additions'" class="divide-y divide-rule border-y border-rule">
    <li v-for="c in plan.additions" :key="c.key" class="py-1.5">
      <span class="font-semibold">{{ c.what }}</span> <span class="mono">{{ c.value }}</span> for
      <span class="mono text-sm">{{ c.for }}</span>
      <p class="text-sm text-faint">{{ c.where }}</p>
      <p v-if="c.figures.length" class="flex flex-wrap gap-x-4 text-sm">
        <span v-for="f in c.figures" :key="f.label">{{ f.label }} <FigureView :figure="f" /></span>
      </p>
    </li>
  </ul>
  <template v-else>
    <div v-for="r in plan.rails" :key="r.rail" class="mb-2">
      <p class="flex flex-wrap gap-x-4">
        <strong>{{ r.label }}</strong>
        <span>runs at <FigureView :figure="r.typical" /></span>
        <span>peaks at <FigureView :figure="r.peak" /></span>
        <span>can give <FigureView :figure="r.budget" /></span>
      </p>
      <svg
        viewBox="0 0 100 4"
        preserveAspectRatio="none"
        class="mt-0.5 h-2 w-full"
        role="img"
        :aria-label="`${r.label}: peak load is ${r.peakPercent?.toFixed(0) ?? 'an unknown'} % of what the rail gives`"
      >
        <rect width="100" height="4" fill="var(--rule)" />
        <rect :width="width(r.peakPercent)" height="4" fill="var(--clay)" opacity="0.55" />
        <rect :width="width(r.typicalPercent)" height="4" fill="var(--clay)" />
      </svg>
    </div>
  </template>
</template>

<script setup lang="ts">
/** What takes the charge, the most first. */
import { computed } from "vue";
import type { RhythmPlan } from "@/api/client";
import { amount } from "@/kit/format";

const props = defineProps<{ plan: RhythmPlan }>();
const biggest = computed(() => props.plan.drains.filter((d) => d.share >= 0.005).slice(0, 6));
</script>

<template>
  <table class="w-full">
    <tbody>
      <tr v-for="d in biggest" :key="d.label">
        <td class="py-1 pr-2">
          {{ d.label }}
          <svg viewBox="0 0 100 3" preserveAspectRatio="none" class="mt-0.5 h-1.5 w-full" aria-hidden="true">
            <rect width="100" height="3" fill="var(--rule)" />
            <rect :width="d.share * 100" height="3" fill="var(--clay)" />
          </svg>
        </td>
        <td class="mono py-1 pr-2 text-right whitespace-nowrap text-faint">{{ amount(d.milliamps, "mA").join(" ") }}</td>
        <td class="mono py-1 text-right">{{ Math.round(d.share * 100) }} %</td>
      </tr>
    </tbody>
  </table>
</template>

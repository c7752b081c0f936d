<script setup lang="ts">
/** Says beside a reading what is open because of it. Nothing where nothing is. */
import { computed } from "vue";
import type { ReadingView } from "@/api/client";
import SeverityMark from "@/kit/SeverityMark.vue";
import { duration } from "@/kit/format";

const props = defineProps<{ readings: ReadingView[]; now: number }>();
const open = computed(() =>
  props.readings
    .flatMap((r) => r.open)
    .filter((e, at, all) => all.findIndex((o) => o.label === e.label && o.fromMs === e.fromMs) === at),
);
</script>

<template>
  <p v-for="e in open" :key="`${e.label} ${e.fromMs}`" class="text-sm" data-open-here>
    <SeverityMark severity="stop" /> <strong class="text-stop">{{ e.label }}</strong>
    <span class="text-faint"> for {{ duration(Math.max(0, now - e.fromMs)) }}</span>
  </p>
</template>

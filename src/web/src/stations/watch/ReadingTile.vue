<script setup lang="ts">
/** A figure with its age, and its line over the chosen stretch. Staleness is a mark and a word. */
import { computed } from "vue";
import type { ReadingView } from "@/api/client";
import FigureView from "@/kit/FigureView.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import { ageText } from "@/kit/format";
import DayLine from "./DayLine.vue";
import OpenMark from "./OpenMark.vue";
import { isStale, valueText } from "./readings";

const props = defineProps<{ reading: ReadingView; hours: number; now: number }>();
const age = computed(() => (props.reading.newest ? Math.max(0, props.now - props.reading.newest.t) : undefined));
/** What is to be said about the newest sample itself: bits as the server's SampleFlags. */
const remark = computed(() => {
  const flags = props.reading.newest?.flags ?? 0;
  return flags & 8
    ? "suspect: a fault value, or one that the sensor cannot measure"
    : flags & 32
      ? "set aside: it does not count"
      : flags & 64
        ? "beyond the calibration table: a guess"
        : flags & 2
          ? "time taken at arrival"
          : "";
});
const stale = computed(() => isStale(props.reading, props.reading.newest, props.now));
</script>

<template>
  <article
    class="flex min-w-0 flex-col"
    :class="reading.open.length ? '-ml-3 border-l-4 border-stop pl-2' : ''"
    :data-reading="`${reading.node}/${reading.key}`"
  >
    <div class="flex items-baseline justify-between gap-3">
      <h3 class="truncate text-faint">{{ reading.label }}</h3>
      <span class="text-sm whitespace-nowrap" :class="stale ? '' : 'text-faint'">
        <SeverityMark v-if="stale" severity="risk" />
        {{ age === undefined ? "never heard" : stale ? `silent for ${ageText(age)}` : `${ageText(age)} ago` }}
      </span>
    </div>
    <p class="mono text-2xl font-semibold" data-value>{{ reading.newest ? valueText(reading, reading.newest.value) : "–" }}</p>
    <OpenMark :readings="[reading]" :now="now" />
    <p v-if="reading.derived.length" class="flex flex-wrap gap-x-4 text-sm">
      <span v-for="d in reading.derived" :key="d.label"
        ><FigureView v-if="d.label === reading.label" :figure="d">its working</FigureView>
        <template v-else
          ><span class="text-faint">{{ d.label }}</span> <FigureView :figure="d" /></template
      ></span>
    </p>
    <p v-if="remark" class="text-sm"><SeverityMark :severity="remark.startsWith('suspect') ? 'risk' : 'note'" /> {{ remark }}</p>
    <DayLine v-if="reading.kind === 'gauge' || reading.kind === 'counter'" :reading="reading" :hours="hours" />
  </article>
</template>

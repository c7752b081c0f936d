<script setup lang="ts">
/** The newest value, where it is going, and how old it is. */
import { computed } from "vue";
import type { TileContent, TileData } from "@/api/client";
import SeverityMark from "@/kit/SeverityMark.vue";
import FigureView from "@/kit/FigureView.vue";
import { ageText, number } from "@/kit/format";
import { isStale, valueText } from "../../readings";
import { find, useBoard } from "../board";

const props = defineProps<{ content: Extract<TileContent, { kind: "figure" }>; data: TileData | undefined }>();
const board = useBoard();
const reading = computed(() => find(board.readings.value, props.content.reading));
const age = computed(() => (reading.value?.newest ? Math.max(0, board.now.value - reading.value.newest.t) : undefined));
const stale = computed(() => !!reading.value && isStale(reading.value, reading.value.newest, board.now.value));
const trend = computed(() => {
  const by = props.data?.perHour;
  if (by === null || by === undefined) return "";
  return `${by > 0 ? "↗ rising" : "↘ falling"} ${number(Math.abs(by))} ${reading.value?.unit ?? ""}/h`;
});
const line = computed(() => props.data?.lines[0]?.line);
const path = computed(() => {
  const l = line.value;
  if (!l || l.t.length < 2) return "";
  const { from, to } = board.stretch.value;
  const [low, high] = [Math.min(...l.mean), Math.max(...l.mean)];
  const y = (v: number) => 22 - ((v - low) / (high - low || 1)) * 20;
  return "M" + l.t.map((t, i) => `${(((t - from) / (to - from)) * 200).toFixed(1)} ${y(l.mean[i]!).toFixed(1)}`).join("L");
});
</script>

<template>
  <div class="flex min-h-0 flex-1 flex-col justify-between">
    <p v-if="!reading" class="text-sm text-faint">This reading is gone; choose another.</p>
    <template v-else>
      <p class="mono text-3xl leading-tight font-semibold" data-value>
        {{ reading.newest ? valueText(reading, reading.newest.value) : "–" }}
      </p>
      <p v-if="reading.derived.length" class="text-sm">
        <span v-for="d in reading.derived" :key="d.label" class="mr-3"
          ><span class="text-faint">{{ d.label }}</span> <FigureView :figure="d"
        /></span>
      </p>
      <svg v-if="path" viewBox="0 0 200 24" preserveAspectRatio="none" class="h-6 w-full" aria-hidden="true">
        <path :d="path" fill="none" stroke="var(--act)" stroke-width="1.5" vector-effect="non-scaling-stroke" />
      </svg>
      <p class="flex flex-wrap justify-between gap-x-3 text-sm" :class="stale ? '' : 'text-faint'">
        <span
          ><SeverityMark v-if="stale" severity="risk" />
          {{ age === undefined ? "never heard" : stale ? `silent for ${ageText(age)}` : `${ageText(age)} ago` }}</span
        >
        <span>{{ trend }}</span>
      </p>
    </template>
  </div>
</template>

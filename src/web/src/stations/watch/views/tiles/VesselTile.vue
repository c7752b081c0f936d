<script setup lang="ts">
/** A vessel in its true shape with the water in it. */
import { computed } from "vue";
import type { TileContent, TileData } from "@/api/client";
import FigureView from "@/kit/FigureView.vue";
import { ageText, number } from "@/kit/format";
import { isStale } from "../../readings";
import SeverityMark from "@/kit/SeverityMark.vue";
import { find, useBoard } from "../board";

const props = defineProps<{ content: Extract<TileContent, { kind: "vessel" }>; data: TileData | undefined }>();
const board = useBoard();
const reading = computed(() => find(board.readings.value, props.content.reading));
const state = computed(() => props.data?.vessel);
/** Width and height of what is drawn, in centimetres of the vessel. */
const size = computed(() =>
  props.content.shape === "lying"
    ? { w: props.content.widthCm, h: props.content.widthCm }
    : { w: props.content.widthCm, h: props.content.heightCm },
);
const level = computed(() => state.value?.level.value ?? 0);
const stale = computed(() => !!reading.value && isStale(reading.value, reading.value.newest, board.now.value));
const age = computed(() => (reading.value?.newest ? Math.max(0, board.now.value - reading.value.newest.t) : undefined));
</script>

<template>
  <div class="flex min-h-0 flex-1 items-stretch gap-4">
    <div class="relative min-h-20 min-w-20 flex-1">
      <svg
        :viewBox="`-2 -2 ${size.w + 4} ${size.h + 4}`"
        class="absolute inset-0 h-full w-full"
        role="img"
        :aria-label="state ? `${number(state.share.value!)} % full` : 'not known'"
      >
        <defs>
          <clipPath :id="`clip-${data?.key}`">
            <circle v-if="content.shape === 'lying'" :cx="size.w / 2" :cy="size.h / 2" :r="size.w / 2" />
            <rect v-else :width="size.w" :height="size.h" />
          </clipPath>
        </defs>
        <rect
          :clip-path="`url(#clip-${data?.key})`"
          :y="size.h - level"
          :width="size.w"
          :height="level"
          fill="var(--act)"
          opacity="0.75"
        />
        <circle
          v-if="content.shape === 'lying'"
          :cx="size.w / 2"
          :cy="size.h / 2"
          :r="size.w / 2"
          fill="none"
          stroke="var(--ink)"
          stroke-width="2"
          vector-effect="non-scaling-stroke"
        />
        <path
          v-else
          :d="`M0 0V${size.h}H${size.w}V0`"
          fill="none"
          stroke="var(--ink)"
          stroke-width="2"
          vector-effect="non-scaling-stroke"
        />
      </svg>
    </div>
    <div class="flex min-w-0 flex-1 flex-col justify-center">
      <template v-if="state">
        <p><FigureView :figure="state.share" big /></p>
        <p><FigureView :figure="state.litres" band /></p>
        <p class="text-sm text-faint">
          <FigureView :figure="state.level" /> of {{ number(size.h) }} cm, {{ number(state.capacity) }} L in all
        </p>
      </template>
      <p v-else class="text-sm text-faint">Nothing heard yet, or the reading is no length.</p>
      <p class="text-sm" :class="stale ? '' : 'text-faint'">
        <SeverityMark v-if="stale" severity="risk" />
        {{ age === undefined ? "never heard" : stale ? `silent for ${ageText(age)}` : `${ageText(age)} ago` }}
      </p>
    </div>
  </div>
</template>

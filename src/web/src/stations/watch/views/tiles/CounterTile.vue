<script setup lang="ts">
/** What a counter counted, in bars by the hour, day or month, with the total of the stretch. */
import { computed } from "vue";
import type { TileContent, TileData } from "@/api/client";
import { moment, number } from "@/kit/format";
import { find, useBoard } from "../board";

const props = defineProps<{ content: Extract<TileContent, { kind: "counter" }>; data: TileData | undefined }>();
const board = useBoard();
const reading = computed(() => find(board.readings.value, props.content.reading));
const unit = computed(() => reading.value?.unit ?? "");
const counts = computed(() => props.data?.counts);
const bars = computed(() => counts.value?.bars ?? []);
const total = computed(() => counts.value?.total ?? 0);
/** The height of a bar as a part of the highest. */
const share = (count: number) => (counts.value && counts.value.most > 0 ? count / counts.value.most : 0);
const by = computed(() => props.content.by ?? "day");
const stamp = (ms: number) => {
  const text = moment(ms, board.zone.value, true);
  return by.value === "hour" ? text.slice(-8, -3) : text.split(",")[0];
};
const words = { hour: "hour", day: "day", month: "month" };
defineExpose({
  table: () => ({
    head: ["from", `${reading.value?.label ?? ""}, ${unit.value}`],
    rows: bars.value.map((b) => [new Date(b.fromMs).toISOString(), b.count]),
  }),
});
</script>

<template>
  <div class="flex min-h-0 flex-1 flex-col">
    <p class="flex flex-wrap items-baseline gap-x-4">
      <span class="mono text-2xl font-semibold">{{ number(total) }} {{ unit }}</span>
      <span class="text-sm text-faint"
        >{{ number(counts?.perHour ?? 0) }} {{ unit }}/h, most {{ number(counts?.most ?? 0) }} {{ unit }} in
        {{ by === "hour" ? "an" : "a" }} {{ words[by] }}</span
      >
    </p>
    <div class="relative min-h-16 flex-1">
      <svg
        :viewBox="`0 0 ${Math.max(1, bars.length) * 10} 100`"
        preserveAspectRatio="none"
        class="absolute inset-0 h-full w-full"
        role="img"
        :aria-label="`${reading?.label ?? 'Counter'} by the ${words[by]}: ${number(total)} ${unit} in all`"
      >
        <rect
          v-for="(b, i) in bars"
          :key="b.fromMs"
          :x="i * 10 + 1"
          :y="100 - share(b.count) * 98"
          width="8"
          :height="share(b.count) * 98"
          fill="var(--act)"
        >
          <title>{{ stamp(b.fromMs) }}: {{ number(b.count) }} {{ unit }}</title>
        </rect>
        <path :d="`M0 100H${bars.length * 10}`" stroke="var(--faint)" vector-effect="non-scaling-stroke" />
      </svg>
    </div>
    <div v-if="bars.length" class="mono flex justify-between text-sm text-faint" aria-hidden="true">
      <span>{{ stamp(bars[0]!.fromMs) }}</span><span>{{ stamp(bars.at(-1)!.fromMs) }}</span>
    </div>
  </div>
</template>

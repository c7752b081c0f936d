<script setup lang="ts">
/** States as lanes on one time axis. */
import { computed } from "vue";
import type { TileContent, TileData } from "@/api/client";
import LaneStrip from "@/kit/LaneStrip.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import { duration, moment } from "@/kit/format";
import { happenedText, isStale, valueText } from "../../readings";
import { find, useBoard } from "../board";

const props = defineProps<{ content: Extract<TileContent, { kind: "lanes" }>; data: TileData | undefined }>();
const board = useBoard();
const end = computed(() => Math.min(board.stretch.value.to, board.now.value));
const lanes = computed(() =>
  props.content.of.map((of) => {
    const reading = find(board.readings.value, of);
    const stretches = props.data?.lanes.find((l) => l.node === of.node && l.reading === of.reading)?.stretches ?? [];
    const bars = stretches.map((s) => {
      const to = s.open ? end.value : s.to;
      const title = `${moment(s.from, board.zone.value, true)} for ${duration(Math.max(0, to - s.from))}`;
      return { from: s.from, to, fill: s.open ? "var(--clay)" : "var(--act)", title };
    });
    return { of, reading, bars, total: bars.reduce((sum, b) => sum + Math.max(0, b.to - b.from), 0) };
  }),
);
const marks = computed(() => {
  const { from, to } = board.stretch.value;
  return Array.from({ length: 5 }, (_, i) => from + ((to - from) * i) / 4);
});
const long = computed(() => board.stretch.value.to - board.stretch.value.from > 2 * 86_400_000);
const stamp = (t: number) =>
  long.value ? moment(t, board.zone.value, true).split(",")[0] : moment(t, board.zone.value).slice(0, 5);
defineExpose({
  table: () => ({
    head: ["reading", "from", "to"],
    rows: lanes.value.flatMap((l) =>
      l.bars.map((b) => [l.reading?.label ?? l.of.reading, new Date(b.from).toISOString(), new Date(b.to).toISOString()]),
    ),
  }),
});
</script>

<template>
  <div class="@container flex min-h-0 flex-1 flex-col justify-center gap-1 overflow-y-auto">
    <div
      v-for="l in lanes"
      :key="`${l.of.node}/${l.of.reading}`"
      class="grid grid-cols-[minmax(0,1fr)] items-center gap-x-3 @md:grid-cols-[minmax(0,9rem)_minmax(0,1fr)] @3xl:grid-cols-[minmax(0,16rem)_minmax(0,1fr)]"
    >
      <span class="flex min-w-0 items-baseline justify-between gap-2 @md:block">
        <span class="block truncate leading-tight">{{ l.reading?.label ?? "gone" }}</span>
        <span v-if="l.reading" class="block truncate text-sm leading-tight"
          ><SeverityMark v-if="isStale(l.reading, l.reading.newest, board.now.value)" severity="risk" />
          {{ l.reading.newest ? valueText(l.reading, l.reading.newest.value) : "never heard"
          }}<span class="text-faint">{{ happenedText(l.reading, l.total) }}</span></span
        >
      </span>
      <LaneStrip
        :bars="l.bars"
        :from="board.stretch.value.from"
        :to="board.stretch.value.to"
        :label="`${l.reading?.label ?? l.of.reading}: ${l.bars.length} stretches`"
      >
        <template #default="{ x }">
          <path v-for="t in marks" :key="t" :d="`M${x(t)} 0V22`" stroke="var(--rule)" vector-effect="non-scaling-stroke" />
        </template>
      </LaneStrip>
    </div>
    <div class="mono flex justify-between text-sm text-faint @md:pl-[9.75rem] @3xl:pl-[16.75rem]" aria-hidden="true">
      <span v-for="(t, i) in marks" :key="t" :class="i % 4 ? 'hidden sm:inline' : ''">{{ stamp(t) }}</span>
    </div>
  </div>
</template>

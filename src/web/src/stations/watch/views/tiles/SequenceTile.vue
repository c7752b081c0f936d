<script setup lang="ts">
/** What two event sensors saw together and what one saw alone: how often, how often a day, and the newest. */
import { computed } from "vue";
import type { TileContent, TileData } from "@/api/client";
import { duration, inSeconds, moment, number } from "@/kit/format";
import { useBoard } from "../board";

const props = defineProps<{ content: Extract<TileContent, { kind: "sequence" }>; data: TileData | undefined }>();
const board = useBoard();
const s = computed(() => props.data?.sequence);
const rows = computed(() => [
  { key: "both", words: props.content.both, count: s.value?.counts.both ?? 0, perDay: s.value?.bothPerDay ?? 0 },
  {
    key: "firstAlone",
    words: props.content.firstAlone,
    count: s.value?.counts.firstAlone ?? 0,
    perDay: s.value?.firstAlonePerDay ?? 0,
  },
  {
    key: "secondAlone",
    words: props.content.secondAlone,
    count: s.value?.counts.secondAlone ?? 0,
    perDay: s.value?.secondAlonePerDay ?? 0,
  },
]);
const wordsOf = (outcome: string) => rows.value.find((r) => r.key === outcome)?.words ?? outcome;
defineExpose({
  table: () => ({
    head: ["time", "outcome", "delay, s"],
    rows: (s.value?.newest ?? []).map((e) => [
      new Date(e.atMs).toISOString(),
      wordsOf(e.outcome),
      e.delayMs === null ? "" : inSeconds(e.delayMs),
    ]),
  }),
});
</script>

<template>
  <div class="flex min-h-0 flex-1 flex-col overflow-y-auto">
    <dl class="grid grid-cols-3 gap-x-4">
      <div v-for="r in rows" :key="r.key" class="min-w-0">
        <dt class="truncate text-sm text-faint" :title="r.words">{{ r.words }}</dt>
        <dd class="mono text-2xl font-semibold">{{ r.count }}</dd>
        <dd class="text-sm text-faint">{{ number(r.perDay) }} a day</dd>
      </div>
    </dl>
    <ul v-if="s?.newest.length" class="mt-1 text-sm">
      <li v-for="e in s.newest" :key="`${e.atMs}-${e.outcome}`">
        <span class="mono text-faint">{{ moment(e.atMs, board.zone.value, true) }}</span> {{ wordsOf(e.outcome)
        }}<span v-if="e.delayMs !== null" class="text-faint">, {{ duration(Math.abs(e.delayMs)) }} apart</span>
      </li>
    </ul>
    <p v-else class="mt-1 text-sm text-faint">Neither saw anything in this stretch.</p>
  </div>
</template>

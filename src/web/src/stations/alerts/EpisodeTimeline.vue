<script setup lang="ts">
/** Episodes of the last days as lanes, one a rule: how often, how long, and whether anybody took them up. */
import { computed, ref } from "vue";
import type { EpisodeView } from "@/api/client";
import ChoiceStrip from "@/kit/ChoiceStrip.vue";
import LaneStrip from "@/kit/LaneStrip.vue";
import { duration, moment } from "@/kit/format";

const props = defineProps<{ episodes: EpisodeView[]; now: number; zone: string }>();
const day = 86_400_000;
const stretches = [
  { value: 1, label: "1 d" },
  { value: 7, label: "7 d" },
  { value: 30, label: "30 d" },
];
const days = ref(7);
const from = computed(() => props.now - days.value * day);
const lanes = computed(() => {
  const by = new Map<string, EpisodeView[]>();
  for (const e of props.episodes) {
    if ((e.clearedMs ?? props.now) < from.value) continue;
    by.set(e.rule, [...(by.get(e.rule) ?? []), e]);
  }
  return [...by.values()].map((list) => {
    const waits = list.map((e) => e.takenUpAfterMs).filter((w) => w != null);
    return {
      rule: list[0]!.rule,
      label: list[0]!.label,
      says: `${list.length === 1 ? "once" : `${list.length} times`}${waits.length ? `, taken up ${waits.length === 1 ? "after" : "within"} ${duration(Math.max(...waits))}` : ""}`,
      bars: list.map((e) => ({
        from: e.raisedMs,
        to: e.clearedMs ?? props.now,
        fill: e.clearedMs === null ? "var(--stop)" : e.acknowledgedMs === null ? "var(--clay)" : "var(--act)",
        title: `${moment(e.raisedMs, props.zone, true)}, ${e.lastedMs == null ? "lasts" : duration(e.lastedMs)}`,
      })),
    };
  });
});
</script>

<template>
  <section v-if="episodes.length" class="mb-4" aria-label="Timeline of episodes">
    <div class="mb-1 flex items-center justify-between gap-3">
      <p class="text-sm text-faint">
        <span class="text-stop">open</span>, <span class="text-clay">over</span>,
        <span class="text-act">over and acknowledged</span>
      </p>
      <ChoiceStrip v-model="days" label="Stretch of the timeline" :options="stretches" />
    </div>
    <p v-if="!lanes.length" class="text-faint">None in that stretch.</p>
    <div v-for="l in lanes" :key="l.rule" class="grid items-center gap-x-3 sm:grid-cols-[14rem_1fr]" :data-lane="l.rule">
      <p class="truncate text-sm">
        <strong>{{ l.label }}</strong> <span class="text-faint">{{ l.says }}</span>
      </p>
      <LaneStrip class="border-y border-rule" :bars="l.bars" :from="from" :to="now" :label="`${l.label}: ${l.says}`" />
    </div>
    <p v-if="lanes.length" class="mono flex justify-between text-sm text-faint sm:ml-[14.75rem]">
      <span>{{ moment(from, zone, true).slice(0, -3) }}</span><span>now</span>
    </p>
  </section>
</template>

<script setup lang="ts">
/** How long it lasts with other radios and intervals, and which changes help most. */
import { useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import {
  api,
  answer,
  type LifeGain,
  type NodeDesign,
  type RhythmComparison,
  type RhythmPlan,
  type RhythmPoint,
} from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import FigureView from "@/kit/FigureView.vue";
import { amount, duration, number } from "@/kit/format";
import LifeCurve from "./LifeCurve.vue";
import { strokeOf } from "./axis";

const props = defineProps<{ node: NodeDesign; plan: RhythmPlan }>();
const site = useSite();
const busy = ref(false);
const query = useQuery({
  queryKey: ["rhythms", site.key, computed(() => props.node.key), computed(() => site.site.value?.revision)],
  placeholderData: (old: RhythmComparison | undefined) => old,
  queryFn: () =>
    answer(
      api.GET("/api/sites/{site}/nodes/{node}/rhythms", {
        params: { path: { site: site.key.value, node: props.node.key } },
      }),
    ),
});
const onCells = computed(() => !!props.plan.life);
const say = (p: RhythmPoint) =>
  onCells.value ? (p.lifeDays === null ? "" : amount(p.lifeDays, "d")) : amount(p.milliamps, "mA");
const cell = (p: RhythmPoint) => (typeof say(p) === "string" ? "" : (say(p) as [string, string]).join(" "));
const band = (p: RhythmPoint) =>
  onCells.value && p.lowDays !== null && p.highDays !== null
    ? `${amount(p.lowDays, "d").join(" ")} to ${amount(p.highDays, "d").join(" ")}`
    : "";

async function take(gain: LifeGain) {
  busy.value = true;
  await site.apply(gain.label, gain.edits);
  busy.value = false;
}
</script>

<template>
  <p v-if="query.isPending.value" role="status">Working out every radio and interval…</p>
  <p v-else-if="query.error.value" class="text-stop" role="alert">{{ query.error.value.message }}</p>
  <template v-else-if="query.data.value">
    <section v-if="onCells" class="mb-6">
      <h2 class="mb-1 text-lg font-semibold">What helps most</h2>
      <p v-if="!query.data.value.gains.length" class="text-faint">
        No single change that is tried here makes it last longer: fewer readings, batches, more cells, another board, radio or
        feed.
      </p>
      <ol v-else class="flex flex-col gap-1.5">
        <li
          v-for="(g, at) in query.data.value.gains"
          :key="g.label"
          class="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-rule py-1.5"
        >
          <span class="mono w-4 text-faint">{{ at + 1 }}</span>
          <span class="min-w-60 flex-1">{{ g.label.split(":")[0] }}</span>
          <span class="text-right"><FigureView :figure="g.life" /></span>
          <span class="mono w-32 text-right text-moss">+{{ number(g.months) }} months</span>
          <AppButton v-if="site.canWrite.value" small :disabled="busy" :aria-label="`Do it: ${g.label}`" @click="take(g)"
            >Do it</AppButton
          >
        </li>
      </ol>
    </section>
    <h2 class="mb-1 text-lg font-semibold">{{ onCells ? "Life against interval" : "Current against interval" }}</h2>
    <LifeCurve :comparison="query.data.value" :on-cells="onCells" />
    <div class="mt-4 overflow-x-auto" tabindex="0" role="region" aria-label="Radios and intervals">
      <table class="grid-table">
        <thead>
          <tr>
            <th>Sends by</th>
            <th
              v-for="i in query.data.value.intervals"
              :key="i"
              class="text-right whitespace-nowrap"
              :class="i === query.data.value.todayMs ? 'text-ink' : ''"
            >
              {{ duration(i) }}<span v-if="i === query.data.value.todayMs" class="block font-normal">today</span>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(r, at) in query.data.value.radios" :key="r.key">
            <td>
              <svg viewBox="0 0 26 6" class="mr-1.5 inline w-6" aria-hidden="true">
                <path
                  d="M0 3h26"
                  :stroke="strokeOf(at).colour"
                  :stroke-dasharray="strokeOf(at).dash"
                  :stroke-width="r.today ? 3.5 : 2"
                /></svg
              >{{ r.label }}<span v-if="r.today" class="text-sm text-faint"> · today</span>
            </td>
            <td
              v-for="c in r.cells"
              :key="c.intervalMs"
              class="mono text-right whitespace-nowrap"
              :class="r.today && c.intervalMs === query.data.value.todayMs ? 'bg-act font-semibold text-onact' : ''"
              :title="band(c)"
            >
              {{ cell(c) }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="mt-1 text-sm text-faint">
      The same board and parts; pins are not planned for each radio: "Other boards" at the Bench does that. The whole timetable is
      stretched or pressed to the interval.
    </p>
  </template>
</template>

<script setup lang="ts">
/** A rule tried on the past before it is armed: what it would have told, how often at night, and what another limit would have given. */
import { useQuery } from "@tanstack/vue-query";
import { refDebounced } from "@vueuse/core";
import { computed, ref, toRef } from "vue";
import { api, answer, type RuleDesign } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import CheckBox from "@/kit/CheckBox.vue";
import FormField from "@/kit/FormField.vue";
import LaneStrip from "@/kit/LaneStrip.vue";
import SelectBox from "@/kit/SelectBox.vue";
import { duration, moment, number } from "@/kit/format";

const props = defineProps<{ rule: RuleDesign; unit: string }>();
const emit = defineEmits<{ limit: [value: number]; lasting: [ms: number] }>();
const site = useSite();
const days = ref(7);
const byTime = ref(false);
const stretches = [
  { value: 1, label: "the last day" },
  { value: 7, label: "the last week" },
  { value: 30, label: "the last 30 days" },
  { value: 365, label: "the last year" },
];
const tried = refDebounced(toRef(props, "rule"), 400);
const zone = computed(() => site.design.value?.settings.timeZone ?? "UTC");
const query = useQuery({
  queryKey: [
    "trial",
    site.key,
    computed(() =>
      JSON.stringify([tried.value.node, tried.value.reading, tried.value.condition, tried.value.join, tried.value.also]),
    ),
    days,
    byTime,
  ],
  retry: false,
  placeholderData: (old) => old,
  queryFn: () =>
    answer(
      api.POST("/api/sites/{site}/rules/trial", {
        params: { path: { site: site.key.value } },
        body: { rule: tried.value, days: days.value, asItHappened: byTime.value },
      }),
    ),
});
const view = computed(() => query.data.value);
const result = computed(() => view.value?.result);
const bars = computed(() =>
  (result.value?.episodes ?? []).map((e) => {
    const to = e.clearedMs ?? view.value!.toMs;
    const title = `${moment(e.raisedMs, zone.value, true)}, ${e.lastedMs == null ? "lasts" : duration(e.lastedMs)}`;
    return { from: e.raisedMs, to, fill: e.atNight ? "var(--stop)" : "var(--clay)", title };
  }),
);
const durations = computed(() =>
  (result.value?.durations ?? []).map((d) => ({ ...d, words: d.forMs === 0 ? "at once" : duration(d.forMs) })),
);
const most = computed(() => Math.max(1, ...durations.value.map((d) => d.episodes)));
const curve = computed(() => {
  const points = result.value?.curve ?? [];
  const most = Math.max(1, ...points.map((p) => p.episodes));
  const [low, high] = [points[0]?.limit ?? 0, points[points.length - 1]?.limit ?? 1];
  const at = (limit: number) => ((limit - low) / (high - low || 1)) * 300;
  return { points: points.map((p) => ({ ...p, x: at(p.limit), y: 60 - (p.episodes / most) * 56 })), most, at, low, high };
});
const line = (of: "episodes" | "atNight") =>
  curve.value.points.map((p) => `${p.x},${of === "episodes" ? p.y : 60 - (p.atNight / curve.value.most) * 56}`).join(" ");
const times = (n: number) => (n === 0 ? "never" : n === 1 ? "once" : `${n} times`);
</script>

<template>
  <section class="flex flex-col gap-3 border-t border-rule pt-3" data-trial>
    <h3 class="font-semibold">On the past</h3>
    <div class="flex flex-col gap-3">
      <FormField v-slot="{ id }" label="Stretch"
        ><SelectBox :id="id" v-model="days" :options="stretches" label="Stretch"
      /></FormField>
      <CheckBox v-model="byTime" label="As it happened" hint="With what came late or from a card; else as it was told." />
    </div>
    <p v-if="query.error.value" role="alert">{{ query.error.value.message }}</p>
    <p v-else-if="view?.reasons.length" class="text-faint">{{ view.reasons.join(" ") }}</p>
    <template v-else-if="view && result">
      <p v-if="!result.samples" role="status">Nothing of this reading is stored for that stretch.</p>
      <template v-else>
        <p role="status">
          It would have told <strong>{{ times(result.episodes.length) }}</strong><template v-if="result.episodes.length"
            >, {{ result.atNight }} at night (22 to 7), {{ duration(result.onMs) }} in all</template
          >
          <span class="text-sm text-faint"> of {{ result.samples }} values</span>
        </p>
        <LaneStrip
          :bars="bars"
          :from="view.fromMs"
          :to="view.toMs"
          :label="`${result.episodes.length} episodes between ${moment(view.fromMs, zone, true)} and ${moment(view.toMs, zone, true)}`"
        />
        <p class="mono flex justify-between text-sm text-faint">
          <span>{{ moment(view.fromMs, zone, true).slice(0, -3) }}</span><span>{{
            moment(view.toMs, zone, true).slice(0, -3)
          }}</span>
        </p>
        <template v-if="curve.points.length">
          <p class="text-sm">
            Episodes by limit, <span class="text-stop">those at night</span> below; from {{ number(curve.low) }} to
            {{ number(curve.high) }} {{ unit }}
          </p>
          <svg viewBox="0 -2 300 64" class="h-20 w-full" role="img" aria-label="Episodes by limit" preserveAspectRatio="none">
            <polyline
              :points="line('episodes')"
              fill="none"
              stroke="var(--act)"
              stroke-width="2"
              vector-effect="non-scaling-stroke"
            />
            <polyline
              :points="line('atNight')"
              fill="none"
              stroke="var(--stop)"
              stroke-width="1.5"
              vector-effect="non-scaling-stroke"
            />
            <path
              v-if="result.proposed !== null"
              :d="`M${curve.at(result.proposed)} 0V60`"
              stroke="var(--moss)"
              stroke-dasharray="4 3"
              vector-effect="non-scaling-stroke"
            />
          </svg>
          <p v-if="result.proposed !== null" class="flex flex-wrap items-center gap-3">
            <span>From {{ number(result.proposed) }} {{ unit }} on, no more than one a week.</span>
            <AppButton small @click="emit('limit', Number(number(result.proposed!)))">Take that limit</AppButton>
          </p>
        </template>
        <template v-if="durations.length > 1">
          <p class="text-sm">Episodes by how long it lasts, <span class="text-stop">those at night</span> in it</p>
          <ul>
            <li v-for="d in durations" :key="d.forMs">
              <button
                type="button"
                class="grid min-h-9 w-full grid-cols-[4.5rem_minmax(0,1fr)_3rem] items-center gap-2 px-1 text-left text-sm hover:text-act"
                :class="d.forMs === result.proposedForMs ? 'border-l-2 border-moss' : 'border-l-2 border-transparent'"
                @click="emit('lasting', d.forMs)"
              >
                <span class="text-act">{{ d.words }}</span>
                <span class="flex h-3" aria-hidden="true">
                  <span class="bg-stop" :style="{ width: `${(100 * d.atNight) / most}%` }" />
                  <span class="bg-act" :style="{ width: `${(100 * (d.episodes - d.atNight)) / most}%` }" />
                </span>
                <span class="mono text-right"
                  >{{ d.episodes
                  }}<span class="sr-only">
                    {{ d.episodes === 1 ? "episode" : "episodes" }}, {{ d.atNight }} at night; take this time</span
                  ></span
                >
              </button>
            </li>
          </ul>
          <p v-if="result.proposedForMs !== null" class="flex flex-wrap items-center gap-3">
            <span>From {{ duration(result.proposedForMs) }} on, no more than one a week.</span>
            <AppButton small @click="emit('lasting', result.proposedForMs)">Take that time</AppButton>
          </p>
        </template>
      </template>
    </template>
    <p v-else role="status">Trying…</p>
  </section>
</template>

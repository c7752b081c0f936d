<script setup lang="ts">
/** One cycle to scale: time across, current as height, the area is the charge. The awake part is drawn large; sleep is cut short with a break. */
import { computed, ref, watch } from "vue";
import type { RhythmPlan } from "@/api/client";
import FigureView from "@/kit/FigureView.vue";
import { amount } from "@/kit/format";

const props = defineProps<{ plan: RhythmPlan }>();
const [width, height, floor, top] = [1000, 190, 150, 14];
const chosen = ref<string>();
watch(
  () => props.plan.node,
  () => (chosen.value = undefined),
);
const rest = computed(() => props.plan.segments.at(-1));
const awake = computed(() => props.plan.segments.slice(0, -1));
const awakeMs = computed(() => awake.value.reduce((sum, s) => sum + (s.duration.value ?? 0), 0));
/** Sleep gets a fifth of the width unless it is shorter than that to scale. */
const scale = computed(() => {
  const all = awakeMs.value + (rest.value?.duration.value ?? 0);
  const cut = awake.value.length > 0 && (rest.value?.duration.value ?? 0) > all * 0.25;
  return { cut, perMs: cut ? (width * 0.8) / awakeMs.value : width / all };
});
const most = computed(() => Math.max(...props.plan.segments.map((s) => s.current.value ?? 0), 0.001));
const bars = computed(() => {
  let x = 0;
  return props.plan.segments.map((s, at) => {
    const last = at === props.plan.segments.length - 1;
    const w = last ? width - x : (s.duration.value ?? 0) * scale.value.perMs;
    const h = Math.max(1.5, ((s.current.value ?? 0) / most.value) * (floor - top));
    const bar = { s, x, w, h, last };
    x += w;
    return bar;
  });
});
const ticks = computed(() => {
  const span = scale.value.cut ? awakeMs.value : awakeMs.value + (rest.value?.duration.value ?? 0);
  const raw = span / 6;
  const power = 10 ** Math.floor(Math.log10(raw));
  const step = ([1, 2, 5, 10].find((m) => m * power >= raw) ?? 10) * power;
  return Array.from({ length: Math.floor(span / step) + 1 }, (_, n) => ({
    x: n * step * scale.value.perMs,
    label: amount(n * step, "ms").join(" "),
  }));
});
const segment = computed(() => props.plan.segments.find((s) => s.key === chosen.value) ?? props.plan.segments[0]);
const fills = ["var(--clay)", "var(--act)", "var(--risk)", "var(--moss)", "var(--clay)", "var(--act)"];
</script>

<template>
  <figure class="sheet p-3">
    <p class="mono text-sm text-faint">height is current; the tallest is {{ amount(most, "mA").join(" ") }}</p>
    <svg
      :viewBox="`0 0 ${width} ${height}`"
      class="w-full"
      role="group"
      aria-label="The cycle to scale"
      preserveAspectRatio="none"
      :style="{ height: '12rem' }"
    >
      <g
        v-for="(b, at) in bars"
        :key="b.s.key"
        role="button"
        tabindex="0"
        :aria-label="`${b.s.label}: ${amount(b.s.duration.value ?? 0, 'ms').join(' ')} at ${amount(b.s.current.value ?? 0, 'mA').join(' ')}`"
        :aria-pressed="segment?.key === b.s.key"
        class="cursor-pointer"
        @click="chosen = b.s.key"
        @keydown.enter="chosen = b.s.key"
        @keydown.space.prevent="chosen = b.s.key"
      >
        <title>{{ b.s.label }}</title>
        <rect :x="b.x" :y="top" :width="Math.max(b.w, 3)" :height="floor - top" fill="transparent" />
        <rect
          :x="b.x"
          :y="floor - b.h"
          :width="Math.max(b.w, 1)"
          :height="b.h"
          :fill="fills[at % fills.length]"
          :opacity="segment?.key === b.s.key ? 1 : 0.55"
        />
      </g>
      <path
        v-if="scale.cut"
        :d="`M${width * 0.9 - 8} ${floor + 8}l8 -16M${width * 0.9} ${floor + 8}l8 -16`"
        stroke="var(--ink)"
        stroke-width="2"
        vector-effect="non-scaling-stroke"
      />
      <path :d="`M0 ${floor}H${width}`" stroke="var(--ink)" vector-effect="non-scaling-stroke" />
      <path v-for="t in ticks" :key="t.x" :d="`M${t.x} ${floor}v6`" stroke="var(--ink)" vector-effect="non-scaling-stroke" />
    </svg>
    <div class="relative -mt-8 h-6 text-sm text-faint" aria-hidden="true">
      <span
        v-for="(t, at) in ticks"
        :key="t.x"
        class="mono absolute"
        :class="at === 0 ? '' : '-translate-x-1/2'"
        :style="{ left: `${(t.x / width) * 100}%` }"
        >{{ t.label }}</span
      >
    </div>
    <ul class="mt-1 flex flex-wrap gap-x-1 gap-y-1" aria-label="Segments">
      <li v-for="(b, at) in bars" :key="b.s.key">
        <button
          type="button"
          class="flex min-h-8 items-center gap-1.5 border px-2 text-sm"
          :class="segment?.key === b.s.key ? 'border-act font-semibold' : 'border-transparent'"
          @click="chosen = b.s.key"
        >
          <svg viewBox="0 0 10 10" class="size-2.5"><rect width="10" height="10" :fill="fills[at % fills.length]" /></svg
          >{{ b.s.label }}
        </button>
      </li>
    </ul>
    <figcaption v-if="segment" class="mt-2 flex flex-wrap gap-x-6 gap-y-1 border-t border-rule pt-2">
      <strong>{{ segment.label }}</strong>
      <span>takes <FigureView :figure="segment.duration" /></span>
      <span>draws <FigureView :figure="segment.current" /></span>
      <span>costs <FigureView :figure="segment.charge" /></span>
      <span v-if="scale.cut" class="text-faint">The rest of the cycle is drawn shortened.</span>
    </figcaption>
  </figure>
</template>

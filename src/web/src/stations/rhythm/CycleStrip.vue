<script setup lang="ts">
/** One wake to scale: time across, current as height, the area is the charge. It can be zoomed and moved; each segment opens its working. */
import { useElementSize } from "@vueuse/core";
import { computed, ref, useTemplateRef, watch } from "vue";
import type { RhythmPlan, WakeKind } from "@/api/client";
import AppButton from "@/kit/AppButton.vue";
import FigureView from "@/kit/FigureView.vue";
import { amount, number } from "@/kit/format";
import { linearSteps } from "./axis";
import { useWindow } from "./window";

const props = defineProps<{ plan: RhythmPlan }>();
const [height, floor, top] = [214, 178, 30];
const host = useTemplateRef<HTMLDivElement>("host");
const { width: measured } = useElementSize(host);
const width = computed(() => Math.max(measured.value, 200));
const at = ref(0);
const chosen = ref<string>();
const wake = computed(() => props.plan.wakes[at.value] ?? props.plan.wakes[0]!);
const lengthOf = (w: WakeKind) => w.segments.reduce((sum, s) => sum + (s.duration.value ?? 0), 0);
const total = computed(() => Math.max(lengthOf(wake.value), 1));
const awakeMs = computed(() =>
  wake.value.share > 0 ? total.value - (wake.value.segments.at(-1)?.duration.value ?? 0) : total.value,
);
const view = useWindow(total);
/** The part that is awake, with a little of the rest, is what one wants to see first. */
const showAwake = () => view.show(0, awakeMs.value > 0 ? Math.min(total.value, awakeMs.value * 1.15) : total.value);
watch(
  () => [props.plan.node, at.value, total.value, awakeMs.value] as const,
  ([node, kind], before) => {
    if (node !== before?.[0]) at.value = 0;
    if (node !== before?.[0] || kind !== before[1]) chosen.value = undefined;
    showAwake();
  },
  { immediate: true },
);

const perMs = computed(() => width.value / view.span.value);
const x = (ms: number) => (ms - view.from.value) * perMs.value;
const most = computed(() => Math.max(...wake.value.segments.map((s) => s.current.value ?? 0), 1e-6));
const fills = ["var(--clay)", "var(--act)", "var(--risk)", "var(--moss)"];
const bars = computed(() =>
  wake.value.segments.map((s, n) => {
    const rest = s.key === "sleep" || s.key === "wait";
    const [from, to] = [x(s.startMs), x(s.startMs + (s.duration.value ?? 0))];
    const [left, right] = [Math.max(0, from), Math.min(width.value, to)];
    const tall = Math.max(1.5, ((s.current.value ?? 0) / most.value) * (floor - top));
    return { s, n, left, wide: Math.max(0, right - left), tall, fill: rest ? "var(--faint)" : fills[n % fills.length]! };
  }),
);
/** A name stands over its bar where there is room for it. */
const named = computed(() => bars.value.filter((b) => b.wide > b.s.label.length * 6.4 + 8));
const ticks = computed(() =>
  linearSteps(view.from.value, view.from.value + view.span.value, Math.max(3, width.value / 110)).map((ms) => ({
    x: x(ms),
    label: amount(ms, "ms").join(" "),
  })),
);
const segment = computed(() => wake.value.segments.find((s) => s.key === chosen.value) ?? wake.value.segments[0]);
const often = (w: WakeKind) =>
  w.share > 0 ? (w.share < 0.9995 ? `${number(w.share * 100)} % of wakes` : "every wake") : `${number(w.perDay)} a day`;
const said = (b: (typeof bars.value)[number]) =>
  `${b.s.label}: ${amount(b.s.duration.value ?? 0, "ms").join(" ")} at ${amount(b.s.current.value ?? 0, "mA").join(" ")}`;

let grip: number | undefined;
function grab(e: PointerEvent) {
  grip = e.clientX;
}
function pull(e: PointerEvent) {
  if (grip === undefined || e.buttons === 0) return;
  view.move((grip - e.clientX) / perMs.value);
  grip = e.clientX;
}
function wheel(e: WheelEvent) {
  if (!e.ctrlKey) return;
  e.preventDefault();
  const box = (e.currentTarget as Element).getBoundingClientRect();
  view.zoom(e.deltaY < 0 ? 1.25 : 0.8, view.from.value + (e.clientX - box.left) / perMs.value);
}
function keys(e: KeyboardEvent) {
  const act: Record<string, () => void> = {
    "+": () => view.zoom(1.5),
    "-": () => view.zoom(1 / 1.5),
    ArrowLeft: () => view.move(-view.span.value / 5),
    ArrowRight: () => view.move(view.span.value / 5),
  };
  if (!act[e.key]) return;
  e.preventDefault();
  act[e.key]!();
}
</script>

<template>
  <figure class="sheet p-3">
    <div class="mb-1 flex flex-wrap items-center justify-between gap-2">
      <ul v-if="plan.wakes.length > 1" class="flex flex-wrap gap-1" aria-label="Sorts of wake">
        <li v-for="(w, n) in plan.wakes.slice(0, 12)" :key="w.label + n">
          <button
            type="button"
            class="min-h-8 border px-2 text-sm"
            :class="w === wake ? 'border-act font-semibold' : 'border-rule text-faint hover:text-act'"
            :aria-pressed="w === wake"
            @click="at = n"
          >
            {{ w.label }} <span class="font-normal">· {{ often(w) }}</span>
          </button>
        </li>
      </ul>
      <p v-else class="text-sm text-faint">{{ wake.label }}, {{ often(wake) }}</p>
      <div class="flex gap-1" role="group" aria-label="Zoom">
        <AppButton small aria-label="Zoom out" @click="view.zoom(1 / 1.5)">−</AppButton>
        <AppButton small aria-label="Zoom in" @click="view.zoom(1.5)">+</AppButton>
        <AppButton v-if="awakeMs > 0 && awakeMs < total" small @click="showAwake">Awake part</AppButton>
        <AppButton small @click="view.show(0, total)">Whole cycle</AppButton>
      </div>
    </div>
    <div
      ref="host"
      class="touch-pan-y overflow-hidden select-none"
      :class="view.span.value < total ? 'cursor-grab' : ''"
      @wheel="wheel"
      @pointerdown="grab"
      @pointermove="pull"
      @pointerup="grip = undefined"
      @keydown="keys"
    >
      <svg :viewBox="`0 0 ${width} ${height}`" :height="height" class="block w-full" role="group" aria-label="The wake to scale">
        <text :x="2" :y="11" class="fill-faint text-[12px]">height is current, up to {{ amount(most, "mA").join(" ") }}</text>
        <g
          v-for="b in bars"
          :key="b.s.key"
          role="button"
          tabindex="0"
          :aria-label="said(b)"
          :aria-pressed="segment?.key === b.s.key"
          class="cursor-pointer"
          @click="chosen = b.s.key"
          @keydown.enter="chosen = b.s.key"
          @keydown.space.prevent="chosen = b.s.key"
        >
          <title>{{ said(b) }}</title>
          <rect :x="b.left" :y="top" :width="b.wide" :height="floor - top" fill="transparent" />
          <rect
            :x="b.left"
            :y="floor - b.tall"
            :width="Math.max(b.wide, 1)"
            :height="b.tall"
            :fill="b.fill"
            :opacity="segment?.key === b.s.key ? 1 : 0.55"
          />
        </g>
        <text
          v-for="b in named"
          :key="b.s.key"
          :x="b.left + b.wide / 2"
          :y="Math.max(floor - b.tall - 5, 24)"
          text-anchor="middle"
          class="pointer-events-none fill-ink text-[12px]"
        >
          {{ b.s.label }}
        </text>
        <path :d="`M0 ${floor}H${width}`" stroke="var(--ink)" />
        <g v-for="t in ticks" :key="t.x">
          <path :d="`M${t.x} ${floor}v6`" stroke="var(--ink)" />
          <text
            :x="t.x"
            :y="floor + 22"
            :text-anchor="t.x < 24 ? 'start' : t.x > width - 24 ? 'end' : 'middle'"
            class="mono fill-faint text-[12px]"
          >
            {{ t.label }}
          </text>
        </g>
      </svg>
    </div>
    <ul class="flex flex-wrap gap-1" aria-label="Segments">
      <li v-for="b in bars" :key="b.s.key">
        <button
          type="button"
          class="flex min-h-8 items-center gap-1.5 border px-2 text-sm"
          :class="segment?.key === b.s.key ? 'border-act font-semibold' : 'border-transparent'"
          @click="chosen = b.s.key"
        >
          <svg viewBox="0 0 10 10" class="size-2.5" aria-hidden="true"><rect width="10" height="10" :fill="b.fill" /></svg
          >{{ b.s.label }}
        </button>
      </li>
    </ul>
    <figcaption v-if="segment" class="mt-1 flex flex-wrap gap-x-6 gap-y-1 border-t border-rule pt-2">
      <strong>{{ segment.label }}</strong>
      <span>takes <FigureView :figure="segment.duration" /></span>
      <span>draws <FigureView :figure="segment.current" /></span>
      <span>costs <FigureView :figure="segment.charge" /></span>
      <span class="text-faint">of <FigureView :figure="wake.charge" /> in this wake</span>
    </figcaption>
  </figure>
</template>

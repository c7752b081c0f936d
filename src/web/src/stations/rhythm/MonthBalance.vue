<script setup lang="ts">
/** Twelve months: what a day of each gathers (bar, with its band) against what the node uses (line). A month that falls short is hatched and named. */
import { useElementSize } from "@vueuse/core";
import { computed, useTemplateRef } from "vue";
import type { HarvestPlan } from "@/api/client";
import { useMargin } from "@/app/margin";
import { duration, number } from "@/kit/format";
import { linearSteps } from "./axis";

const props = defineProps<{ harvest: HarvestPlan }>();
const names = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
const { showFigure } = useMargin();
const host = useTemplateRef<HTMLDivElement>("host");
const { width: measured } = useElementSize(host);
const width = computed(() => Math.max(measured.value, 260));
const [height, left, top, bottom] = [220, 52, 30, 44];
const use = computed(() => props.harvest.use.value ?? 0);
const most = computed(() => Math.max(use.value * 1.15, ...props.harvest.months.map((m) => m.gathered.high ?? 0), 1e-9));
const y = (v: number) => height - bottom - (v / most.value) * (height - top - bottom);
const steps = computed(() => linearSteps(0, most.value, 4));
const slot = computed(() => (width.value - left - 8) / 12);
const bars = computed(() =>
  props.harvest.months.map((m, at) => ({
    m,
    x: left + at * slot.value + slot.value * 0.16,
    w: slot.value * 0.68,
    value: m.gathered.value ?? 0,
    short: m.left < 0,
  })),
);
const every = (s: number | null) => (s === null ? "never" : duration(s * 1000));
const over = (m: HarvestPlan["months"][number]) => `${m.left < 0 ? "−" : "+"}${number(Math.abs(m.left))}`;
const narrow = computed(() => width.value < 560);
</script>

<template>
  <div ref="host" class="sheet overflow-hidden">
    <svg
      :viewBox="`0 0 ${width} ${height}`"
      :height="height"
      class="block w-full"
      role="group"
      aria-label="Charge gathered on a day of each month"
    >
      <defs>
        <pattern id="short-month" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="6" height="6" fill="var(--sheet)" />
          <path d="M0 0V6" stroke="var(--risk)" stroke-width="5" />
        </pattern>
      </defs>
      <g v-for="v in steps" :key="v">
        <path :d="`M${left} ${y(v)}H${width}`" stroke="var(--rule)" />
        <text :x="left - 6" :y="y(v) + 4" text-anchor="end" class="mono fill-faint text-[12px]">{{ number(v) }}</text>
      </g>
      <text :x="left - 6" :y="height - bottom + 16" text-anchor="end" class="fill-faint text-[12px]">mAh</text>
      <g
        v-for="(b, at) in bars"
        :key="at"
        role="button"
        tabindex="0"
        class="cursor-pointer"
        :aria-label="`${names[at]} ${over(b.m)} mAh ${b.short ? 'short' : 'left over'}, gathered: ${number(b.value)} mAh a day`"
        @click="showFigure(b.m.gathered)"
        @keydown.enter="showFigure(b.m.gathered)"
        @keydown.space.prevent="showFigure(b.m.gathered)"
      >
        <rect
          :x="b.x"
          :y="y(b.value)"
          :width="b.w"
          :height="Math.max(1, height - bottom - y(b.value))"
          :fill="b.short ? 'url(#short-month)' : 'var(--moss)'"
          :stroke="b.short ? 'var(--risk)' : 'none'"
        />
        <path
          :d="`M${b.x + b.w / 2} ${y(b.m.gathered.low ?? b.value)}V${y(b.m.gathered.high ?? b.value)}`"
          stroke="var(--ink)"
          stroke-width="1.5"
        />
        <text :x="b.x + b.w / 2" :y="height - bottom + 16" text-anchor="middle" class="fill-ink text-[12px]">
          {{ narrow ? names[at]![0] : names[at] }}
        </text>
        <text
          v-if="!narrow"
          :x="b.x + b.w / 2"
          :y="height - bottom + 32"
          text-anchor="middle"
          class="mono text-[11px]"
          :class="b.short ? 'fill-risk' : 'fill-faint'"
        >
          {{ over(b.m) }}
        </text>
      </g>
      <path :d="`M${left} ${y(use)}H${width}`" stroke="var(--clay)" stroke-width="2" stroke-dasharray="7 4" />
      <path :d="`M${left} 14h26`" stroke="var(--clay)" stroke-width="2" stroke-dasharray="7 4" />
      <text :x="left + 32" y="18" class="fill-clay text-[12px] font-semibold">used: {{ number(use) }} mAh a day</text>
      <text :x="width - 8" y="18" text-anchor="end" class="fill-faint text-[12px]">under each month: left over</text>
    </svg>
  </div>
  <p v-if="harvest.burst" class="mt-1 text-sm text-faint">
    While it is lit, the light carries a wake every
    <template v-for="(m, at) in harvest.months" :key="m.month"
      >{{ at ? "; " : "" }}{{ names[at] }} {{ every(m.intervalSeconds) }}</template
    >.
  </p>
</template>

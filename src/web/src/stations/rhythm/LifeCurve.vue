<script setup lang="ts">
/** Life (or current) against the time between wakes, a line for each radio, both axes by powers of ten; today's choice is marked with its band. */
import { useElementSize } from "@vueuse/core";
import { computed, useTemplateRef } from "vue";
import type { RhythmComparison, RhythmPoint } from "@/api/client";
import { amount, duration } from "@/kit/format";
import { decades, moments, strokeOf } from "./axis";

const props = defineProps<{ comparison: RhythmComparison; onCells: boolean }>();
const host = useTemplateRef<HTMLDivElement>("host");
const { width: measured } = useElementSize(host);
const width = computed(() => Math.max(measured.value, 240));
const [height, left, right, top, bottom] = [250, 76, 12, 10, 26];
const value = (p: RhythmPoint) => (props.onCells ? p.lifeDays : p.milliamps);
const unit = computed(() => (props.onCells ? "d" : "mA"));
const points = computed(() => props.comparison.radios.flatMap((r) => r.curve));
const range = computed(() => {
  const all = points.value.map(value).filter((v): v is number => v !== null && v > 0);
  if (!all.length) return { low: 1, high: 10 };
  const steps = decades(Math.min(...all), Math.max(...all));
  return { low: steps[0]!, high: Math.max(steps.at(-1)!, steps[0]! * 10) };
});
const times = computed(() => {
  const all = points.value.map((p) => p.intervalMs);
  return all.length ? { low: Math.min(...all), high: Math.max(...all) } : { low: 1000, high: 10000 };
});
const x = (ms: number) =>
  left + (Math.log(ms / times.value.low) / Math.log(times.value.high / times.value.low)) * (width.value - left - right);
const y = (v: number) =>
  height - bottom - (Math.log(v / range.value.low) / Math.log(range.value.high / range.value.low)) * (height - top - bottom);
const line = (curve: readonly RhythmPoint[]) =>
  curve
    .filter((p) => (value(p) ?? 0) > 0)
    .map((p, at) => `${at ? "L" : "M"}${x(p.intervalMs).toFixed(1)} ${y(value(p)!).toFixed(1)}`)
    .join("");
const todayRow = computed(() => props.comparison.radios.find((r) => r.today));
const today = computed(() => todayRow.value?.cells.find((c) => c.intervalMs === props.comparison.todayMs));
const rows = computed(() =>
  decades(range.value.low, range.value.high).filter((v) => v >= range.value.low && v <= range.value.high),
);
const columns = computed(() => {
  const fits = moments.filter((m) => m.ms >= times.value.low && m.ms <= times.value.high);
  return width.value < 480 ? fits.filter((_, at) => at % 2 === 0) : fits;
});
const said = computed(() =>
  today.value && value(today.value) !== null
    ? `today: ${amount(value(today.value)!, unit.value).join(" ")} with a wake every ${duration(props.comparison.todayMs)}`
    : "",
);
/** Where the words for today stand: beside their point, or under its bar where they would run out of the drawing. */
const label = computed(() => {
  const cell = today.value;
  if (!cell || value(cell) === null) return { x: 0, y: 0, anchor: "start" as const };
  const [px, py] = [x(cell.intervalMs), y(value(cell)!)];
  const long = said.value.length * 7.4;
  const beside = { x: px + (px > width.value * 0.6 ? -10 : 10), y: py + (py > height - 60 ? -8 : 18) };
  const anchor = px > width.value * 0.6 ? ("end" as const) : ("start" as const);
  if (anchor === "end" ? beside.x >= long : beside.x + long <= width.value) return { ...beside, anchor };
  const under = props.onCells && cell.lowDays ? y(cell.lowDays) + 16 : beside.y;
  return { x: width.value - right, y: under > height - bottom - 4 ? py - 30 : under, anchor: "end" as const };
});
</script>

<template>
  <div ref="host" class="sheet overflow-hidden">
    <svg
      :viewBox="`0 0 ${width} ${height}`"
      :height="height"
      class="block w-full"
      role="img"
      :aria-label="`${onCells ? 'Battery life' : 'Average current'} against the time between wakes; ${said}`"
    >
      <g v-for="v in rows" :key="v">
        <path :d="`M${left} ${y(v)}H${width - right}`" stroke="var(--rule)" />
        <text :x="left - 6" :y="y(v) + 4" text-anchor="end" class="mono fill-faint text-[12px]">
          {{ amount(v, unit).join(" ") }}
        </text>
      </g>
      <g v-for="m in columns" :key="m.ms">
        <path :d="`M${x(m.ms)} ${top}V${height - bottom}`" stroke="var(--rule)" />
        <text
          :x="x(m.ms)"
          :y="height - 8"
          :text-anchor="x(m.ms) > width - 30 ? 'end' : 'middle'"
          class="mono fill-faint text-[12px]"
        >
          {{ m.label }}
        </text>
      </g>
      <path
        v-for="(r, at) in comparison.radios"
        :key="r.key"
        :d="line(r.curve)"
        fill="none"
        :stroke="strokeOf(at).colour"
        :stroke-width="r.today ? 3 : 1.6"
        :stroke-dasharray="strokeOf(at).dash"
      />
      <template v-if="today && value(today) !== null && x(today.intervalMs) >= left && x(today.intervalMs) <= width - right">
        <path
          v-if="onCells && today.lowDays && today.highDays"
          :d="`M${x(today.intervalMs)} ${y(today.lowDays)}V${y(today.highDays)}`"
          stroke="var(--ink)"
          stroke-width="1.5"
        />
        <circle :cx="x(today.intervalMs)" :cy="y(value(today)!)" r="5" fill="var(--sheet)" stroke="var(--ink)" stroke-width="2" />
        <text :x="label.x" :y="label.y" :text-anchor="label.anchor" class="fill-ink text-[13px] font-semibold">
          {{ said }}
        </text>
      </template>
    </svg>
  </div>
</template>

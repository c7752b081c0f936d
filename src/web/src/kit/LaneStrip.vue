<script setup lang="ts">
/** Stretches of time as bars on one line; what stands behind them is the slot. */
interface Bar {
  from: number;
  to: number;
  fill: string;
  title: string;
}
const props = defineProps<{ bars: Bar[]; from: number; to: number; label: string }>();
/** What is too short to be seen is drawn so that it is. */
const width = (b: Bar) => Math.max(x(b.to) - x(b.from), 3);
const x = (t: number) => Math.max(0, Math.min(1000, ((t - props.from) / (props.to - props.from)) * 1000));
</script>

<template>
  <svg viewBox="0 0 1000 22" preserveAspectRatio="none" class="h-6 w-full" role="img" :aria-label="label">
    <rect width="1000" height="22" fill="var(--paper)" />
    <slot :x="x" />
    <rect
      v-for="b in bars"
      :key="b.from"
      :x="Math.min(x(b.from), 1000 - width(b))"
      y="3"
      :width="width(b)"
      height="16"
      :fill="b.fill"
    >
      <title>{{ b.title }}</title>
    </rect>
  </svg>
</template>

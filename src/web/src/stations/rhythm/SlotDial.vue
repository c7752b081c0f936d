<script setup lang="ts">
/**
 * A period as a ring: a track for each node with its slots (strong: on the air with all tries; pale: guard), and an outer track with all of them, where overlaps show.
 * On a ring shorter than a node's own period all places that its slot ever comes to are drawn.
 */
import { computed, ref } from "vue";
import type { ChannelPlan } from "@/api/client";
import { duration } from "@/kit/format";
import { strokeOf } from "./axis";

const props = defineProps<{ channel: ChannelPlan }>();
const [size, outer, track] = [320, 140, 19];
const middle = size / 2;
const mostArcs = 240;
/** Less than this is not to be seen; a slot is never drawn smaller. */
const leastTurn = 0.004;
const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));

/** Rings to choose from: the periods of the nodes and the time after which all repeats, as far as they can be drawn. */
const rings = computed(() => {
  const all = [...new Set([...props.channel.slots.map((s) => s.periodMs), props.channel.ringMs])].sort((a, b) => a - b);
  const shortest = all[0] ?? 1;
  return all.filter((r) => r === shortest || r / shortest <= mostArcs);
});
const wanted = ref<number>();
const ring = computed(() => (wanted.value && rings.value.includes(wanted.value) ? wanted.value : (rings.value[0] ?? 1)));
const turn = (ms: number) => (((ms % ring.value) + ring.value) % ring.value) / ring.value;

function arc(radius: number, from: number, ms: number): string {
  const wide = Math.min(Math.max(ms / ring.value, leastTurn), 0.9999);
  const at = (t: number) => {
    const a = t * 2 * Math.PI;
    return `${(middle + radius * Math.sin(a)).toFixed(2)} ${(middle - radius * Math.cos(a)).toFixed(2)}`;
  };
  return `M${at(from)}A${radius} ${radius} 0 ${wide > 0.5 ? 1 : 0} 1 ${at(from + wide)}`;
}

const tracks = computed(() =>
  props.channel.slots.map((s, n) => {
    const step = gcd(ring.value, s.periodMs);
    const places = Math.min(mostArcs, ring.value / step);
    const starts = Array.from({ length: places }, (_, k) => s.offsetMs + k * step);
    const radius = Math.max(outer - (n + 1) * track - 4, 26);
    const arcs = (r: number, after: number, ms: number) => starts.map((t) => arc(r, turn(t + after), ms)).join("");
    return {
      s,
      stroke: strokeOf(n).colour,
      radius,
      whole: arcs(radius, 0, s.durationMs),
      air: arcs(radius, (s.guard.value ?? 0) / 2, s.air.value ?? 0),
      together: arcs(outer, 0, s.durationMs),
    };
  }),
);
const marks = computed(() =>
  [0, 0.25, 0.5, 0.75].map((t) => ({
    t,
    x: middle + (outer + 12) * Math.sin(t * 2 * Math.PI),
    y: middle - (outer + 12) * Math.cos(t * 2 * Math.PI) + (t === 0.5 ? 12 : t === 0 ? 0 : 5),
    label: t === 0 ? "0" : duration(ring.value * t),
    anchor: t === 0.25 ? "start" : t === 0.75 ? "end" : "middle",
  })),
);
const chosen = ref<string>();
</script>

<template>
  <div>
    <svg
      :viewBox="`-64 -16 ${size + 128} ${size + 36}`"
      class="w-full max-w-md"
      role="group"
      :aria-label="`Slots of ${channel.label} on a ring of ${duration(ring)}`"
    >
      <circle :cx="middle" :cy="middle" :r="outer" fill="none" stroke="var(--rule)" stroke-width="13" />
      <text v-for="m in marks" :key="m.t" :x="m.x" :y="m.y" :text-anchor="m.anchor" class="mono fill-faint text-[17px]">
        {{ m.label }}
      </text>
      <g
        v-for="t in tracks"
        :key="t.s.node"
        role="button"
        tabindex="0"
        class="cursor-pointer"
        :aria-label="`${t.s.label}: starts ${t.s.offsetMs} ms into every ${duration(t.s.periodMs)}, for ${t.s.durationMs} ms`"
        :aria-pressed="chosen === t.s.node"
        @click="chosen = chosen === t.s.node ? undefined : t.s.node"
        @keydown.enter="chosen = t.s.node"
        @keydown.space.prevent="chosen = t.s.node"
      >
        <title>{{ t.s.label }}</title>
        <circle :cx="middle" :cy="middle" :r="t.radius" fill="none" stroke="var(--rule)" />
        <path :d="t.whole" fill="none" :stroke="t.stroke" stroke-width="13" opacity="0.4" />
        <path :d="t.air" fill="none" :stroke="t.stroke" stroke-width="13" />
        <path
          :d="t.together"
          fill="none"
          :stroke="t.stroke"
          stroke-width="13"
          :opacity="chosen && chosen !== t.s.node ? 0.2 : 0.65"
        />
      </g>
      <text :x="middle" :y="middle" text-anchor="middle" class="fill-ink text-[20px] font-semibold">{{ duration(ring) }}</text>
      <text :x="middle" :y="middle + 19" text-anchor="middle" class="fill-faint text-[16px]">once round</text>
    </svg>
    <div v-if="rings.length > 1" class="mt-1 flex flex-wrap gap-1" role="group" aria-label="Length of the ring">
      <button
        v-for="r in rings"
        :key="r"
        type="button"
        class="min-h-8 border px-2 text-sm"
        :class="r === ring ? 'border-act font-semibold' : 'border-rule text-faint hover:text-act'"
        :aria-pressed="r === ring"
        @click="wanted = r"
      >
        {{ duration(r) }}
      </button>
    </div>
  </div>
</template>

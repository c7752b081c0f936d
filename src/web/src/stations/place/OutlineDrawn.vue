<script setup lang="ts">
/** The outline that is being drawn, with the length of its last side, and the cross that sets corners. */
import { computed } from "vue";
import PlanText from "@/kit/PlanText.vue";
import { between, round, type At } from "./outline";

const props = defineProps<{ outline: At[]; set: At[]; at?: At; closed: boolean }>();
const size = computed(() => {
  const [a, b, c] = props.outline;
  if (!props.outline.length) return "";
  if (!props.set.length && a && b && c) return `${round(between(a, b))} × ${round(between(b, c))} m`;
  const last = props.outline.slice(-2);
  return `${round(between(last[0]!, last[1]!))} m`;
});
const path = computed(() => `M${props.outline.map((p) => `${p.x} ${p.y}`).join("L")}${props.closed ? "Z" : ""}`);
</script>

<template>
  <g aria-hidden="true" class="pointer-events-none">
    <path
      v-if="outline.length > 1"
      :d="path"
      :fill="closed ? 'var(--act)' : 'none'"
      fill-opacity="0.12"
      stroke="var(--act)"
      stroke-width="0.06"
    />
    <circle v-for="(c, i) in set" :key="i" :cx="c.x" :cy="c.y" r="0.1" fill="var(--act)" />
    <g v-if="at" :transform="`translate(${at.x} ${at.y})`">
      <path d="M-0.3 0H0.3M0 -0.3V0.3" stroke="var(--act)" stroke-width="0.05" />
      <PlanText x="0.2" y="-0.25" :size="0.34" bold fill="var(--act)" text-anchor="start">
        {{ size || `${at.x}, ${at.y} m` }}
      </PlanText>
    </g>
  </g>
</template>

<script setup lang="ts">
/** Heaters and vents on the plan. One is dragged, or moved by the arrow keys in steps of 0.1 m. */
import { ref } from "vue";
import type { HeatSource } from "@/api/client";
import PlanText from "@/kit/PlanText.vue";
import { arrowMove, type Where } from "@/kit/plan";
import type { At } from "./outline";

const props = defineProps<{ sources: HeatSource[]; movable: boolean; toPlan: (e: PointerEvent) => At | undefined }>();
const emit = defineEmits<{ move: [source: HeatSource, to: Where] }>();
const dragged = ref<{ key: string; to: At }>();
const at = (s: HeatSource): At => (dragged.value?.key === s.key ? dragged.value.to : { x: s.x, y: s.y });

function grab(e: PointerEvent, s: HeatSource) {
  if (!props.movable) return;
  e.stopPropagation();
  dragged.value = { key: s.key, to: { x: s.x, y: s.y } };
  (e.currentTarget as Element).setPointerCapture(e.pointerId);
}

function drag(e: PointerEvent) {
  const to = props.toPlan(e);
  if (dragged.value && to) dragged.value = { ...dragged.value, to };
}

function drop(s: HeatSource) {
  const to = dragged.value?.to;
  dragged.value = undefined;
  if (to && (to.x !== s.x || to.y !== s.y)) emit("move", s, () => to);
}

function step(e: KeyboardEvent, s: HeatSource) {
  const to = props.movable && arrowMove(e, 0.1);
  if (!to) return;
  e.preventDefault();
  e.stopPropagation();
  emit("move", s, to);
}
</script>

<template>
  <g
    v-for="s in sources"
    :key="s.key"
    :transform="`translate(${at(s).x} ${at(s).y})`"
    :data-heat-source="s.key"
    :role="movable ? 'button' : 'img'"
    :tabindex="movable ? 0 : undefined"
    :aria-label="`${s.label}, ${s.kind === 'heater' ? 'heater' : 'vent'}${movable ? '. Arrow keys move it.' : ''}`"
    :class="movable ? 'cursor-move touch-none' : ''"
    class="focus:outline-none [&:focus-visible_.halo]:opacity-100"
    fill="none"
    stroke="var(--clay)"
    stroke-width="0.05"
    @pointerdown.prevent="grab($event, s)"
    @pointermove="drag"
    @pointerup="drop(s)"
    @keydown="step($event, s)"
  >
    <circle r="0.45" fill="transparent" stroke="none" />
    <circle class="halo opacity-0" r="0.42" stroke="var(--act)" />
    <template v-if="s.kind === 'heater'">
      <rect x="-0.3" y="-0.12" width="0.6" height="0.24" fill="var(--sheet)" />
      <path d="M-0.15 -0.12V0.12M0 -0.12V0.12M0.15 -0.12V0.12" />
    </template>
    <template v-else>
      <circle r="0.2" fill="var(--sheet)" />
      <path d="M-0.14 -0.14L0.14 0.14M-0.14 0.14L0.14 -0.14" />
    </template>
    <PlanText y="0.5">{{ s.label }}</PlanText>
  </g>
</template>

<script setup lang="ts">
/** The plan with its spots. A spot is dragged, or moved by the arrow keys in steps of 0.1 m. */
import { computed, ref, useTemplateRef } from "vue";
import type { NodeDesign, SiteDesign } from "@/api/client";
import PlanCanvas from "./PlanCanvas.vue";
import PlanText from "./PlanText.vue";
import { arrowMove, planBox, type Where } from "./plan";

const props = defineProps<{
  place: SiteDesign["place"];
  nodes: NodeDesign[];
  movable: boolean;
  /** Round what is drawn, m; more where something is being drawn. */
  margin?: number;
  /** What else is to be in view. */
  beyond?: { x: number; y: number }[];
  /** Whether rooms and walls can be picked. */
  pickable?: boolean;
  /** A word more for a spot, by its key. */
  marks?: Record<string, { text: string; bad: boolean }>;
}>();
const emit = defineEmits<{ move: [key: string, to: Where]; room: [key: string]; wall: [key: string] }>();
const selected = defineModel<string>("selected");
const canvas = useTemplateRef<InstanceType<typeof PlanCanvas>>("canvas");
const dragged = ref<{ key: string; x: number; y: number }>();
const box = computed(() =>
  planBox(
    [...props.place.rooms.flatMap((r) => r.corners), ...props.place.spots, ...(props.beyond ?? [])],
    props.margin ?? 0.6,
    0.6,
  ),
);
/** What stands at a spot: a node, or an access point. */
const nodeAt = (key: string) => props.nodes.find((n) => n.spot === key);
const accessPointAt = (key: string) => props.place.accessPoints?.find((a) => a.spot === key);
const labelAt = (key: string) => nodeAt(key)?.label ?? accessPointAt(key)?.label;
const at = (key: string, x: number, y: number) => (dragged.value?.key === key ? dragged.value : { x, y });

defineExpose({
  toPlan: (e: PointerEvent) => canvas.value?.toPlan(e),
  focus: () => (canvas.value?.$el as SVGElement | undefined)?.focus(),
});

function grab(e: PointerEvent, key: string, x: number, y: number) {
  selected.value = key;
  if (!props.movable) return;
  dragged.value = { key, x, y };
  (e.currentTarget as Element).setPointerCapture(e.pointerId);
}

function drag(e: PointerEvent) {
  const to = canvas.value?.toPlan(e);
  if (dragged.value && to) dragged.value = { key: dragged.value.key, ...to };
}

function drop() {
  const to = dragged.value;
  dragged.value = undefined;
  if (to) emit("move", to.key, () => to);
}

function step(e: KeyboardEvent, key: string) {
  const to = props.movable && arrowMove(e, 0.1);
  if (!to) return;
  e.preventDefault();
  emit("move", key, to);
}
</script>

<template>
  <PlanCanvas
    ref="canvas"
    :rooms="place.rooms"
    :walls="place.walls"
    :box="box"
    label="Plan of the site"
    scaled
    :pickable="pickable"
    class="sheet max-h-[58vh] w-full touch-pan-y"
    role="group"
    @pointermove="drag"
    @pointerup="drop"
    @room="emit('room', $event)"
    @wall="emit('wall', $event)"
  >
    <template v-if="$slots.ground" #ground><slot name="ground" /></template>
    <template #under><slot name="under" /></template>
    <slot :at="at" />
    <g
      v-for="s in place.spots"
      :key="s.key"
      :transform="`translate(${at(s.key, s.x, s.y).x} ${at(s.key, s.x, s.y).y})`"
      tabindex="0"
      role="button"
      :aria-label="`Spot ${s.label}, ${labelAt(s.key) ?? 'free'}${marks?.[s.key] ? `, ${marks[s.key]!.text}` : ''}${movable ? '. Arrow keys move it.' : ''}`"
      :class="movable ? 'cursor-move' : ''"
      class="touch-none focus:outline-none [&:focus-visible_.halo]:opacity-100"
      @pointerdown.prevent="grab($event, s.key, s.x, s.y)"
      @focus="selected = s.key"
      @keydown="step($event, s.key)"
    >
      <circle class="halo opacity-0" r="0.34" fill="none" stroke="var(--act)" stroke-width="0.05" />
      <path
        v-if="!accessPointAt(s.key)"
        :transform="`rotate(${s.facingDegrees})`"
        d="M-0.22 -0.55 0 -0.15 0.22 -0.55"
        fill="none"
        stroke="var(--act)"
        stroke-width="0.04"
      />
      <rect
        v-if="accessPointAt(s.key)"
        x="-0.19"
        y="-0.19"
        width="0.38"
        height="0.38"
        fill="var(--clay)"
        stroke="var(--sheet)"
        stroke-width="0.04"
      />
      <circle v-else r="0.17" :fill="nodeAt(s.key) ? 'var(--act)' : 'var(--sheet)'" stroke="var(--act)" stroke-width="0.05" />
      <circle v-if="selected === s.key" r="0.26" fill="none" stroke="var(--act)" stroke-width="0.04" />
      <PlanText y="0.52" bold>{{ labelAt(s.key) ?? s.label }}</PlanText>
      <PlanText v-if="marks?.[s.key]" y="0.86" bold :fill="marks[s.key]!.bad ? 'var(--stop)' : 'var(--moss)'">
        {{ marks[s.key]!.text }}
      </PlanText>
    </g>
  </PlanCanvas>
</template>

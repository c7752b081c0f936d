<script setup lang="ts">
/** Handles of a room's outline: a corner is moved with what meets there, a side is moved across with its walls. Dragged, or by arrow keys. */
import { computed, ref } from "vue";
import type { Room } from "@/api/client";
import PlanText from "@/kit/PlanText.vue";
import { arrowMove, arrowSteps, type Where } from "@/kit/plan";
import { round, sides, type At } from "./outline";

const props = defineProps<{ room: Room; toPlan: (e: PointerEvent) => At | undefined }>();
const emit = defineEmits<{
  side: [side: number, metres: number];
  corner: [corner: number, to: Where];
  add: [side: number];
  remove: [corner: number];
  leave: [];
}>();
/** As far round a handle as a finger may be off, m. */
const FINGER = 0.45;
const handle = "cursor-move touch-none outline-none [&>.mark]:fill-[var(--sheet)] [&:focus-visible>.mark]:fill-[var(--act)]";
const outline = computed(() => sides(props.room.corners));
const dragged = ref<{ corner?: number; side?: number; to: At }>();

const distance = (side: number, p: At) => {
  const s = outline.value[side]!;
  return round((p.x - s.from.x) * s.out.x + (p.y - s.from.y) * s.out.y);
};
/** The side that is dragged, where it would be. */
const moved = computed(() => {
  const d = dragged.value;
  if (d?.side === undefined) return undefined;
  const s = outline.value[d.side]!;
  const by = distance(d.side, d.to);
  const put = (p: At) => ({ x: p.x + s.out.x * by, y: p.y + s.out.y * by });
  return { from: put(s.from), to: put(s.to), middle: put(s.middle), by };
});
const cornerAt = (i: number) => (dragged.value?.corner === i ? dragged.value.to : props.room.corners[i]!);

function grab(e: PointerEvent, what: { corner?: number; side?: number }, at: At) {
  dragged.value = { ...what, to: at };
  (e.currentTarget as Element).setPointerCapture(e.pointerId);
}

function drag(e: PointerEvent) {
  const to = props.toPlan(e);
  if (dragged.value && to) dragged.value = { ...dragged.value, to };
}

function drop() {
  const d = dragged.value;
  dragged.value = undefined;
  if (d?.side !== undefined && distance(d.side, d.to)) emit("side", d.side, distance(d.side, d.to));
  const c = d?.corner === undefined ? undefined : props.room.corners[d.corner];
  if (c && d && (c.x !== d.to.x || c.y !== d.to.y)) emit("corner", d.corner!, () => d.to);
}

function sideKey(e: KeyboardEvent, side: number) {
  const by = arrowSteps[e.key];
  const step = e.shiftKey ? 1 : 0.1;
  const { out } = outline.value[side]!;
  const across = by ? Math.sign(Math.round((by[0] * out.x + by[1] * out.y) * 100)) : 0;
  if (across) emit("side", side, across * step);
  else if (e.key === "Insert" || e.key === "+") emit("add", side);
  else if (e.key === "Escape") emit("leave");
  else return;
  e.preventDefault();
}

function cornerKey(e: KeyboardEvent, corner: number) {
  const to = arrowMove(e, e.shiftKey ? 1 : 0.1);
  if (to) emit("corner", corner, to);
  else if (e.key === "Delete" || e.key === "Backspace") emit("remove", corner);
  else if (e.key === "Escape") emit("leave");
  else return;
  e.preventDefault();
}
</script>

<template>
  <g @pointermove="drag" @pointerup="drop">
    <polygon
      :points="room.corners.map((_, i) => `${cornerAt(i).x},${cornerAt(i).y}`).join(' ')"
      fill="none"
      stroke="var(--act)"
      stroke-width="0.05"
      class="pointer-events-none"
    />
    <g v-if="moved" class="pointer-events-none" aria-hidden="true">
      <path
        :d="`M${moved.from.x} ${moved.from.y}L${moved.to.x} ${moved.to.y}`"
        stroke="var(--act)"
        stroke-width="0.08"
        stroke-dasharray="0.25 0.15"
      />
      <PlanText :x="moved.middle.x" :y="moved.middle.y - 0.3" :size="0.34" bold fill="var(--act)">
        {{ Math.abs(moved.by) }} m {{ moved.by < 0 ? "in" : "out" }}
      </PlanText>
    </g>
    <g v-for="(s, i) in outline" :key="`side-${i}`">
      <PlanText
        :x="s.middle.x - s.out.x * 0.38"
        :y="s.middle.y - s.out.y * 0.38 + 0.1"
        fill="var(--act)"
        class="pointer-events-none"
        aria-hidden="true"
        >{{ round(s.length) }} m</PlanText
      >
      <g
        :transform="`translate(${s.middle.x} ${s.middle.y}) rotate(${(Math.atan2(s.to.y - s.from.y, s.to.x - s.from.x) * 180) / Math.PI})`"
        tabindex="0"
        role="button"
        data-side
        :aria-label="`Side ${i + 1} of ${room.label}, ${round(s.length)} m. Arrow keys move it across, plus adds a corner.`"
        :class="handle"
        @pointerdown.prevent="grab($event, { side: i }, s.middle)"
        @dblclick="$emit('add', i)"
        @keydown="sideKey($event, i)"
      >
        <circle :r="FINGER" fill="transparent" />
        <rect class="mark" x="-0.22" y="-0.07" width="0.44" height="0.14" rx="0.07" stroke="var(--act)" stroke-width="0.05" />
      </g>
    </g>
    <g
      v-for="(c, i) in room.corners"
      :key="`corner-${i}`"
      :transform="`translate(${cornerAt(i).x} ${cornerAt(i).y})`"
      tabindex="0"
      role="button"
      data-corner
      :aria-label="`Corner ${i + 1} of ${room.label} at ${c.x}, ${c.y} m. Arrow keys move it, Delete removes it.`"
      :class="handle"
      @pointerdown.prevent="grab($event, { corner: i }, c)"
      @dblclick="$emit('remove', i)"
      @keydown="cornerKey($event, i)"
    >
      <circle :r="FINGER" fill="transparent" />
      <circle class="mark" r="0.15" stroke="var(--act)" stroke-width="0.06" />
    </g>
  </g>
</template>

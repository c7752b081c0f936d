<script setup lang="ts">
/** The plan to scale. A spot is dragged, or moved by the arrow keys in steps of 0.1 m. */
import { computed, ref, useTemplateRef } from "vue";
import type { NodeDesign, SiteDesign } from "@/api/client";

const props = defineProps<{
  place: SiteDesign["place"];
  nodes: NodeDesign[];
  movable: boolean;
  /** A word more for a spot, by its key. */
  marks?: Record<string, { text: string; bad: boolean }>;
}>();
const emit = defineEmits<{ move: [key: string, x: number, y: number] }>();
const selected = defineModel<string>("selected");
const svg = useTemplateRef<SVGSVGElement>("svg");
const dragged = ref<{ key: string; x: number; y: number }>();
const corners = computed(() => props.place.rooms.flatMap((r) => r.corners));
const box = computed(() => {
  const xs = [...corners.value.map((c) => c.x), ...props.place.spots.map((s) => s.x)];
  const ys = [...corners.value.map((c) => c.y), ...props.place.spots.map((s) => s.y)];
  const [x, y] = [Math.min(...xs) - 0.6, Math.min(...ys) - 0.6];
  return { x, y, w: Math.max(...xs) - x + 0.6, h: Math.max(...ys) - y + 1.2 };
});
const strokes: Record<string, number> = { plasterboard: 0.08, timber: 0.1, glass: 0.06, brick: 0.2, concrete: 0.24, metal: 0.12 };
const at = (key: string, x: number, y: number) => (dragged.value?.key === key ? dragged.value : { x, y });
const middle = (cs: { x: number; y: number }[]) => ({
  x: (Math.min(...cs.map((c) => c.x)) + Math.max(...cs.map((c) => c.x))) / 2,
  y: Math.min(...cs.map((c) => c.y)) + 0.42,
});

function toPlan(e: PointerEvent) {
  const m = svg.value?.getScreenCTM()?.inverse();
  if (!m) return undefined;
  const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(m);
  return { x: Math.round(p.x * 10) / 10, y: Math.round(p.y * 10) / 10 };
}

function grab(e: PointerEvent, key: string, x: number, y: number) {
  selected.value = key;
  if (!props.movable) return;
  dragged.value = { key, x, y };
  (e.currentTarget as Element).setPointerCapture(e.pointerId);
}

function drag(e: PointerEvent) {
  const to = toPlan(e);
  if (dragged.value && to) dragged.value = { key: dragged.value.key, ...to };
}

function drop() {
  if (dragged.value) emit("move", dragged.value.key, dragged.value.x, dragged.value.y);
  dragged.value = undefined;
}

function step(e: KeyboardEvent, key: string, x: number, y: number) {
  const by = { ArrowLeft: [-0.1, 0], ArrowRight: [0.1, 0], ArrowUp: [0, -0.1], ArrowDown: [0, 0.1] }[e.key];
  if (!by || !props.movable) return;
  e.preventDefault();
  emit("move", key, Math.round((x + by[0]!) * 10) / 10, Math.round((y + by[1]!) * 10) / 10);
}
</script>

<template>
  <svg
    ref="svg"
    :viewBox="`${box.x} ${box.y} ${box.w} ${box.h}`"
    class="sheet max-h-[58vh] w-full touch-pan-y"
    role="group"
    aria-label="Plan of the site"
    @pointermove="drag"
    @pointerup="drop"
  >
    <g v-for="r in place.rooms" :key="r.key">
      <polygon
        :points="r.corners.map((c) => `${c.x},${c.y}`).join(' ')"
        fill="var(--paper)"
        stroke="var(--rule)"
        stroke-width="0.03"
        :stroke-dasharray="r.tags.includes('outdoor') ? '0.15 0.12' : undefined"
      />
      <text :x="middle(r.corners).x" :y="middle(r.corners).y" text-anchor="middle" font-size="0.3" fill="var(--faint)">
        {{ r.label }}
      </text>
    </g>
    <line
      v-for="w in place.walls"
      :key="w.key"
      :x1="w.from.x"
      :y1="w.from.y"
      :x2="w.to.x"
      :y2="w.to.y"
      stroke="var(--ink)"
      :stroke-width="strokes[w.material] ?? 0.1"
      stroke-linecap="square"
    >
      <title>{{ w.material }} wall</title>
    </line>
    <g :transform="`translate(${box.x + 0.5} ${box.y + box.h - 0.35})`" aria-hidden="true">
      <path d="M0 -0.1V0H2V-0.1M1 -0.06V0" fill="none" stroke="var(--ink)" stroke-width="0.03" />
      <text x="2.15" y="0.05" font-size="0.26" fill="var(--ink)">2 m</text>
    </g>
    <g
      v-for="s in place.spots"
      :key="s.key"
      :transform="`translate(${at(s.key, s.x, s.y).x} ${at(s.key, s.x, s.y).y})`"
      tabindex="0"
      role="button"
      :aria-label="`Spot ${s.label}${nodes.some((n) => n.spot === s.key) ? ', ' + nodes.find((n) => n.spot === s.key)!.label : ', free'}${marks?.[s.key] ? `, ${marks[s.key]!.text}` : ''}${movable ? '. Arrow keys move it.' : ''}`"
      :class="movable ? 'cursor-move' : ''"
      class="touch-none focus:outline-none [&:focus-visible_.halo]:opacity-100"
      @pointerdown.prevent="grab($event, s.key, s.x, s.y)"
      @focus="selected = s.key"
      @keydown="step($event, s.key, s.x, s.y)"
    >
      <circle class="halo opacity-0" r="0.34" fill="none" stroke="var(--act)" stroke-width="0.05" />
      <path
        :transform="`rotate(${s.facingDegrees})`"
        d="M-0.22 -0.55 0 -0.15 0.22 -0.55"
        fill="none"
        stroke="var(--act)"
        stroke-width="0.04"
      />
      <circle
        r="0.17"
        :fill="nodes.some((n) => n.spot === s.key) ? 'var(--act)' : 'var(--sheet)'"
        stroke="var(--act)"
        stroke-width="0.05"
      />
      <circle v-if="selected === s.key" r="0.26" fill="none" stroke="var(--act)" stroke-width="0.04" />
      <text
        x="0"
        y="0.52"
        text-anchor="middle"
        font-size="0.28"
        font-weight="600"
        fill="var(--ink)"
        stroke="var(--sheet)"
        stroke-width="0.14"
        paint-order="stroke"
      >
        {{ nodes.find((n) => n.spot === s.key)?.label ?? s.label }}
      </text>
      <text
        v-if="marks?.[s.key]"
        y="0.86"
        text-anchor="middle"
        font-size="0.28"
        font-weight="600"
        :fill="marks[s.key]!.bad ? 'var(--stop)' : 'var(--moss)'"
        stroke="var(--sheet)"
        stroke-width="0.14"
        paint-order="stroke"
      >
        {{ marks[s.key]!.text }}
      </text>
    </g>
  </svg>
</template>

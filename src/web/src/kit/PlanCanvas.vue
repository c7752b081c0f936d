<script setup lang="ts">
/** A plan to scale: rooms, walls and a scale bar, with what a station puts on it in the slot. */
import { useTemplateRef } from "vue";
import type { SiteDesign } from "@/api/client";
import { openingNames, type PlanBox } from "./plan";

type Place = SiteDesign["place"];
defineProps<{
  rooms: Place["rooms"];
  walls?: Place["walls"];
  box: PlanBox;
  label: string;
  /** Whether rooms are named and a scale bar stands below. */
  scaled?: boolean;
  /** Width of the outlines, m. */
  outline?: number;
  /** Whether rooms and walls can be picked with the pointer; lists beside the plan do it for the keyboard. */
  pickable?: boolean;
}>();
defineEmits<{ room: [key: string]; wall: [key: string] }>();
const svg = useTemplateRef<SVGSVGElement>("svg");
const strokes: Record<string, number> = { plasterboard: 0.08, timber: 0.1, glass: 0.06, brick: 0.2, concrete: 0.24, metal: 0.12 };
type Wall = Place["walls"][number];
const thick = (w: Wall) => w.thicknessMetres ?? strokes[w.material] ?? 0.1;
const ends = (w: Wall) => ({ x1: w.from.x, y1: w.from.y, x2: w.to.x, y2: w.to.y });
const middle = (cs: { x: number; y: number }[]) => ({
  x: (Math.min(...cs.map((c) => c.x)) + Math.max(...cs.map((c) => c.x))) / 2,
  y: Math.min(...cs.map((c) => c.y)) + 0.42,
});

/** Where a pointer is on the plan, to a tenth of a metre. */
function toPlan(e: PointerEvent) {
  const m = svg.value?.getScreenCTM()?.inverse();
  if (!m) return undefined;
  const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(m);
  return { x: Math.round(p.x * 10) / 10, y: Math.round(p.y * 10) / 10 };
}

defineExpose({ toPlan });
</script>

<template>
  <svg ref="svg" :viewBox="`${box.x} ${box.y} ${box.w} ${box.h}`" :aria-label="label">
    <slot name="ground" />
    <polygon
      v-for="r in rooms"
      :key="r.key"
      :points="r.corners.map((c) => `${c.x},${c.y}`).join(' ')"
      :fill="r.tags.includes('trees') ? 'var(--moss)' : 'var(--paper)'"
      :fill-opacity="r.tags.includes('trees') || $slots.ground ? 0.22 : 1"
      :stroke="scaled ? 'var(--rule)' : 'var(--faint)'"
      :stroke-width="outline ?? 0.03"
      :stroke-dasharray="scaled && r.tags.includes('outdoor') ? '0.15 0.12' : undefined"
      :class="pickable ? 'cursor-pointer' : ''"
      @click="pickable && $emit('room', r.key)"
    />
    <slot name="under" />
    <template v-if="scaled">
      <text
        v-for="r in rooms"
        :key="r.key"
        :x="middle(r.corners).x"
        :y="middle(r.corners).y"
        text-anchor="middle"
        font-size="0.3"
        fill="var(--faint)"
        class="pointer-events-none"
      >
        {{ r.label }}
      </text>
    </template>
    <g v-for="w in walls ?? []" :key="w.key">
      <line v-bind="ends(w)" stroke="var(--ink)" :stroke-width="thick(w)" stroke-linecap="square">
        <title>{{ w.material }} wall</title>
      </line>
      <!-- A dash that begins where the opening does: the wall is cut there, and a leaf or pane drawn in it. -->
      <template v-for="(o, i) in w.openings" :key="i">
        <line
          v-bind="ends(w)"
          stroke="var(--sheet)"
          :stroke-width="thick(w) + 0.04"
          :stroke-dasharray="`0 ${o.atMetres} ${o.widthMetres} 1000`"
        >
          <title>{{ openingNames[o.kind] }} in a {{ w.material }} wall</title>
        </line>
        <line
          v-if="o.kind !== 'passage'"
          v-bind="ends(w)"
          :stroke="o.kind === 'door' ? 'var(--clay)' : 'var(--act)'"
          stroke-width="0.05"
          :stroke-dasharray="`0 ${o.atMetres} ${o.widthMetres} 1000`"
        />
      </template>
      <!-- As wide as a finger. -->
      <line
        v-if="pickable"
        v-bind="ends(w)"
        stroke="transparent"
        stroke-width="0.45"
        class="cursor-pointer"
        @click="$emit('wall', w.key)"
      >
        <title>{{ w.material }} wall: open it</title>
      </line>
    </g>
    <g v-if="scaled" :transform="`translate(${box.x + 0.5} ${box.y + box.h - 0.35})`" aria-hidden="true">
      <path d="M0 -0.1V0H2V-0.1M1 -0.06V0" fill="none" stroke="var(--ink)" stroke-width="0.03" />
      <text x="2.15" y="0.05" font-size="0.26" fill="var(--ink)">2 m</text>
    </g>
    <slot />
  </svg>
</template>

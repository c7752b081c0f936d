<script setup lang="ts">
/** The schematic of an addition: its pieces as symbols (IEC 60617 shapes), joined by lines; the pin at the left, the part at the right. */
import { computed } from "vue";
import type { BenchPlan } from "@/api/client";
import { layout, ROW, type Placed } from "./addition-layout";

const props = defineProps<{ plan: BenchPlan; addition: BenchPlan["additions"][number] }>();
const pieces = computed(() => props.plan.circuit.components.filter((c) => c.addition === props.addition.key));
const pinOf = (net: string) => {
  const line = props.plan.lines.find((l) => l.net === net);
  return line && `${line.pinName}${line.pinName === line.pinLabel ? "" : `, ${line.pinLabel}`}`;
};
const sketch = computed(() => layout(props.plan.circuit, pieces.value, pinOf));
const floor = computed(() => sketch.value.top + sketch.value.height - 22);
const short = (text: string, n = 22) => (text.length > n ? text.slice(0, n - 1) + "…" : text);
const middle = (p: Placed) => ({ x: (p.from.x + p.to.x) / 2, y: (p.from.y + p.to.y) / 2 });
/** A piece of two terminals is drawn along x and turned where it stands upright. */
const turn = (p: Placed) => (p.form === "across" ? "" : `rotate(${p.form === "up" ? -90 : 90} ${middle(p).x} ${middle(p).y})`);
const reach = (p: Placed) => (p.form === "across" ? Math.abs(p.to.x - p.from.x) : Math.abs(p.to.y - p.from.y)) / 2;
/** Where ground is drawn. */
const foot = (p: Placed) =>
  p.form === "box" ? { x: middle(p).x, y: floor.value } : { x: p.to.x, y: p.form === "transistor" ? floor.value : p.to.y };
const spoken = computed(
  () =>
    `${props.addition.what}: ` +
    pieces.value.map((c) => `${c.value}: ${c.terminals.map((t) => `${t.name} to ${t.net ?? "nothing"}`).join(", ")}`).join("; "),
);
</script>

<template>
  <div class="overflow-x-auto" tabindex="0" role="group" :aria-label="`Schematic: ${addition.what}`">
    <svg
      :viewBox="`0 ${sketch.top} ${sketch.width} ${sketch.height}`"
      :style="{ width: `${sketch.width}px` }"
      class="block max-w-none"
      role="img"
      :aria-label="spoken"
      font-size="12"
      fill="none"
      stroke="var(--ink)"
      stroke-width="1.5"
    >
      <g v-for="s in sketch.spots" :key="s.net">
        <circle v-if="s.outside" :cx="s.x" :cy="s.y" r="2.5" fill="var(--ink)" />
        <template v-if="s.outside && s.start">
          <path :d="`M${s.x - 26} ${s.y}H${s.x}`" />
          <text :x="s.x - 30" :y="s.y + 4" text-anchor="end" fill="var(--clay)" stroke="none">{{ short(s.outside, 18) }}</text>
        </template>
        <template v-else-if="s.outside">
          <path :d="`M${s.x} ${s.y}h26`" />
          <text :x="s.x + 30" :y="s.y + 4" fill="var(--clay)" stroke="none">{{ short(s.outside) }}</text>
        </template>
      </g>
      <g v-for="p in sketch.placed" :key="p.piece.key">
        <template v-if="['across', 'up', 'down', 'between'].includes(p.form)">
          <g :transform="turn(p)">
            <g :transform="`translate(${middle(p).x} ${middle(p).y})`">
              <template v-if="p.piece.kind === 'resistor'">
                <path :d="`M${-reach(p)} 0H-16M16 0H${reach(p)}`" />
                <rect x="-16" y="-6" width="32" height="12" fill="var(--sheet)" />
              </template>
              <path v-else-if="p.piece.kind === 'source'" :d="`M${-reach(p)} 0H-4M4 0H${reach(p)}M-4 -16V16M4 -8V8`" />
              <path v-else-if="p.piece.kind === 'capacitor'" :d="`M${-reach(p)} 0H-4M4 0H${reach(p)}M-4 -12V12M4 -12V12`" />
              <path v-else :d="`M${-reach(p)} 0H-9M-9 -9V9L9 0ZM9 -9V9M9 0H${reach(p)}`" />
            </g>
          </g>
          <text
            v-if="p.form === 'across'"
            :x="middle(p).x"
            :y="middle(p).y - 12"
            text-anchor="middle"
            fill="var(--ink)"
            stroke="none"
          >
            {{ p.piece.value }}
          </text>
          <text v-else :x="middle(p).x + 18" :y="middle(p).y + (p.form === 'up' ? -6 : 8)" fill="var(--ink)" stroke="none">
            {{ p.piece.value }}
          </text>
        </template>
        <template v-else-if="p.form === 'transistor'">
          <path :d="`M${p.from.x} ${p.from.y}H${p.to.x - 22}m0 -10v20`" />
          <path
            v-if="p.piece.kind === 'npn'"
            :d="`M${p.to.x - 22} ${p.from.y - 4}l22 -12M${p.to.x - 22} ${p.from.y + 4}l22 14m-7 -1l7 1l-3 -6`"
          />
          <path
            v-else
            :d="`M${p.to.x - 17} ${p.from.y - 14}v28M${p.to.x - 17} ${p.from.y - 12}h17M${p.to.x - 17} ${p.from.y + 12}h17`"
          />
          <path :d="`M${p.to.x} ${p.from.y - 12}V${p.above ? p.from.y - 50 : p.to.y}M${p.to.x} ${p.from.y + 12}V${floor}`" />
          <text :x="p.to.x + 10" :y="p.from.y + 8" fill="var(--ink)" stroke="none">{{ p.piece.value }}</text>
        </template>
        <template v-else>
          <g v-for="(side, n) in p.sides" :key="side.left" :transform="`translate(0 ${p.from.y + n * ROW})`">
            <path :d="`M${p.from.x} 0H${middle(p).x - 38}M${middle(p).x + 38} 0H${p.to.x}`" />
          </g>
          <rect
            :x="middle(p).x - 38"
            :y="p.from.y - 20"
            width="76"
            :height="40 + (p.sides!.length - 1) * ROW"
            fill="var(--sheet)"
          />
          <g v-for="(side, n) in p.sides" :key="side.right" fill="var(--ink)" stroke="none">
            <text :x="middle(p).x - 34" :y="p.from.y + n * ROW + 4">{{ side.left }}</text>
            <text :x="middle(p).x + 34" :y="p.from.y + n * ROW + 4" text-anchor="end">{{ side.right }}</text>
          </g>
          <path :d="`M${middle(p).x} ${p.from.y + 20 + (p.sides!.length - 1) * ROW}V${floor}`" />
          <text :x="middle(p).x" :y="p.from.y - 40" text-anchor="middle" fill="var(--ink)" stroke="none">
            {{ p.piece.value }}
          </text>
        </template>
        <text
          v-if="p.above"
          :x="foot(p).x"
          :y="p.form === 'box' ? p.from.y - 26 : p.form === 'transistor' ? p.from.y - 54 : Math.min(p.from.y, p.to.y) - 5"
          text-anchor="middle"
          fill="var(--clay)"
          stroke="none"
        >
          {{ short(p.above, 26) }}
        </text>
        <template v-if="p.below">
          <path v-if="p.below === 'ground'" :d="`M${foot(p).x - 9} ${foot(p).y}h18m-14 4h10m-7 4h4`" />
          <text v-else :x="p.to.x + 6" :y="floor + 14" fill="var(--clay)" stroke="none">{{ short(p.below, 20) }}</text>
        </template>
      </g>
    </svg>
  </div>
</template>

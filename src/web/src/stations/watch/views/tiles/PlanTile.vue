<script setup lang="ts">
/** The plan of the place with the newest values at their spots. */
import { useElementSize } from "@vueuse/core";
import { computed, ref, useTemplateRef } from "vue";
import type { TileContent } from "@/api/client";
import ChoiceStrip from "@/kit/ChoiceStrip.vue";
import PlanCanvas from "@/kit/PlanCanvas.vue";
import { planBox } from "@/kit/plan";
import { isStale, valueText } from "../../readings";
import { find, useBoard } from "../board";

const props = defineProps<{ content: Extract<TileContent, { kind: "plan" }> }>();
const board = useBoard();
/** The floor of what has none, or one that is gone, is the ground. */
const floorOf = (key: string | null | undefined) => (board.floors.value.some((f) => f.key === key) ? key! : "");
/** Floors with a value to show, from below. */
const floors = computed(() => {
  const shown = new Set(
    board.spots.value.filter((s) => props.content.of.some((of) => of.node === s.node)).map((s) => floorOf(s.floor)),
  );
  return [
    { value: "", label: "Ground", level: 0 },
    ...board.floors.value.map((f) => ({ value: f.key, label: f.label, level: f.levelMetres })),
  ]
    .filter((f) => shown.has(f.value))
    .sort((a, b) => a.level - b.level);
});
const chosen = ref<string>();
const floor = computed(() =>
  floors.value.some((f) => f.value === chosen.value) ? chosen.value! : (floors.value[0]?.value ?? ""),
);
const rooms = computed(() => board.rooms.value.filter((r) => floorOf(r.floor) === floor.value));
const spots = computed(() => board.spots.value.filter((s) => floorOf(s.floor) === floor.value));
const box = computed(() => planBox([...rooms.value.flatMap((r) => r.corners), ...spots.value], 0.5));
const host = useTemplateRef<HTMLElement>("host");
const { width, height } = useElementSize(host);
/** Metres of the plan a pixel is worth, and a text of 13 pixels. */
const font = computed(() => 13 * Math.max(box.value.w / Math.max(width.value, 80), box.value.h / Math.max(height.value, 80)));
interface Label {
  key: string;
  spot: { x: number; y: number };
  stale: boolean;
  text: string;
  name: string;
  x: number;
  y: number;
  end: boolean;
}
/** Each label beside its spot: to the right, to the left, below or above, where it lies on no other and inside the plan. */
const labels = computed(() => {
  const f = font.value;
  const placed: { x: number; y: number; w: number; h: number }[] = [];
  return props.content.of.flatMap((of): Label[] => {
    const spot = spots.value.find((s) => s.node === of.node);
    const reading = find(board.readings.value, of);
    if (!spot || !reading) return [];
    const stale = isStale(reading, reading.newest, board.now.value);
    const text = (reading.newest ? valueText(reading, reading.newest.value) : "–") + (stale ? " silent" : "");
    const w = Math.max(text.length * 0.62, reading.label.length * 0.42) * f;
    const h = 2 * f;
    const b = box.value;
    const tries = [0, 1.1, -1.1, 2.2, -2.2].flatMap((dy) => [
      { x: spot.x + f / 2, end: false, y: spot.y + dy * h },
      { x: spot.x - f / 2, end: true, y: spot.y + dy * h },
    ]);
    const area = (t: (typeof tries)[0]) => ({ x: t.end ? t.x - w : t.x, y: t.y - f, w, h });
    const free = (t: (typeof tries)[0]) => {
      const a = area(t);
      return (
        a.x >= b.x &&
        a.x + w <= b.x + b.w &&
        placed.every((p) => a.x + a.w < p.x || p.x + p.w < a.x || a.y + a.h < p.y || p.y + p.h < a.y)
      );
    };
    const at = tries.find(free) ?? tries[0]!;
    placed.push(area(at));
    return [{ key: `${of.node}/${of.reading}`, spot, stale, text, name: reading.label, ...at }];
  });
});
</script>

<template>
  <div class="flex min-h-56 flex-1 flex-col">
    <ChoiceStrip
      v-if="floors.length > 1"
      :model-value="floor"
      label="Floor"
      :options="floors"
      class="mb-1 w-fit text-sm"
      @update:model-value="chosen = $event"
    />
    <div ref="host" class="relative min-h-40 flex-1">
      <PlanCanvas
        :rooms="rooms"
        :box="box"
        :outline="font / 10"
        class="absolute inset-0 h-full w-full"
        role="img"
        label="Plan of the place with values"
      >
        <g v-for="l in labels" :key="l.key" :data-reading="l.key">
          <circle :cx="l.spot.x" :cy="l.spot.y" :r="font / 4" fill="var(--act)" />
          <text
            :x="l.x"
            :y="l.y + font * 0.35"
            :text-anchor="l.end ? 'end' : 'start'"
            :font-size="font"
            fill="var(--ink)"
            stroke="var(--sheet)"
            :stroke-width="font / 5"
            paint-order="stroke"
          >
            <tspan font-weight="650">{{ l.text }}</tspan>
            <tspan :x="l.x" :dy="font" :font-size="font * 0.8" fill="var(--faint)">{{ l.name }}</tspan>
          </text>
        </g>
      </PlanCanvas>
    </div>
  </div>
</template>

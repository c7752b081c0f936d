<script setup lang="ts">
/** The plan to work on: rooms drawn, outlines changed, spots moved, a paper plan laid under it. */
import { computed, nextTick, useTemplateRef, watch } from "vue";
import type { Room, RoomCoverage, Sight, SiteDesign } from "@/api/client";
import { useMoves } from "@/app/moves";
import { useSite } from "@/app/site";
import PlanSpots from "@/kit/PlanSpots.vue";
import HeatMarks from "./HeatMarks.vue";
import DrawingBar from "./DrawingBar.vue";
import OutlineDrawn from "./OutlineDrawn.vue";
import OutlineHandles from "./OutlineHandles.vue";
import ScanBar from "./ScanBar.vue";
import ScanPicture from "./ScanPicture.vue";
import SightShapes from "./SightShapes.vue";
import { useDrawOutline } from "./draw-outline";
import { usePlaceScan } from "./place-scan";
import { round, type At } from "./outline";

/** @prop place What is on the floor that is shown. */
const props = defineProps<{ place: SiteDesign["place"]; floor: string; sights: Sight[]; blind: RoomCoverage[] }>();
const emit = defineEmits<{ drawn: [outline: At[]]; wall: [key: string] }>();
/** What the sheet is used for besides looking and moving spots. */
const mode = defineModel<"draw" | "scan">("mode");
const selected = defineModel<string>("selected");
/** Key of the room whose outline has handles. */
const shaped = defineModel<string>("shaped");
const site = useSite();
const moves = useMoves();
const plan = useTemplateRef<InstanceType<typeof PlanSpots>>("plan");
const toPlan = (e: PointerEvent) => plan.value?.toPlan(e);
const turned = (to: "draw" | "scan") =>
  computed({ get: () => mode.value === to, set: (on: boolean) => (mode.value = on ? to : undefined) });
const drawing = useDrawOutline(
  turned("draw"),
  toPlan,
  () => props.place.rooms.flatMap((r) => r.corners),
  (outline) => emit("drawn", outline),
);
const scan = computed(() => props.place.scans?.find((s) => (s.floor ?? "") === props.floor));
const scanning = usePlaceScan(
  turned("scan"),
  toPlan,
  () => scan.value,
  (put) => void site.apply("Picture moved", [{ kind: "putScan", scan: put }], true),
);
/** Where the picture reaches to: in view while it is worked on, or drawn on. */
const scanCorners = computed(() => {
  const s = scan.value;
  if (!s || !mode.value) return [];
  const turn = ((s.turnDegrees ?? 0) * Math.PI) / 180;
  return [
    [0, 0],
    [s.pixelsWide, 0],
    [s.pixelsWide, s.pixelsHigh],
    [0, s.pixelsHigh],
  ].map(([u, v]) => ({
    x: s.x + s.metresPerPixel * (u! * Math.cos(turn) - v! * Math.sin(turn)),
    y: s.y + s.metresPerPixel * (u! * Math.sin(turn) + v! * Math.cos(turn)),
  }));
});
/** Keys go to the sheet while it is drawn on. */
watch(
  mode,
  async () => {
    await nextTick();
    if (mode.value) plan.value?.focus();
  },
  { immediate: true },
);
const shapedRoom = computed(() =>
  mode.value ? undefined : props.place.rooms.find((r) => r.key === shaped.value && site.canWrite.value),
);

/** What pointer and keys do on the sheet. */
const hand = computed(() => (mode.value === "scan" ? scanning : drawing));

async function moveSide(r: Room, side: number, metres: number) {
  await site.apply(`A side of ${r.label} moved`, [{ kind: "moveSide", key: r.key, side, metres }]);
}

async function addCorner(r: Room, side: number) {
  const [a, b] = [r.corners[side]!, r.corners[(side + 1) % r.corners.length]!];
  const middle = { x: round((a.x + b.x) / 2), y: round((a.y + b.y) / 2) };
  const corners = [...r.corners.slice(0, side + 1), middle, ...r.corners.slice(side + 1)];
  await site.apply(`A corner of ${r.label} added`, [{ kind: "putRoom", room: { ...r, corners } }]);
}

async function removeCorner(r: Room, corner: number) {
  const corners = r.corners.filter((_, i) => i !== corner);
  await site.apply(`A corner of ${r.label} removed`, [{ kind: "putRoom", room: { ...r, corners } }]);
}
</script>

<template>
  <DrawingBar
    v-if="mode === 'draw'"
    :corners="drawing.set.value.length"
    @length="drawing.putAt"
    @close="drawing.close"
    @stop="drawing.stop"
  />
  <ScanBar
    v-else-if="mode === 'scan'"
    :floor="floor"
    :scan="scan"
    :points="scanning.points.value"
    @again="scanning.again"
    @done="scanning.done"
  />
  <p v-else-if="shapedRoom" class="mb-1 text-sm text-faint" role="status">
    {{ shapedRoom.label }}: drag a side or a corner, its walls and the rooms beside it follow. Double-click adds a corner to a
    side or takes one away.
    <button type="button" class="text-act hover:underline" @click="shaped = undefined">Done</button>
  </p>
  <PlanSpots
    ref="plan"
    v-model:selected="selected"
    :place="place"
    :nodes="site.design.value?.nodes ?? []"
    :movable="site.canWrite.value && !mode"
    :pickable="site.canWrite.value && !mode"
    :beyond="scanCorners"
    :tabindex="mode ? 0 : undefined"
    :margin="mode ? 3 : undefined"
    :class="mode ? 'cursor-crosshair touch-none' : ''"
    @move="moves.spot"
    @room="shaped = $event"
    @wall="$emit('wall', $event)"
    @pointerdown="hand.down($event)"
    @pointermove="hand.move($event)"
    @pointerup="hand.up()"
    @keydown="hand.key($event)"
  >
    <template v-if="scan" #ground>
      <ScanPicture :site="site.key.value" :scan="scan" :points="scanning.points.value" :shift="scanning.shift.value" />
    </template>
    <template #under><SightShapes v-if="!mode" :sights="sights" :rooms="blind" /></template>
    <HeatMarks
      :sources="place.heatSources ?? []"
      :movable="site.canWrite.value && !mode"
      :to-plan="toPlan"
      @move="(h, to) => moves.heat(h.key, h.label, to)"
    />
    <OutlineDrawn
      v-if="mode === 'draw'"
      :outline="drawing.drawn.value"
      :set="drawing.set.value"
      :at="drawing.at.value"
      :closed="drawing.isRectangle.value || drawing.closes.value"
    />
    <OutlineHandles
      v-else-if="shapedRoom"
      :room="shapedRoom"
      :to-plan="toPlan"
      @side="(side, metres) => moveSide(shapedRoom!, side, metres)"
      @corner="(corner, to) => moves.corner(shapedRoom!.key, shapedRoom!.label, corner, to)"
      @add="addCorner(shapedRoom, $event)"
      @remove="removeCorner(shapedRoom, $event)"
      @leave="shaped = undefined"
    />
  </PlanSpots>
</template>

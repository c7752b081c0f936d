<script setup lang="ts">
/** Rooms and spots as a scaled drawing, with the lists beside it. */
import { computed, ref, useTemplateRef } from "vue";
import type { Room, Spot } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import ChoiceStrip from "@/kit/ChoiceStrip.vue";
import EmptyState from "@/kit/EmptyState.vue";
import FigureView from "@/kit/FigureView.vue";
import PageHead from "@/kit/PageHead.vue";
import PlanSpots from "@/kit/PlanSpots.vue";
import RowActions from "@/kit/RowActions.vue";
import { floorChoices, onFloor } from "@/kit/plan";
import BuildingLists from "./BuildingLists.vue";
import PlanFilesDialog from "./PlanFilesDialog.vue";
import RoomDialog from "./RoomDialog.vue";
import SightList from "./SightList.vue";
import SightShapes from "./SightShapes.vue";
import SiteDialog from "./SiteDialog.vue";
import SpotDialog from "./SpotDialog.vue";
import { useDrawRoom, type Drawn } from "./draw-room";

const site = useSite();
const floor = ref("");
const whole = computed(() => site.design.value?.place);
const place = computed(() => whole.value && onFloor(whole.value, floor.value || null));
const floors = computed(() => (whole.value ? floorChoices(whole.value) : []));
const selected = ref<string>();
const room = ref<Room | "new">();
const spot = ref<Spot | "new">();
const settings = ref(false);
const files = ref(false);
const coverage = computed(() => site.plan.value?.place.coverage);
const hidden = ref(new Set<string>());
const sights = computed(
  () => coverage.value?.sights.filter((s) => (s.floor ?? "") === floor.value && !hidden.value.has(`${s.node} ${s.part}`)) ?? [],
);
/** Blind parts of rooms of which a sensor is drawn. */
const blind = computed(() => coverage.value?.rooms.filter((r) => sights.value.some((s) => s.watches && s.room === r.room)) ?? []);
const drawnRoom = ref<Drawn>();
const plan = useTemplateRef<InstanceType<typeof PlanSpots>>("plan");
const drawing = useDrawRoom(
  (e) => plan.value?.toPlan(e),
  () => place.value?.rooms.flatMap((r) => r.corners) ?? [],
  (drawn) => {
    drawnRoom.value = drawn;
    room.value = "new";
  },
);
function closeRoom() {
  room.value = undefined;
  drawnRoom.value = undefined;
}
const nodesAt = (key: string) => (site.design.value?.nodes ?? []).filter((n) => n.spot === key);

async function move(key: string, x: number, y: number) {
  const s = place.value?.spots.find((i) => i.key === key);
  if (s && (s.x !== x || s.y !== y)) await site.apply(`${s.label} moved`, [{ kind: "putSpot", spot: { ...s, x, y } }]);
}

async function removeRoom(r: Room) {
  await site.apply(`${r.label} removed; its spots stay`, [{ kind: "removeRoom", key: r.key }]);
}

async function removeSpot(s: Spot) {
  await site.apply(`${s.label} removed`, [{ kind: "removeSpot", key: s.key }]);
}
</script>

<template>
  <PageHead title="Place" asks="What do I want to know, where, and what does that spot do to electronics and radio?">
    <template v-if="site.canWrite.value">
      <AppButton @click="settings = true">Site</AppButton>
      <AppButton @click="files = true">Plan as files</AppButton>
      <AppButton data-new @click="spot = 'new'">New spot</AppButton>
      <AppButton :aria-pressed="drawing.active.value" @click="drawing.active.value = !drawing.active.value">{{
        drawing.active.value ? "Stop drawing" : "Draw a room"
      }}</AppButton>
      <AppButton @click="room = 'new'">New room</AppButton>
    </template>
  </PageHead>
  <template v-if="place">
    <ChoiceStrip v-if="floors.length" v-model="floor" label="Floor" :options="floors" class="mb-2 w-fit" />
    <EmptyState
      v-if="!whole!.rooms.length && !drawing.active.value"
      title="No rooms yet"
      text="Draw the place roughly to scale: a room is a rectangle in metres, drawn or typed. Damp, cold and distance are judged by it."
    >
      <template v-if="site.canWrite.value">
        <AppButton kind="lead" @click="drawing.active.value = true">Draw a room</AppButton>
        <AppButton @click="room = 'new'">Type its size</AppButton>
      </template>
    </EmptyState>
    <template v-else>
      <p v-if="drawing.active.value" class="mb-1 text-sm text-faint" role="status">
        Press at one corner and let go at the other. Corners cling to those that stand.
      </p>
      <PlanSpots
        ref="plan"
        v-model:selected="selected"
        :place="place"
        :nodes="site.design.value?.nodes ?? []"
        :movable="site.canWrite.value && !drawing.active.value"
        :margin="drawing.active.value ? 3 : undefined"
        :class="drawing.active.value ? 'cursor-crosshair touch-none' : ''"
        @move="move"
        @pointerdown="drawing.down"
        @pointermove="drawing.move"
        @pointerup="drawing.up"
      >
        <template #under><SightShapes v-if="!drawing.active.value" :sights="sights" :rooms="blind" /></template>
        <g v-if="drawing.drawn.value" aria-hidden="true">
          <rect
            v-bind="{ x: drawing.drawn.value.x, y: drawing.drawn.value.y }"
            :width="drawing.drawn.value.width"
            :height="drawing.drawn.value.depth"
            fill="none"
            stroke="var(--act)"
            stroke-width="0.06"
          />
          <text :x="drawing.drawn.value.x" :y="drawing.drawn.value.y" dx="0.1" dy="0.4" font-size="0.34" fill="var(--act)">
            {{ drawing.drawn.value.width }} × {{ drawing.drawn.value.depth }} m
          </text>
        </g>
      </PlanSpots>
    </template>
    <SightList v-if="coverage" v-model:hidden="hidden" :coverage="coverage" :floor="floor" class="mt-5" />
    <div class="mt-5 grid grid-cols-1 gap-6 2xl:grid-cols-2">
      <section>
        <h2 class="mb-1 text-lg font-semibold">Spots</h2>
        <table class="grid-table">
          <thead>
            <tr>
              <th>Spot</th>
              <th class="hidden text-right sm:table-cell">x, y</th>
              <th class="hidden text-right sm:table-cell">Height</th>
              <th>Node</th>
              <th><span class="sr-only">Actions</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="s in place.spots" :key="s.key" :class="selected === s.key ? 'bg-paper' : ''">
              <td>
                <button type="button" class="text-left hover:text-act" @click="selected = s.key">{{ s.label }}</button>
                <span class="block text-sm text-faint">{{
                  place.rooms.find((r) => r.key === s.room)?.label ?? "in no room"
                }}</span>
              </td>
              <td class="mono hidden text-right whitespace-nowrap sm:table-cell">{{ s.x }}, {{ s.y }} m</td>
              <td class="mono hidden text-right whitespace-nowrap sm:table-cell">{{ s.heightMetres }} m</td>
              <td>
                <RouterLink
                  v-for="n in nodesAt(s.key)"
                  :key="n.key"
                  :to="`/${site.key.value}/bench/${n.key}`"
                  class="block text-act hover:underline"
                  >{{ n.label }}</RouterLink
                >
                <span v-if="!nodesAt(s.key).length" class="text-faint">free</span>
              </td>
              <td class="text-right sm:whitespace-nowrap">
                <RowActions v-if="site.canWrite.value" :name="s.label" @edit="spot = s" @remove="removeSpot(s)" />
              </td>
            </tr>
          </tbody>
        </table>
      </section>
      <section>
        <h2 class="mb-1 text-lg font-semibold">Rooms</h2>
        <table class="grid-table">
          <thead>
            <tr>
              <th>Room</th>
              <th class="text-right">Area</th>
              <th>Tags</th>
              <th><span class="sr-only">Actions</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in place.rooms" :key="r.key">
              <td>{{ r.label }}</td>
              <td class="text-right">
                <FigureView v-if="site.plan.value?.place.areas[r.key]" :figure="site.plan.value.place.areas[r.key]!" />
              </td>
              <td class="text-faint">{{ r.tags.map((t) => (t === "sleeping" ? "people asleep" : t)).join(", ") }}</td>
              <td class="text-right sm:whitespace-nowrap">
                <RowActions v-if="site.canWrite.value" :name="r.label" @edit="room = r" @remove="removeRoom(r)" />
              </td>
            </tr>
          </tbody>
        </table>
      </section>
    </div>
    <BuildingLists :floor="floor" />
    <RoomDialog v-if="room" :room="room === 'new' ? undefined : room" :drawn="drawnRoom" :floor="floor" @close="closeRoom" />
    <PlanFilesDialog v-if="files" :floor="floor" @close="files = false" />
    <SiteDialog v-if="settings" @close="settings = false" />
    <SpotDialog v-if="spot" :spot="spot === 'new' ? undefined : spot" @close="spot = undefined" />
  </template>
</template>

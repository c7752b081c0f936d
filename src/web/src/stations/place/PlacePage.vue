<script setup lang="ts">
/** Rooms and spots as a scaled drawing, with the lists beside it. */
import { computed, ref } from "vue";
import type { Room, Spot } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import ChoiceStrip from "@/kit/ChoiceStrip.vue";
import EmptyState from "@/kit/EmptyState.vue";
import PageHead from "@/kit/PageHead.vue";
import { floorChoices, onFloor } from "@/kit/plan";
import BuildingLists from "./BuildingLists.vue";
import PlanFilesDialog from "./PlanFilesDialog.vue";
import PlaceSheet from "./PlaceSheet.vue";
import RoomDialog from "./RoomDialog.vue";
import RoomLists from "./RoomLists.vue";
import SightList from "./SightList.vue";
import SiteDialog from "./SiteDialog.vue";
import SpotDialog from "./SpotDialog.vue";
import type { At } from "./outline";

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
/** What the sheet is used for besides looking and moving spots. */
const mode = ref<"draw" | "scan">();
/** The room whose outline has handles. */
const shaped = ref<string>();
/** The wall whose form is open. */
const wall = ref<string>();
const scanned = computed(() => whole.value?.scans?.some((s) => (s.floor ?? "") === floor.value));
const toggle = (to: "draw" | "scan") => (mode.value = mode.value === to ? undefined : to);
const drawnRoom = ref<At[]>();
function openDrawn(outline: At[]) {
  drawnRoom.value = outline;
  room.value = "new";
}
function closeRoom() {
  room.value = undefined;
  drawnRoom.value = undefined;
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
      <AppButton :aria-pressed="mode === 'scan'" @click="toggle('scan')">Paper plan</AppButton>
      <AppButton data-new @click="spot = 'new'">New spot</AppButton>
      <AppButton @click="room = 'new'">New room</AppButton>
      <AppButton kind="lead" :aria-pressed="mode === 'draw'" @click="toggle('draw')">Draw rooms</AppButton>
    </template>
  </PageHead>
  <template v-if="place">
    <ChoiceStrip v-if="floors.length" v-model="floor" label="Floor" :options="floors" class="mb-2 w-fit" />
    <EmptyState
      v-if="!whole!.rooms.length && !mode && !scanned"
      title="No rooms yet"
      text="Draw the place roughly to scale, room by room, or type sizes in metres. Damp, cold and distance are judged by it."
    >
      <template v-if="site.canWrite.value">
        <AppButton kind="lead" @click="toggle('draw')">Draw rooms</AppButton>
        <AppButton @click="room = 'new'">Type its size</AppButton>
        <AppButton @click="toggle('scan')">Draw over a paper plan</AppButton>
      </template>
    </EmptyState>
    <template v-else>
      <PlaceSheet
        v-model:mode="mode"
        v-model:selected="selected"
        v-model:shaped="shaped"
        :place="place"
        :floor="floor"
        :sights="sights"
        :blind="blind"
        @drawn="openDrawn"
        @wall="wall = $event"
      />
    </template>
    <SightList v-if="coverage" v-model:hidden="hidden" :coverage="coverage" :floor="floor" class="mt-5" />
    <RoomLists
      v-model:selected="selected"
      :place="place"
      @shape="shaped = $event"
      @room="room = $event"
      @spot="spot = $event"
      @remove-room="removeRoom"
      @remove-spot="removeSpot"
    />
    <BuildingLists v-model:wall="wall" :floor="floor" />
    <RoomDialog v-if="room" :room="room === 'new' ? undefined : room" :drawn="drawnRoom" :floor="floor" @close="closeRoom" />
    <PlanFilesDialog v-if="files" :floor="floor" @close="files = false" />
    <SiteDialog v-if="settings" @close="settings = false" />
    <SpotDialog v-if="spot" :spot="spot === 'new' ? undefined : spot" @close="spot = undefined" />
  </template>
</template>

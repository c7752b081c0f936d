<script setup lang="ts">
/** Walls of the floor that is shown, floors, access points, heaters and vents, with the dialogs that change them. */
import { computed, ref } from "vue";
import type { AccessPoint, DesignEdit, Floor, HeatSource, Wall } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import RowActions from "@/kit/RowActions.vue";
import { materialNames, onFloor, openingNames } from "@/kit/plan";
import AccessPointDialog from "./AccessPointDialog.vue";
import FloorDialog from "./FloorDialog.vue";
import HeatSourceDialog from "./HeatSourceDialog.vue";
import WallDialog from "./WallDialog.vue";

const props = defineProps<{ floor: string }>();
const site = useSite();
const place = computed(() => site.design.value!.place);
const walls = computed(() => onFloor(place.value, props.floor || null).walls);
/** Key of the wall whose form is open; "new" for none that stands. */
const wall = defineModel<string>("wall");
const opened = computed(() => place.value.walls.find((w) => w.key === wall.value));
const storey = ref<Floor | "new">();
const accessPoint = ref<AccessPoint | "new">();
const heat = ref<HeatSource | "new">();
const floorLabel = (key?: string | null) => place.value.floors?.find((f) => f.key === key)?.label ?? "Ground";
const spotLabel = (key: string) => place.value.spots.find((s) => s.key === key)?.label ?? "a spot that is gone";
const openings = (w: Wall) => (w.openings ?? []).map((o) => openingNames[o.kind]).join(", ");

async function remove(label: string, edit: DesignEdit) {
  await site.apply(`${label} removed`, [edit]);
}
</script>

<template>
  <div class="mt-6 grid grid-cols-1 gap-6 2xl:grid-cols-2">
    <section aria-label="Walls">
      <div class="mb-1 flex items-center justify-between">
        <h2 class="text-lg font-semibold">Walls</h2>
        <AppButton v-if="site.canWrite.value" small @click="wall = 'new'">New wall</AppButton>
      </div>
      <p v-if="!walls.length" class="text-faint">
        None drawn. Rooms without walls are found in the margin, with walls to put round them.
      </p>
      <table v-else class="grid-table">
        <thead>
          <tr>
            <th>Wall</th>
            <th class="hidden sm:table-cell">From, to</th>
            <th>Openings</th>
            <th><span class="sr-only">Actions</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="w in walls" :key="w.key" :data-wall="w.key">
            <td>
              {{ materialNames[w.material]
              }}<span class="block text-sm text-faint">{{
                w.thicknessMetres ? `${w.thicknessMetres} m` : "usual thickness"
              }}</span>
            </td>
            <td class="mono hidden text-sm whitespace-nowrap sm:table-cell">
              {{ w.from.x }}, {{ w.from.y }} to {{ w.to.x }}, {{ w.to.y }} m
            </td>
            <td class="text-sm">{{ openings(w) || "none" }}</td>
            <td class="text-right sm:whitespace-nowrap">
              <RowActions
                v-if="site.canWrite.value"
                :name="`wall ${w.key}`"
                @edit="wall = w.key"
                @remove="remove('Wall', { kind: 'removeWall', key: w.key })"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </section>
    <section aria-label="In the house">
      <div class="mb-1 flex flex-wrap items-center justify-between gap-x-4 gap-y-2">
        <h2 class="text-lg font-semibold">In the house</h2>
        <span v-if="site.canWrite.value" class="flex flex-wrap gap-2">
          <AppButton small @click="storey = 'new'">New floor</AppButton>
          <AppButton small @click="accessPoint = 'new'">New access point</AppButton>
          <AppButton small @click="heat = 'new'">New heater or vent</AppButton>
        </span>
      </div>
      <table class="grid-table">
        <tbody>
          <tr v-for="f in place.floors ?? []" :key="f.key">
            <td>{{ f.label }}<span class="block text-sm text-faint">floor</span></td>
            <td class="text-sm">
              {{ f.levelMetres }} m above the ground, {{ f.slab ? materialNames[f.slab] : "not known what is" }} under it
            </td>
            <td class="text-right sm:whitespace-nowrap">
              <RowActions
                v-if="site.canWrite.value"
                :name="f.label"
                @edit="storey = f"
                @remove="remove(f.label, { kind: 'removeFloor', key: f.key })"
              />
            </td>
          </tr>
          <tr v-for="a in place.accessPoints ?? []" :key="a.key">
            <td>{{ a.label }}<span class="block text-sm text-faint">Wi-Fi</span></td>
            <td class="text-sm">{{ spotLabel(a.spot) }}, {{ a.channel ? `channel ${a.channel}` : "chooses its channel" }}</td>
            <td class="text-right sm:whitespace-nowrap">
              <RowActions
                v-if="site.canWrite.value"
                :name="a.label"
                @edit="accessPoint = a"
                @remove="remove(a.label, { kind: 'removeAccessPoint', key: a.key })"
              />
            </td>
          </tr>
          <tr v-for="h in place.heatSources ?? []" :key="h.key">
            <td>
              {{ h.label }}<span class="block text-sm text-faint">{{ h.kind === "heater" ? "heater" : "vent" }}</span>
            </td>
            <td class="text-sm">{{ h.x }}, {{ h.y }} m{{ place.floors?.length ? `, ${floorLabel(h.floor)}` : "" }}</td>
            <td class="text-right sm:whitespace-nowrap">
              <RowActions
                v-if="site.canWrite.value"
                :name="h.label"
                @edit="heat = h"
                @remove="remove(h.label, { kind: 'removeHeatSource', key: h.key })"
              />
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="!place.accessPoints?.length && !place.floors?.length && !place.heatSources?.length" class="text-faint">
        All on the ground, and no access point yet. Heaters and vents matter to thermometers and motion sensors.
      </p>
    </section>
    <WallDialog v-if="wall" :key="wall" :wall="opened" :floor="floor" @close="wall = undefined" />
    <FloorDialog v-if="storey" :floor="storey === 'new' ? undefined : storey" @close="storey = undefined" />
    <HeatSourceDialog v-if="heat" :source="heat === 'new' ? undefined : heat" :floor="floor" @close="heat = undefined" />
    <AccessPointDialog
      v-if="accessPoint"
      :access-point="accessPoint === 'new' ? undefined : accessPoint"
      @close="accessPoint = undefined"
    />
  </div>
</template>

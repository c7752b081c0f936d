<script setup lang="ts">
/** Spots and rooms of the floor that is shown, as tables. */
import type { Room, SiteDesign, Spot } from "@/api/client";
import { duplicate } from "@/app/duplicate";
import { useSite } from "@/app/site";
import FigureView from "@/kit/FigureView.vue";
import RowActions from "@/kit/RowActions.vue";
import { tagNames } from "@/kit/plan";

defineProps<{ place: SiteDesign["place"] }>();
defineEmits<{
  shape: [key: string];
  room: [room: Room];
  spot: [spot: Spot];
  removeRoom: [room: Room];
  removeSpot: [spot: Spot];
}>();
/** Key of the spot that is lit on the plan. */
const selected = defineModel<string>("selected");
const site = useSite();
const nodesAt = (key: string) => (site.design.value?.nodes ?? []).filter((n) => n.spot === key);
</script>

<template>
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
              <span class="block text-sm text-faint">{{ place.rooms.find((r) => r.key === s.room)?.label ?? "in no room" }}</span>
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
              <RowActions v-if="site.canWrite.value" :name="s.label" @edit="$emit('spot', s)" @remove="$emit('removeSpot', s)" />
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
            <td>
              <button
                v-if="site.canWrite.value"
                type="button"
                class="text-left hover:text-act"
                :aria-label="`Shape of ${r.label}`"
                @click="$emit('shape', r.key)"
              >
                {{ r.label }}
              </button>
              <template v-else>{{ r.label }}</template>
            </td>
            <td class="text-right">
              <FigureView v-if="site.plan.value?.place.areas[r.key]" :figure="site.plan.value.place.areas[r.key]!" />
            </td>
            <td class="text-faint">{{ r.tags.map((t) => tagNames[t]).join(", ") }}</td>
            <td class="text-right sm:whitespace-nowrap">
              <RowActions
                v-if="site.canWrite.value"
                :name="r.label"
                duplicates
                @edit="$emit('room', r)"
                @duplicate="duplicate(site, 'room', r.key)"
                @remove="$emit('removeRoom', r)"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </section>
  </div>
</template>

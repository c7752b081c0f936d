<script setup lang="ts">
/** What sensors see of their rooms, each switched on and off on the plan, and where they should hang. */
import { computed, ref } from "vue";
import type { CoveragePlan, Sight } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import FigureView from "@/kit/FigureView.vue";
import BestSpotDialog from "./BestSpotDialog.vue";

const props = defineProps<{ coverage: CoveragePlan; floor: string }>();
/** Sensors that are not drawn, as "node part". */
const hidden = defineModel<Set<string>>("hidden", { required: true });
const site = useSite();
const asked = ref<Sight>();
const sights = computed(() => props.coverage.sights.filter((s) => (s.floor ?? "") === props.floor));
const covered = (s: Sight) => props.coverage.rooms.find((r) => r.room === s.room);
const roomLabel = (s: Sight) => site.design.value!.place.rooms.find((r) => r.key === s.room)?.label ?? "in no room";
/** Sensors by room, those that watch first. */
const rooms = computed(() => {
  const sorted = [...sights.value].sort((a, b) => Number(b.watches) - Number(a.watches));
  return [...new Set(sorted.map((s) => s.room))].map((room) => sorted.filter((s) => s.room === room));
});
const beyond = (s: Sight) =>
  s.beyond.map((b) => `${b.squareMetres.toFixed(1)} m² of ${b.label}${b.throughWalls ? " through the wall" : ""}`).join(", ");
/** One question a node: its sensors hang together. */
const asks = (group: Sight[], i: number) => group[i]!.watches && group.findIndex((s) => s.node === group[i]!.node) === i;

function toggle(s: Sight) {
  const key = `${s.node} ${s.part}`;
  const next = new Set(hidden.value);
  if (!next.delete(key)) next.add(key);
  hidden.value = next;
}
</script>

<template>
  <section v-if="sights.length" aria-label="What sensors see">
    <h2 class="mb-1 text-lg font-semibold">What sensors see</h2>
    <table class="grid-table">
      <thead>
        <tr>
          <th>Sensor</th>
          <th class="text-right">Of its room</th>
          <th class="hidden sm:table-cell">And of others</th>
          <th><span class="sr-only">Actions</span></th>
        </tr>
      </thead>
      <tbody v-for="group in rooms" :key="group[0]!.room ?? ''" :data-room="group[0]!.room">
        <tr>
          <td class="font-semibold">{{ roomLabel(group[0]!) }}</td>
          <td class="text-right">
            <FigureView v-if="covered(group[0]!)" :figure="covered(group[0]!)!.share" />
          </td>
          <td colspan="2" class="text-sm" :class="covered(group[0]!)?.blindAt ? 'text-risk' : 'text-faint'">
            <template v-if="covered(group[0]!)">{{
              covered(group[0]!)!.blindAt
                ? `${covered(group[0]!)!.blindSquareMetres.toFixed(1)} m² blind, most of it ${covered(group[0]!)!.blindAt}`
                : "all of it"
            }}</template>
          </td>
        </tr>
        <tr v-for="(s, i) in group" :key="`${s.node} ${s.part}`">
          <td>
            <label class="flex min-h-9 items-center gap-2 pl-2">
              <input
                type="checkbox"
                data-view
                class="size-4 shrink-0"
                :checked="!hidden.has(`${s.node} ${s.part}`)"
                @change="toggle(s)"
              />
              <span
                >{{ s.label
                }}<span class="block text-sm text-faint">{{
                  s.watches ? s.nodeLabel : `${s.nodeLabel}, width of its beam`
                }}</span></span
              >
            </label>
            <p v-if="s.step" class="pl-8 text-sm text-faint">
              Far off it sees who goes sideways by <FigureView :figure="s.step" />, and hardly who comes straight on.
            </p>
          </td>
          <td class="text-right"><FigureView :figure="s.sees" /></td>
          <td class="hidden text-sm text-faint sm:table-cell">
            {{ beyond(s) }}
          </td>
          <td class="text-right">
            <AppButton v-if="asks(group, i)" small @click="asked = s">Where should it hang?</AppButton>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="coverage.leftOut" class="mt-1 text-sm text-risk">
      {{ coverage.leftOut }} more are not looked at: there are too many sensors and walls for one plan.
    </p>
    <p class="mt-1 text-sm text-faint">
      At the height of a body, 1 m above the floor; furniture is not on the plan. Hatched is what no motion or presence sensor of
      the room sees. Not a certified intruder alarm.
    </p>
    <BestSpotDialog v-if="asked" :sight="asked" @close="asked = undefined" />
  </section>
</template>

<script setup lang="ts">
/** Zones with their arming: off, test, armed; the countdown of leaving and entering, the lamp, what stands open. */
import { computed, ref } from "vue";
import type { ZoneDesign, ZoneView } from "@/api/client";
import { useSite } from "@/app/site";
import { useSiteTime } from "@/live/clock";
import AppButton from "@/kit/AppButton.vue";
import EmptyState from "@/kit/EmptyState.vue";
import { exactDuration } from "@/kit/format";
import ZoneArming from "@/kit/ZoneArming.vue";
import ZoneDialog from "./ZoneDialog.vue";
import { tellSentence } from "./tell";
import { useZones } from "@/kit/zones";

const site = useSite();
const now = useSiteTime(site);
const { zones } = useZones(site);
const edited = ref<ZoneDesign | "new">();
const designs = computed(() => site.design.value?.zones ?? []);
const view = (key: string): ZoneView | undefined => zones.value.find((z) => z.key === key);

/** When it sounds, where that is not at once. */
const soundSentence = (z: ZoneDesign) =>
  !z.soundAfterMs
    ? ""
    : z.soundOnceTold
      ? `once somebody was told, at the latest after ${exactDuration(z.soundAfterMs)}, `
      : `after ${exactDuration(z.soundAfterMs)}, `;

async function remove(z: ZoneDesign) {
  await site.apply(`${z.label} removed; its episodes stay, and the Log can bring it back`, [{ kind: "removeZone", key: z.key }]);
}
</script>

<template>
  <AppButton v-if="site.canWrite.value && designs.length" kind="lead" class="mb-2" @click="edited = 'new'">New zone</AppButton>
  <EmptyState
    v-if="!designs.length"
    title="No zones yet"
    text="A zone is a part of the house that can be armed: motion, contacts and knocks raise an alarm while it is."
  >
    <AppButton v-if="site.canWrite.value" kind="lead" @click="edited = 'new'">New zone</AppButton>
  </EmptyState>
  <ul v-else class="divide-y divide-rule border-y border-rule">
    <li v-for="z in designs" :key="z.key" class="py-3" :data-zone="z.key">
      <ZoneArming v-if="view(z.key)" :zone="view(z.key)!" :now="now" />
      <p class="mt-2 text-sm text-faint">
        {{ z.sensors.length }} {{ z.sensors.length === 1 ? "sensor" : "sensors"
        }}<template v-if="z.triggers > 1">, {{ z.triggers }} triggers within {{ exactDuration(z.withinMs) }}</template
        >, {{ exactDuration(z.exitMs) }} to leave, {{ exactDuration(z.entryMs) }} to disarm, sounds {{ soundSentence(z) }}for
        {{ exactDuration(z.soundMs) }} at most, watches again {{ exactDuration(z.holdOffMs) }} later.
        {{ tellSentence(z.tell, site.design.value?.people ?? []) }}
      </p>
      <div v-if="site.canWrite.value" class="mt-1 flex gap-1">
        <AppButton small :aria-label="`Edit ${z.label}`" @click="edited = z">Edit</AppButton>
        <AppButton small :aria-label="`Remove ${z.label}`" @click="remove(z)">Remove</AppButton>
      </div>
    </li>
  </ul>
  <p class="mt-2 text-sm text-faint">
    Home-made: no certified intruder alarm, and no replacement for one. Sirens harm ears at close range, and local rules limit how
    long one may sound outdoors.
  </p>
  <ZoneDialog v-if="edited" :zone="edited === 'new' ? undefined : edited" @close="edited = undefined" />
</template>

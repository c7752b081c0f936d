<script setup lang="ts">
/** What is open or silent now, on every station: to be acknowledged, or looked at. Nothing where all is well. */
import { computed, ref } from "vue";
import type { EpisodeView } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import { duration } from "@/kit/format";
import { silentNodes, useReadings } from "@/stations/watch/readings";
import AcknowledgeDialog from "./AcknowledgeDialog.vue";
import { useEpisodes } from "./episodes";

/** So many stand in full; the others are counted. */
const most = 2;
defineProps<{ wall?: boolean }>();
const site = useSite();
const { open, note, seen, stretchOf, now } = useEpisodes(site);
const { readings } = useReadings(site);
const taken = ref<EpisodeView>();
const fresh = computed(() => open.value.filter((e) => e.acknowledgedMs === null));
const known = computed(() => open.value.filter((e) => e.acknowledgedMs !== null));
const silent = computed(() => silentNodes(readings.value, now.value));
const names = (keys: string[]) => keys.map((k) => site.node(k)?.label ?? k).join(", ");
const lasted = (ms: number) => duration(Math.max(0, ms));
</script>

<template>
  <section
    v-if="open.length || silent.length"
    aria-label="Open now"
    class="mb-3 border border-l-4 border-rule bg-sheet print:hidden"
    :class="fresh.length ? 'border-l-stop' : 'border-l-risk'"
    data-open
  >
    <div
      v-for="e in fresh.slice(0, most)"
      :key="e.id"
      class="flex flex-wrap items-center gap-x-3 px-3 py-1"
      :data-open-episode="e.rule"
    >
      <p class="min-w-0 flex-1 basis-48">
        <SeverityMark severity="stop" />
        <strong class="ml-1">{{ e.label }}</strong> {{ seen(e) }}
        <span class="text-faint">for {{ lasted(now - e.raisedMs) }}</span>
        <span v-if="note(e)" class="block text-sm">What to do: {{ note(e) }}</span>
      </p>
      <span class="flex items-center gap-2">
        <RouterLink
          :to="stretchOf(e)"
          class="inline-flex min-h-11 items-center pr-2 text-act hover:underline"
          :aria-label="`Show ${e.label}`"
          >Show</RouterLink
        >
        <AppButton v-if="site.canAct.value && !wall" class="min-h-11" :aria-label="`Acknowledge ${e.label}`" @click="taken = e"
          >Acknowledge</AppButton
        >
      </span>
    </div>
    <p v-if="fresh.length > most" class="px-3 py-1">
      <RouterLink :to="`/${site.key.value}/alerts`" class="text-act hover:underline"
        >{{ fresh.length - most }} more {{ fresh.length - most === 1 ? "is" : "are" }} open</RouterLink
      >
    </p>
    <p v-if="known.length" class="px-3 py-1 text-sm text-faint">
      <SeverityMark severity="risk" /> Acknowledged, not over yet: {{ [...new Set(known.map((e) => e.label))].join(", ") }}
    </p>
    <p v-if="silent.length" class="px-3 py-1 text-sm">
      <SeverityMark severity="risk" />
      <template v-if="silent.length === 1"
        ><strong class="mx-1">{{ names([silent[0]!.node]) }}</strong> silent for {{ lasted(now - silent[0]!.lastMs) }}</template
      ><template v-else> Silent: {{ names(silent.map((s) => s.node)) }}</template>
    </p>
    <AcknowledgeDialog v-if="taken" :episode="taken" @close="taken = undefined" />
  </section>
</template>

<script setup lang="ts">
/** Live figures, a day's line of each gauge, and the event lanes of motion and presence. */
import { computed, ref } from "vue";
import { useRoute } from "vue-router";
import { useSite } from "@/app/site";
import { connected } from "@/live/live";
import { useSiteTime } from "@/live/clock";
import AppButton from "@/kit/AppButton.vue";
import ChoiceStrip from "@/kit/ChoiceStrip.vue";
import EmptyState from "@/kit/EmptyState.vue";
import PageHead from "@/kit/PageHead.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import CompareDialog from "./CompareDialog.vue";
import DerivedList from "./DerivedList.vue";
import EventLanes from "./EventLanes.vue";
import ExportDialog from "./ExportDialog.vue";
import ImportDialog from "./ImportDialog.vue";
import NodeDialog from "./NodeMessages.vue";
import OutputsPanel from "./OutputsPanel.vue";
import ReadingTile from "./ReadingTile.vue";
import RelayLine from "./RelayLine.vue";
import SerialLines from "./SerialLines.vue";
import SetAsideDialog from "./SetAsideDialog.vue";
import StandIns from "./StandIns.vue";
import { useSession } from "@/app/session";
import { useReadings } from "./readings";
import ViewPage from "./views/ViewPage.vue";
import ViewStrip from "./views/ViewStrip.vue";

const site = useSite();
const { session } = useSession();
const { readings, loading, failed } = useReadings(site);
const now = useSiteTime(site);
const route = useRoute();
/** The view that is open; none shows all readings by node. */
const view = computed(() => String(route.params.node ?? ""));
const spanHours = ref(24);
const open = ref<string>();
const importing = ref(false);
const exporting = ref(false);
const comparing = ref(false);
const settingAside = ref(false);
const nodes = computed(() => (site.design.value?.nodes ?? []).filter((n) => n.readings.length));
const of = (node: string, gauge: boolean) =>
  readings.value.filter((r) => r.node === node && (r.kind === "gauge" || r.kind === "counter") === gauge);
const states = computed(() => readings.value.filter((r) => r.kind === "state" || r.kind === "event"));
</script>

<template>
  <PageHead title="Watch" asks="What is going on?">
    <span class="flex items-center gap-1.5 text-sm" role="status"
      ><SeverityMark :severity="connected ? 'fine' : 'risk'" />
      {{ connected ? "live" : "not connected: figures stand still" }}</span
    >
    <ChoiceStrip
      v-if="!view"
      v-model="spanHours"
      label="Stretch of time"
      :options="[1, 6, 24].map((h) => ({ value: h, label: `${h} h` }))"
    />
    <AppButton v-if="!view && readings.length > 1" class="min-h-11" @click="comparing = true">Compare</AppButton>
  </PageHead>
  <ViewStrip v-if="nodes.length || view" />
  <ViewPage v-if="view" :key="view" :view="view" />
  <p v-else-if="loading" class="text-faint" role="status">Loading the readings…</p>
  <p v-else-if="failed" role="alert">{{ failed }}</p>
  <EmptyState
    v-else-if="!nodes.length"
    title="Nothing to watch yet"
    text="Plan a node with readings; what it sends shows here by itself."
  >
    <RouterLink v-if="site.canWrite.value" :to="`/${site.key.value}/bench`" class="text-act underline">To the Bench</RouterLink>
  </EmptyState>
  <template v-else>
    <StandIns v-if="session?.demo && site.canWrite.value" class="mb-5" />
    <section v-for="n in nodes" :key="n.key" class="mb-6">
      <h2 class="mb-1 flex items-baseline gap-3 border-b border-rule pb-1 text-lg font-semibold">
        {{ n.label }}
        <AppButton kind="bare" small @click="open = n.key">Messages and key</AppButton>
      </h2>
      <div class="grid gap-x-6 gap-y-3 md:grid-cols-2">
        <ReadingTile v-for="r in of(n.key, true)" :key="r.key" :reading="r" :hours="spanHours" :now="now" />
      </div>
    </section>
    <DerivedList :readings="readings" :hours="spanHours" :now="now" />
    <OutputsPanel :now="now" />
    <EventLanes v-if="states.length" :readings="states" :hours="spanHours" class="mb-6" />
    <SerialLines />
    <section class="mb-4">
      <h2 class="mb-1 flex flex-wrap items-baseline gap-3 border-b border-rule pb-1 text-lg font-semibold">
        Tables
        <AppButton v-if="site.canWrite.value" kind="bare" small @click="importing = true">Import a table</AppButton>
        <AppButton kind="bare" small @click="exporting = true">Save a stretch as a file</AppButton>
        <AppButton v-if="site.canWrite.value && readings.length" kind="bare" small @click="settingAside = true"
          >Set a bad period aside</AppButton
        >
      </h2>
      <p v-if="site.canWrite.value" class="text-faint">
        What a storage card or a spreadsheet holds (CSV) is added to the readings; the same twice adds nothing, and the Log takes
        an import back.
      </p>
      <ExportDialog v-if="exporting" :now="now" @close="exporting = false" />
      <ImportDialog v-if="importing" @close="importing = false" />
      <SetAsideDialog v-if="settingAside" :readings="readings" :now="now" @close="settingAside = false" />
    </section>
    <RelayLine />
  </template>
  <CompareDialog v-if="comparing" :readings="readings" @close="comparing = false" />
  <NodeDialog v-if="open" :node="open" @close="open = undefined" />
</template>

<script setup lang="ts">
/** The shell around a site: rail, header, sheet and margin; shortcuts; live updates. */
import { computed, onScopeDispose, ref, toRef, watchEffect } from "vue";
import { useRoute } from "vue-router";
import { useLive } from "@/live/live";
import NoticeBar from "@/kit/NoticeBar.vue";
import OpenStrip from "@/stations/alerts/OpenStrip.vue";
import { useEpisodes } from "@/stations/alerts/episodes";
import ClockNotice from "./ClockNotice.vue";
import FindBox from "./FindBox.vue";
import HeaderBar from "./HeaderBar.vue";
import SheetMargin from "./SheetMargin.vue";
import ShortcutList from "./ShortcutList.vue";
import { useShortcuts } from "./shortcuts";
import { provideSite } from "./site";
import StationRail from "./StationRail.vue";
import { stations } from "./stations";

const route = useRoute();
const context = provideSite(toRef(() => String(route.params.site)));
const finding = ref(false);
const listing = ref(false);
useLive(context);
useShortcuts({ context, find: () => (finding.value = true), list: () => (listing.value = true) });
const station = computed(() => String(route.meta.station));
/** Of the node in hand; of all where the page shows the whole site. */
const findings = computed(() =>
  context.findings(station.value, route.params.node && route.query.view !== "site" ? String(route.params.node) : undefined),
);
/** What the checks of each station look at; bring-up, watch and log have none. */
const judged = computed(() => {
  const design = context.design.value;
  if (!design) return false;
  const nodes = route.params.node ? design.nodes.filter((n) => n.key === route.params.node) : design.nodes;
  switch (station.value) {
    case "place":
      return design.place.rooms.length > 0;
    case "bench":
      return nodes.some((n) => n.parts.length > 0);
    case "rhythm":
      return nodes.some((n) => n.readings.length > 0);
    case "reach":
      return design.nodes.length > 0;
    case "alerts":
      return design.rules.length > 0 || !!design.zones?.length;
    default:
      return false;
  }
});
/** What is open is seen in the tab too, whatever page it is on. */
const { open } = useEpisodes(context);
const fresh = computed(() => open.value.filter((e) => e.acknowledgedMs === null).length);
watchEffect(() => {
  const at = stations.find((s) => s.key === station.value)?.name;
  const named = [at, context.design.value?.settings.name, "Cenotic"].filter(Boolean).join(" · ");
  document.title = fresh.value ? `(${fresh.value}) ${named}` : named;
});
onScopeDispose(() => (document.title = "Cenotic"));
</script>

<template>
  <div v-if="route.meta.bare"><slot v-if="context.site.value" /></div>
  <div v-else class="flex min-h-screen flex-col md:flex-row">
    <a href="#sheet" class="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-sheet focus:p-2">To the sheet</a>
    <StationRail class="print:hidden" :open="fresh" />
    <div class="flex min-w-0 flex-1 flex-col">
      <HeaderBar class="print:hidden" @find="finding = true" @list="listing = true" />
      <div class="flex min-w-0 flex-1">
        <main id="sheet" class="min-w-0 flex-1 p-3 pb-32 md:p-5" tabindex="-1">
          <ClockNotice v-if="context.site.value" />
          <OpenStrip v-if="context.site.value && station !== 'alerts'" />
          <p v-if="context.loading.value" class="text-faint" role="status">Loading the site…</p>
          <div v-else-if="context.failed.value" role="alert" class="flex flex-col items-start gap-2">
            <p>{{ context.failed.value }}</p>
            <RouterLink to="/" class="text-act underline">To your sites</RouterLink>
          </div>
          <slot v-else />
        </main>
        <div class="contents print:hidden"><SheetMargin :findings="findings" :judged="judged" /></div>
      </div>
    </div>
    <FindBox :open="finding" @close="finding = false" />
    <ShortcutList :open="listing" @close="listing = false" />
    <NoticeBar class="print:hidden" @undo="context.undo" />
  </div>
</template>

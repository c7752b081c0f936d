<script setup lang="ts">
/** What was decided, built and measured; what is due; and whether the cells last as planned. */
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { api, answer } from "@/api/client";
import { useSite } from "@/app/site";
import PageHead from "@/kit/PageHead.vue";
import ViewTabs from "@/kit/ViewTabs.vue";
import CellsList from "./CellsList.vue";
import DueList from "./DueList.vue";
import LogEntries from "./LogEntries.vue";

const site = useSite();
const zone = computed(() => site.design.value?.settings.timeZone ?? "UTC");
const views = [
  { key: "entries", name: "Entries" },
  { key: "due", name: "Due" },
  { key: "cells", name: "Cells" },
];
const query = useQuery({
  queryKey: ["maintenance", site.key, computed(() => site.site.value?.revision)],
  placeholderData: (old) => old,
  refetchInterval: 60_000,
  queryFn: () => answer(api.GET("/api/sites/{site}/maintenance", { params: { path: { site: site.key.value } } })),
});
const kept = computed(() => query.data.value);
</script>

<template>
  <PageHead title="Log" asks="What did I build, change, calibrate, replace, and was I right?" />
  <ViewTabs :views="views">
    <template #entries><LogEntries /></template>
    <template #due>
      <p v-if="query.error.value" role="alert">{{ query.error.value.message }}</p>
      <DueList
        v-if="kept"
        class="max-w-3xl"
        :items="kept.items"
        :now-ms="kept.nowMs"
        :soon-ms="kept.soonMs ?? kept.nowMs"
        :zone="zone"
        :feed="kept.feed"
      />
    </template>
    <template #cells>
      <p v-if="query.error.value" role="alert">{{ query.error.value.message }}</p>
      <p v-if="kept && !kept.batteries.length" class="text-faint">No node of this site runs on cells.</p>
      <CellsList v-else-if="kept" :batteries="kept.batteries" :now-ms="kept.nowMs" :zone="zone" />
    </template>
  </ViewTabs>
</template>

<script setup lang="ts">
/** What stands now, rules as sentences, zones that are armed, and the people who are told. */
import { computed, ref } from "vue";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import PageHead from "@/kit/PageHead.vue";
import ViewTabs from "@/kit/ViewTabs.vue";
import EpisodeList from "./EpisodeList.vue";
import PeopleList from "./PeopleList.vue";
import RuleDialog from "./RuleDialog.vue";
import RuleList from "./RuleList.vue";
import ZoneList from "./ZoneList.vue";

const site = useSite();
const adding = ref(false);
const hasReadings = computed(() => (site.design.value?.nodes ?? []).some((n) => n.readings.length));
const views = [
  { key: "episodes", name: "Episodes" },
  { key: "rules", name: "Rules" },
  { key: "zones", name: "Zones" },
  { key: "people", name: "People" },
];
</script>

<template>
  <PageHead title="Alerts" asks="When do I want to be told, and when not?">
    <AppButton v-if="site.canWrite.value && hasReadings" kind="lead" data-new @click="adding = true">New rule</AppButton>
  </PageHead>
  <ViewTabs :views="views">
    <template #episodes><EpisodeList /></template>
    <template #rules><RuleList /></template>
    <template #zones><ZoneList /></template>
    <template #people><PeopleList /></template>
  </ViewTabs>
  <RuleDialog v-if="adding" @close="adding = false" />
</template>

<script setup lang="ts">
/** What stands now, rules as sentences, zones that are armed, and the people who are told. */
import PageHead from "@/kit/PageHead.vue";
import ViewTabs from "@/kit/ViewTabs.vue";
import EpisodeList from "./EpisodeList.vue";
import PeopleList from "./PeopleList.vue";
import RuleList from "./RuleList.vue";
import ZoneList from "./ZoneList.vue";

const views = [
  { key: "episodes", name: "Episodes" },
  { key: "rules", name: "Rules" },
  { key: "zones", name: "Zones" },
  { key: "people", name: "People" },
];
</script>

<template>
  <PageHead title="Alerts" asks="When do I want to be told, and when not?" />
  <ViewTabs :views="views">
    <template #episodes><EpisodeList /></template>
    <template #rules><RuleList /></template>
    <template #zones><ZoneList /></template>
    <template #people><PeopleList /></template>
  </ViewTabs>
</template>

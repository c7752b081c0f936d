<script setup lang="ts">
/** Is what was soldered and flashed what was planned: build steps, the node's program, scans of its buses, its first readings, its calibrations, how far it is heard, its label. */
import { computed } from "vue";
import { useSite } from "@/app/site";
import EmptyState from "@/kit/EmptyState.vue";
import PageHead from "@/kit/PageHead.vue";
import ViewTabs from "@/kit/ViewTabs.vue";
import NodeTabs from "../bench/NodeTabs.vue";
import { useNodeInHand } from "../bench/node";
import BuildSteps from "./BuildSteps.vue";
import BusScans from "./BusScans.vue";
import CalibrationList from "./CalibrationList.vue";
import FirstReadings from "./FirstReadings.vue";
import NodeLabel from "./NodeLabel.vue";
import NodeProgram from "./NodeProgram.vue";
import RangeWalk from "./RangeWalk.vue";

const site = useSite();
const { node, plan } = useNodeInHand("bring-up");
const zone = computed(() => site.design.value?.settings.timeZone ?? "UTC");
const views = [
  { key: "build", name: "Build" },
  { key: "program", name: "Program" },
  { key: "scan", name: "Scan" },
  { key: "first", name: "First readings" },
  { key: "calibration", name: "Calibration" },
  { key: "walk", name: "Range walk" },
  { key: "label", name: "Label" },
];
</script>

<template>
  <div class="print:hidden">
    <PageHead title="Bring-up" asks="Is what I soldered what I planned? Does it measure true?" />
    <NodeTabs station="bring-up" />
    <EmptyState
      v-if="!site.design.value?.nodes.length"
      title="No nodes yet"
      text="Plan a node at the Bench; how to build it, and whether it is what was planned, is worked out here."
    >
      <RouterLink :to="`/${site.key.value}/bench`" class="text-act underline">To the Bench</RouterLink>
    </EmptyState>
    <ViewTabs v-else-if="node && plan" :key="node.key" :views="views">
      <template #build><BuildSteps :node="node" :zone="zone" /></template>
      <template #program><NodeProgram :node="node" :zone="zone" /></template>
      <template #scan><BusScans :node="node" :plan="plan" :zone="zone" /></template>
      <template #first><FirstReadings :node="node" :zone="zone" /></template>
      <template #calibration><CalibrationList :node="node" :zone="zone" /></template>
      <template #walk><RangeWalk :node="node" :zone="zone" /></template>
      <template #label><NodeLabel :node="node" /></template>
    </ViewTabs>
  </div>
</template>

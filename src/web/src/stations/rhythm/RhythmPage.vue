<script setup lang="ts">
/** When a node reads and sends, what that costs, how long it lasts, and how the nodes fit together in time. */
import { computed } from "vue";
import { useRoute } from "vue-router";
import { useSite } from "@/app/site";
import EmptyState from "@/kit/EmptyState.vue";
import FigureView from "@/kit/FigureView.vue";
import PageHead from "@/kit/PageHead.vue";
import ViewTabs from "@/kit/ViewTabs.vue";
import { duration } from "@/kit/format";
import NodeTabs from "../bench/NodeTabs.vue";
import { useNodeInHand } from "../bench/node";
import AirView from "./AirView.vue";
import CycleView from "./CycleView.vue";
import LifeView from "./LifeView.vue";
import LightView from "./LightView.vue";
import SiteView from "./SiteView.vue";

const site = useSite();
const route = useRoute();
const { node, plan: whole } = useNodeInHand("rhythm");
const plan = computed(() => whole.value?.rhythm);
const views = [
  { key: "cycle", name: "Cycle and readings" },
  { key: "life", name: "Life and radios" },
  { key: "light", name: "Light" },
  { key: "air", name: "Sending" },
  { key: "site", name: "Whole site", apart: true },
];
</script>

<template>
  <PageHead title="Rhythm" asks="How often do I read and send, and how long does the battery last?" />
  <NodeTabs station="rhythm" />
  <EmptyState
    v-if="!site.design.value?.nodes.length"
    title="No nodes yet"
    text="Add a node at the Bench; its rhythm is worked out from its parts."
  >
    <RouterLink :to="`/${site.key.value}/bench`" class="text-act underline">To the Bench</RouterLink>
  </EmptyState>
  <template v-else-if="node && plan">
    <dl v-if="route.query.view !== 'site'" class="mb-3 flex flex-wrap gap-x-10 gap-y-3">
      <div v-if="plan.life">
        <dt class="caps">{{ plan.life.label }}</dt>
        <dd><FigureView :figure="plan.life" big band /></dd>
      </div>
      <div>
        <dt class="caps">Average current</dt>
        <dd><FigureView :figure="plan.average" :big="!plan.life" band /></dd>
      </div>
      <div>
        <dt class="caps">Charge a cycle</dt>
        <dd><FigureView :figure="plan.charge" band /></dd>
      </div>
      <div>
        <dt class="caps">Cycle</dt>
        <dd class="mono">{{ duration(plan.periodMs) }}</dd>
        <dd class="text-sm text-faint">{{ plan.sleeps ? "asleep in between" : "always on" }}</dd>
      </div>
      <div>
        <dt class="caps">Sends</dt>
        <dd class="mono">{{ plan.sendEveryMs === null ? "on change" : `every ${duration(plan.sendEveryMs)}` }}</dd>
      </div>
    </dl>
    <ViewTabs :views="views">
      <template #cycle><CycleView :node="node" :plan="plan" /></template>
      <template #life><LifeView :node="node" :plan="plan" /></template>
      <template #light><LightView :node="node" :plan="plan" /></template>
      <template #air><AirView :node="node" /></template>
      <template #site><SiteView /></template>
    </ViewTabs>
  </template>
</template>

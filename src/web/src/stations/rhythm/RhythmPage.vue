<script setup lang="ts">
/** When a node reads and sends, what that costs, how long it lasts, and how the nodes fit together in time. */
import { Tab, TabGroup, TabList, TabPanel, TabPanels } from "@headlessui/vue";
import { computed } from "vue";
import { useRoute, useRouter } from "vue-router";
import { useSite } from "@/app/site";
import EmptyState from "@/kit/EmptyState.vue";
import FigureView from "@/kit/FigureView.vue";
import PageHead from "@/kit/PageHead.vue";
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
const router = useRouter();
const { node, plan: whole } = useNodeInHand("rhythm");
const plan = computed(() => whole.value?.rhythm);
const views = ["cycle", "life", "light", "air", "site"] as const;
const names = { cycle: "Cycle and readings", life: "Life and radios", light: "Light", air: "Sending", site: "Whole site" };
const view = computed({
  get: () => Math.max(0, views.indexOf((route.query.view as (typeof views)[number]) ?? "cycle")),
  set: (at: number) => void router.replace({ query: at === 0 ? {} : { view: views[at] } }),
});
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
    <dl v-if="views[view] !== 'site'" class="mb-3 flex flex-wrap gap-x-10 gap-y-3">
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
    <TabGroup :selected-index="view" @change="(at?: number) => (view = at ?? 0)">
      <TabList class="mb-3 flex gap-1 overflow-x-auto border-b border-rule">
        <Tab v-for="v in views" :key="v" v-slot="{ selected }" as="template">
          <button
            class="min-h-9 shrink-0 border-b-2 px-3"
            :class="[
              selected ? 'border-act font-semibold' : 'border-transparent text-faint hover:text-act',
              v === 'site' ? 'ml-auto' : '',
            ]"
          >
            {{ names[v] }}
          </button>
        </Tab>
      </TabList>
      <TabPanels>
        <TabPanel tabindex="-1"><CycleView :node="node" :plan="plan" /></TabPanel>
        <TabPanel tabindex="-1"><LifeView :node="node" :plan="plan" /></TabPanel>
        <TabPanel tabindex="-1"><LightView :node="node" :plan="plan" /></TabPanel>
        <TabPanel tabindex="-1"><AirView :node="node" /></TabPanel>
        <TabPanel tabindex="-1"><SiteView /></TabPanel>
      </TabPanels>
    </TabGroup>
  </template>
</template>

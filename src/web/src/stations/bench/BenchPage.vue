<script setup lang="ts">
/** The bench of a node, seen as wires, as buses, as supply, as parts to buy, or on another board. */
import { Tab, TabGroup, TabList, TabPanel, TabPanels } from "@headlessui/vue";
import { computed, ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import EmptyState from "@/kit/EmptyState.vue";
import PageHead from "@/kit/PageHead.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import BoardsView from "./BoardsView.vue";
import CatalogueDialog from "./CatalogueDialog.vue";
import ExportMenu from "./ExportMenu.vue";
import NodeDialog from "./NodeDialog.vue";
import NodeTabs from "./NodeTabs.vue";
import PartDialog from "./PartDialog.vue";
import PartsListView from "./PartsListView.vue";
import PowerView from "./PowerView.vue";
import PrintSheet from "./PrintSheet.vue";
import StructureView from "./StructureView.vue";
import WiresView from "./WiresView.vue";
import { useNodeInHand } from "./node";

const site = useSite();
const route = useRoute();
const router = useRouter();
const { node, plan: whole } = useNodeInHand("bench");
const plan = computed(() => whole.value?.bench);
const board = computed(() => site.catalogue.value?.boards.find((b) => b.id === node.value?.board));
const dialog = ref<"node" | "settings" | "part" | "catalogue">();
const views = ["wires", "structure", "power", "parts", "boards"] as const;
const names = { wires: "Wires", structure: "Structure", power: "Power", parts: "Parts and cost", boards: "Other boards" };
const view = computed({
  get: () => Math.max(0, views.indexOf((route.query.view as (typeof views)[number]) ?? "wires")),
  set: (at: number) => void router.replace({ query: at === 0 ? {} : { view: views[at] } }),
});
const count = (n: number, one: string, many = one + "s") => `${n} ${n === 1 ? one : many}`;

async function removeNode() {
  if (!node.value) return;
  await site.apply(`${node.value.label} removed with its ${node.value.parts.length} parts`, [
    { kind: "removeNode", node: node.value.key },
  ]);
}
</script>

<template>
  <div class="print:hidden">
    <PageHead title="Bench" asks="Which pin for what, what between, will the supply hold?">
      <AppButton v-if="site.canWrite.value && node" kind="lead" data-new @click="dialog = 'part'">Add a part</AppButton>
      <AppButton v-if="site.canWrite.value" @click="dialog = 'node'">New node</AppButton>
      <AppButton @click="dialog = 'catalogue'">Catalogue</AppButton>
      <ExportMenu v-if="node && plan && board" :node="node.key" />
    </PageHead>
    <NodeTabs station="bench" />
    <EmptyState
      v-if="!site.design.value?.nodes.length"
      title="No nodes yet"
      text="A node is a board with its parts. Choose a board; pins, buses, addresses and resistors are worked out as you add parts."
    >
      <AppButton v-if="site.canWrite.value" kind="lead" @click="dialog = 'node'">New node</AppButton>
    </EmptyState>
    <template v-else-if="node && plan">
      <p class="mb-2 flex flex-wrap items-center gap-x-4 gap-y-1">
        <strong>{{ board?.label ?? node.board }}</strong>
        <SeverityMark :severity="plan.complete ? 'fine' : 'stop'" word />
        <span v-if="plan.complete"
          >Every part is served: {{ count(plan.wires.length, "wire") }}, {{ count(plan.components.length, "addition") }},
          {{ count(plan.cost.splices ?? 0, "bus splice") }}.</span
        >
        <span v-else>Not every part can be served; the margin says why. The rest is planned.</span>
        <template v-if="site.canWrite.value">
          <AppButton small @click="dialog = 'settings'">Board, supply, radio</AppButton>
          <AppButton small @click="removeNode">Remove the node</AppButton>
        </template>
      </p>
      <TabGroup :selected-index="view" @change="(at?: number) => (view = at ?? 0)">
        <TabList class="mb-3 flex gap-1 overflow-x-auto border-b border-rule">
          <Tab v-for="v in views" :key="v" v-slot="{ selected }" as="template">
            <button
              class="min-h-9 shrink-0 border-b-2 px-3"
              :class="selected ? 'border-act font-semibold' : 'border-transparent text-faint hover:text-act'"
            >
              {{ names[v] }}
            </button>
          </Tab>
        </TabList>
        <TabPanels>
          <TabPanel tabindex="-1"><WiresView :node="node" :plan="plan" :board="board" @add="dialog = 'part'" /></TabPanel>
          <TabPanel tabindex="-1"><StructureView :node="node" :plan="plan" :board="board" /></TabPanel>
          <TabPanel tabindex="-1"><PowerView :node="node" :plan="plan" /></TabPanel>
          <TabPanel tabindex="-1"><PartsListView :node="node" /></TabPanel>
          <TabPanel tabindex="-1"><BoardsView :node="node" /></TabPanel>
        </TabPanels>
      </TabGroup>
    </template>
  </div>
  <PrintSheet v-if="node && plan && board" :node="node" :plan="plan" :board="board" />
  <NodeDialog
    v-if="dialog === 'node' || (dialog === 'settings' && node)"
    :node="dialog === 'settings' ? node : undefined"
    @close="dialog = undefined"
  />
  <PartDialog v-if="dialog === 'part' && node" :node="node" @close="dialog = undefined" />
  <CatalogueDialog v-if="dialog === 'catalogue'" @close="dialog = undefined" />
</template>

<script setup lang="ts">
/** The bench of a node, seen as wires, as a circuit, as buses, as supply, as parts to buy, or on another board. */
import { computed, ref } from "vue";
import { useRouter } from "vue-router";
import { duplicate } from "@/app/duplicate";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import EmptyState from "@/kit/EmptyState.vue";
import PageHead from "@/kit/PageHead.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import ViewTabs from "@/kit/ViewTabs.vue";
import BoardsView from "./BoardsView.vue";
import CircuitView from "./CircuitView.vue";
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
const router = useRouter();
const { node, plan: whole } = useNodeInHand("bench");
const plan = computed(() => whole.value?.bench);
const board = computed(() => site.catalogue.value?.boards.find((b) => b.id === node.value?.board));
/** The worst that is said of this node's bench: never "fine" beside a stop. */
const worst = computed(() => {
  const found = node.value ? site.findings("bench", node.value.key).map((f) => f.severity) : [];
  return !plan.value?.complete || found.includes("stop") ? "stop" : found.includes("risk") ? "risk" : "fine";
});
const dialog = ref<"node" | "settings" | "part" | "catalogue">();
const views = [
  { key: "wires", name: "Wires" },
  { key: "circuit", name: "Circuit" },
  { key: "structure", name: "Structure" },
  { key: "power", name: "Power" },
  { key: "parts", name: "Parts and cost" },
  { key: "boards", name: "Other boards" },
];
const count = (n: number, one: string, many = one + "s") => `${n} ${n === 1 ? one : many}`;

async function another() {
  const key = node.value && (await duplicate(site, "node", node.value.key));
  if (key) await router.push(`/${site.key.value}/bench/${key}`);
}
async function removeNode() {
  if (!node.value) return;
  const { label, parts, readings, key } = node.value;
  const gone = `${label} removed with ${count(parts.length, "part")}, ${count(readings.length, "reading")} and its key`;
  await site.apply(`${gone}; its samples stay, and the Log can bring it back`, [{ kind: "removeNode", node: key }]);
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
        <SeverityMark :severity="worst" word />
        <span v-if="plan.complete"
          >Every part is served: {{ count(plan.wires.filter((w) => w.form === "wire").length, "wire") }},
          {{ count(plan.additions.length, "addition") }}, {{ count(plan.cost.splices ?? 0, "bus splice") }}.<template
            v-if="worst === 'stop'"
          >
            Do not solder yet: the margin says what stops it.</template
          ></span
        >
        <span v-else>Not every part can be served; the margin says why. The rest is planned.</span>
        <template v-if="site.canWrite.value">
          <AppButton small @click="dialog = 'settings'">Board, supply, radio</AppButton>
          <AppButton small :aria-label="`Duplicate ${node.label}`" @click="another">Duplicate</AppButton>
          <AppButton small aria-label="Remove the node" @click="removeNode">Remove</AppButton>
        </template>
      </p>
      <ViewTabs :views="views">
        <template #wires><WiresView :node="node" :plan="plan" :board="board" @add="dialog = 'part'" /></template>
        <template #circuit><CircuitView :node="node" :plan="plan" /></template>
        <template #structure><StructureView :node="node" :plan="plan" :board="board" /></template>
        <template #power><PowerView :node="node" :plan="plan" /></template>
        <template #parts><PartsListView :node="node" /></template>
        <template #boards><BoardsView :node="node" /></template>
      </ViewTabs>
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

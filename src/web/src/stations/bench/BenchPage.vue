<script setup lang="ts">
/** The bench of a node: board and pins, parts, wiring table, components, buses and rails. */
import { computed, ref } from "vue";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import EmptyState from "@/kit/EmptyState.vue";
import PageHead from "@/kit/PageHead.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import NodeDialog from "./NodeDialog.vue";
import NodeTabs from "./NodeTabs.vue";
import PartDialog from "./PartDialog.vue";
import PartsTable from "./PartsTable.vue";
import PinComb from "./PinComb.vue";
import SupplyPanel from "./SupplyPanel.vue";
import WiringTable from "./WiringTable.vue";
import { useWires } from "./wires";
import { useNodeInHand } from "./node";

const site = useSite();
const { node, plan: whole } = useNodeInHand("bench");
const plan = computed(() => whole.value?.bench);
const board = computed(() => site.catalogue.value?.boards.find((b) => b.id === node.value?.board));
const dialog = ref<"node" | "settings" | "part">();
const wires = useWires(node, plan);
const added = computed(() => plan.value?.components ?? []);

async function removeNode() {
  if (!node.value) return;
  await site.apply(`${node.value.label} removed with its ${node.value.parts.length} parts`, [
    { kind: "removeNode", node: node.value.key },
  ]);
}
</script>

<template>
  <PageHead title="Bench" asks="Which board, which parts, which pin for what, what between them, will the supply hold?">
    <template v-if="site.canWrite.value">
      <AppButton v-if="node" kind="lead" data-new @click="dialog = 'part'">Add a part</AppButton>
      <AppButton @click="dialog = 'node'">New node</AppButton>
    </template>
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
    <p class="mb-3 flex flex-wrap items-center gap-x-4 gap-y-1">
      <strong>{{ board?.label ?? node.board }}</strong>
      <SeverityMark v-if="plan.complete" severity="fine" word />
      <SeverityMark v-else severity="stop" word />
      <span v-if="plan.complete"
        >Every part is served, with {{ plan.wires.length }} wires, {{ added.length }}
        {{ added.length === 1 ? "addition" : "additions" }} and {{ plan.cost.splices }}
        {{ plan.cost.splices === 1 ? "splice" : "splices" }}.</span
      >
      <span v-else>Not every part can be served; the margin says why. The rest is planned.</span>
      <template v-if="site.canWrite.value">
        <AppButton small @click="dialog = 'settings'">Board, supply, radio</AppButton>
        <AppButton small @click="removeNode">Remove the node</AppButton>
      </template>
    </p>
    <div class="grid grid-cols-1 gap-6 2xl:grid-cols-[minmax(0,34rem)_minmax(0,1fr)]">
      <PinComb
        v-if="board"
        v-model:chosen="wires.chosen.value"
        :board="board"
        :plan="plan"
        :node="node"
        :offers="wires.choices.value?.offers"
      />
      <div class="flex min-w-0 flex-col gap-6">
        <PartsTable :node="node" :plan="plan" @add="dialog = 'part'" />
        <WiringTable :node="node" :plan="plan" :wires="wires" />
        <section v-if="added.length">
          <h2 class="mb-1 text-lg font-semibold">To be added</h2>
          <SupplyPanel :plan="plan" part="components" />
        </section>
        <section>
          <h2 class="mb-1 text-lg font-semibold">Rails and buses</h2>
          <SupplyPanel :plan="plan" part="rails" />
        </section>
      </div>
    </div>
  </template>
  <NodeDialog
    v-if="dialog === 'node' || (dialog === 'settings' && node)"
    :node="dialog === 'settings' ? node : undefined"
    @close="dialog = undefined"
  />
  <PartDialog v-if="dialog === 'part' && node" :node="node" @close="dialog = undefined" />
</template>

<script setup lang="ts">
/** The pin comb with the lines of helper modules, the parts, the wiring table, what is added, and where wires join. */
import { computed, toRef } from "vue";
import type { BenchPlan, Board, NodeDesign } from "@/api/client";
import HelperComb from "./HelperComb.vue";
import PartsTable from "./PartsTable.vue";
import PinComb from "./PinComb.vue";
import SplicePlan from "./SplicePlan.vue";
import SupplyPanel from "./SupplyPanel.vue";
import TrialNote from "./TrialNote.vue";
import WiringTable from "./WiringTable.vue";
import { useWires } from "./wires";

const props = defineProps<{ node: NodeDesign; plan: BenchPlan; board?: Board }>();
defineEmits<{ add: [] }>();
const wires = useWires(toRef(props, "node"), toRef(props, "plan"));
const helpers = computed(() => props.plan.helpers);
</script>

<template>
  <TrialNote :wires="wires" />
  <div class="grid grid-cols-1 gap-6 lg:grid-cols-[minmax(0,26rem)_minmax(0,1fr)] 2xl:grid-cols-[minmax(0,34rem)_minmax(0,1fr)]">
    <div class="flex min-w-0 flex-col gap-4 lg:sticky lg:top-14 lg:max-h-[calc(100vh-4rem)] lg:self-start lg:overflow-y-auto">
      <PinComb v-if="board" v-model:chosen="wires.chosen.value" :board="board" :plan="plan" :node="node" :wires="wires" />
      <HelperComb v-for="h in helpers" :key="h.part" :helper="h" :plan="plan" :node="node" :wires="wires" />
    </div>
    <div class="flex min-w-0 flex-col gap-6">
      <WiringTable :node="node" :plan="plan" :wires="wires" />
      <PartsTable :node="node" :plan="plan" @add="$emit('add')" />
      <section v-if="plan.additions.length">
        <h2 class="mb-1 text-lg font-semibold">To be added</h2>
        <SupplyPanel :plan="plan" part="additions" />
      </section>
      <SplicePlan v-if="plan.splices.length" :plan="plan" />
    </div>
  </div>
</template>

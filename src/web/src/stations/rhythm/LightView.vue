<script setup lang="ts">
/** What a light cell brings in each month against what the node uses, and what its storage capacitor carries. */
import { computed, ref } from "vue";
import type { NodeDesign, RhythmPlan } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import EmptyState from "@/kit/EmptyState.vue";
import FigureView from "@/kit/FigureView.vue";
import { amount, number } from "@/kit/format";
import { setNode } from "../bench/node-edits";
import LightDialog from "./LightDialog.vue";
import MonthBalance from "./MonthBalance.vue";

const props = defineProps<{ node: NodeDesign; plan: RhythmPlan }>();
const site = useSite();
const editing = ref(false);
const light = computed(() => props.node.power.harvest);
const harvest = computed(() => props.plan.harvest);
const figures = computed(() => {
  const h = harvest.value;
  return h ? [h.use, h.burst, h.smallestCapacitor, h.bursts, h.interval, h.dark].filter((f) => f !== null) : [];
});
const fillable = computed(() => ["cells", "capacitor"].includes(props.node.power.kind));
const stored = computed(() =>
  light.value?.capacitorMicrofarads == null ? "" : amount(light.value.capacitorMicrofarads, "µF").join(" "),
);
const source = computed(() => {
  const l = light.value;
  if (!l) return "";
  if (l.light === "sun") return `the sun at ${number(l.latitudeDegrees ?? 0)}° latitude`;
  return l.light === "lamp" ? `a lamp: ${number(l.lux ?? 0)} lx for ${number(l.hoursPerDay ?? 0)} h a day` : "a table by month";
});

async function takeOff() {
  await site.apply("Light cell taken off", [setNode(props.node, { power: { ...props.node.power, harvest: null } })]);
}
</script>

<template>
  <EmptyState
    v-if="!light || !harvest"
    title="No light cell"
    :text="
      fillable
        ? 'With a light cell the balance of each month is worked out: what the light brings, what the node uses, and how long it lasts in the dark.'
        : 'A light cell fills cells or a storage capacitor. Choose one of them as the supply at the Bench first.'
    "
  >
    <AppButton v-if="site.canWrite.value && fillable" kind="lead" @click="editing = true">Add a light cell</AppButton>
    <RouterLink v-else-if="!fillable" :to="`/${site.key.value}/bench/${node.key}`" class="text-act underline"
      >To the Bench</RouterLink
    >
  </EmptyState>
  <template v-else>
    <p class="mb-3 flex flex-wrap items-center gap-x-4 gap-y-1">
      <span
        >A light cell of <span class="mono">{{ number(light.areaSquareCm) }} cm²</span> with
        <span class="mono">{{ number(light.efficiencyPercent) }} %</span>, under {{ source }}{{ stored ? ", fills" : "" }}
        <template v-if="stored"
          ><span class="mono">{{ stored }}</span> from <span class="mono">{{ light.stopVolts }}</span> to
          <span class="mono">{{ light.startVolts }} V</span></template
        >.</span
      >
      <template v-if="site.canWrite.value">
        <AppButton small @click="editing = true">Change it</AppButton>
        <AppButton v-if="node.power.kind === 'cells'" small @click="takeOff">Take it off</AppButton>
      </template>
    </p>
    <h2 class="mb-1 text-lg font-semibold">A day of each month</h2>
    <MonthBalance :harvest="harvest" />
    <h2 class="mt-5 mb-1 text-lg font-semibold">Figures</h2>
    <table class="grid-table max-w-2xl">
      <tbody>
        <tr v-for="f in figures" :key="f.label">
          <td>{{ f.label }}</td>
          <td class="text-right"><FigureView :figure="f" band /></td>
        </tr>
      </tbody>
    </table>
    <p class="mt-2 text-sm text-faint">
      A lithium cell must not be charged below 0 °C or above 45 °C; the charger must know. Storage capacitors give their charge at
      once when shorted: discharge them through a resistor before you solder.
    </p>
  </template>
  <LightDialog v-if="editing" :node="node" @close="editing = false" />
</template>

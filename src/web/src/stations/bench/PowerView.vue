<script setup lang="ts">
/** The supply from its source to the rails: what each carries, what to choose, and what protects it. */
import { computed, ref } from "vue";
import type { BenchPlan, NodeDesign, PowerDesign } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import FigureView from "@/kit/FigureView.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import SupplyPanel from "./SupplyPanel.vue";
import { setNode } from "./node-edits";
import { supplyNames } from "./power";

const props = defineProps<{ node: NodeDesign; plan: BenchPlan }>();
const site = useSite();
const power = computed(() => props.node.power);
const higher = computed(() => ["twelveVolt", "twentyFourVolt"].includes(power.value.kind));
const cells = computed(() => power.value.kind === "cells");
const what = computed(
  () =>
    (cells.value ? site.catalogue.value?.cells.find((c) => c.id === power.value.cell)?.label : supplyNames[power.value.kind]) ??
    power.value.kind,
);
const modules = computed(() => [
  { value: null as string | null | undefined, label: "none" },
  ...(site.catalogue.value?.supplies ?? []).filter((s) => s.kind === "stepDown").map((s) => ({ value: s.id, label: s.label })),
]);
const chargers = computed(() => [
  { value: null as string | null | undefined, label: "none" },
  ...(site.catalogue.value?.supplies ?? []).filter((s) => s.kind === "charger").map((s) => ({ value: s.id, label: s.label })),
]);
const ticks = computed(
  () =>
    [
      {
        key: "reverseGuard",
        label: "Diode or MOSFET against a reversed supply",
        show: higher.value || power.value.kind === "fiveVolt",
      },
      { key: "surgeGuard", label: "Clamps and filters at the long cables", show: true },
      { key: "alsoUsb", label: "USB is plugged in beside it now and then", show: power.value.kind !== "usb" },
      {
        key: "vehicle",
        label: "The battery of a vehicle: charged with up to 14.8 V for each 12 V, with spikes",
        show: higher.value,
      },
      { key: "backfeedGuard", label: "A diode keeps the two apart", show: power.value.alsoUsb },
      { key: "cellCutOff", label: "Protected cell, or a protection board", show: cells.value },
      { key: "chargerMeasuresCell", label: "The charger measures the cell's temperature", show: !!power.value.charger },
      { key: "twelveVoltStepUp", label: "Step-up module to 12 V for a load", show: power.value.kind !== "usb" },
    ].filter((t) => t.show) as { key: keyof PowerDesign; label: string }[],
);

const railVolts = ref<number>();
const railModule = ref<string>();
const railModules = computed(() =>
  (site.catalogue.value?.supplies ?? [])
    .filter((s) => (s.kind === "stepDown" && s.outputMinVolts < s.outputMaxVolts) || s.kind === "stepUp")
    .map((s) => ({ value: s.id as string | undefined, label: s.label })),
);
const moduleLabel = (id: string) => site.catalogue.value?.supplies.find((s) => s.id === id)?.label ?? id;

interface NumberField {
  key: "leadMetres" | "leadAwg" | "ratedAmps" | "fuseAmps";
  label: string;
  changed: string;
  show: boolean;
  min?: number;
  max?: number;
  /** Without a number the usual one of its kind holds. */
  usual?: boolean;
  /** What an emptied field stands for; nothing when left out. */
  empty?: number;
}
const numbers = computed(() =>
  (
    [
      { key: "leadMetres", label: "Cable from the source, m", changed: "Supply cable changed", show: true, empty: 0 },
      { key: "leadAwg", label: "Gauge, AWG", changed: "Gauge changed", show: true, min: 8, max: 32 },
      {
        key: "ratedAmps",
        label: "Rated, A",
        changed: "Rating of the supply changed",
        show: ["usb", "fiveVolt", "twelveVolt", "twentyFourVolt"].includes(power.value.kind),
        usual: true,
      },
      { key: "fuseAmps", label: "Fuse, A", changed: "Fuse changed", show: higher.value },
    ] satisfies NumberField[] as NumberField[]
  ).filter((n) => n.show),
);

async function set(change: Partial<PowerDesign>, label: string) {
  await site.apply(label, [setNode(props.node, { power: { ...props.node.power, ...change } })]);
}
const number = (e: Event) => ((e.target as HTMLInputElement).value === "" ? null : Number((e.target as HTMLInputElement).value));
</script>

<template>
  <div class="grid gap-6 xl:grid-cols-2">
    <section>
      <h2 class="mb-1 text-lg font-semibold">From {{ what }}</h2>
      <table class="grid-table">
        <tbody>
          <tr v-for="f in plan.power" :key="f.label">
            <td>{{ f.label }}</td>
            <td class="text-right"><FigureView :figure="f" /></td>
          </tr>
        </tbody>
      </table>
      <h2 class="mt-4 mb-1 text-lg font-semibold">Rails</h2>
      <SupplyPanel :plan="plan" part="rails" />
    </section>
    <section>
      <h2 class="mb-1 text-lg font-semibold">Protection and cable</h2>
      <p class="mb-2 text-sm text-faint">
        Mains, and what is wired to it, belongs to a licensed trade and the local code. Set a converter with a meter before the
        board is connected.
      </p>
      <fieldset :disabled="!site.canWrite.value || site.busy.value" class="flex flex-col gap-2">
        <FormField v-if="higher" v-slot="{ id }" label="Step-down module to 5 V"
          ><SelectBox
            :id="id"
            :model-value="power.module"
            :options="modules"
            label="Step-down module"
            @update:model-value="(m) => set({ module: m }, 'Step-down module changed')"
        /></FormField>
        <FormField v-if="cells" v-slot="{ id }" label="Charger"
          ><SelectBox
            :id="id"
            :model-value="power.charger"
            :options="chargers"
            label="Charger"
            @update:model-value="(c) => set({ charger: c }, 'Charger changed')"
        /></FormField>
        <div class="grid grid-cols-3 gap-3">
          <FormField v-for="n in numbers" :key="n.key" v-slot="{ id }" :label="n.label"
            ><input
              :id="id"
              class="field mono w-full"
              type="number"
              step="any"
              :min="n.min ?? 0"
              :max="n.max"
              :placeholder="n.usual ? 'usual' : ''"
              :value="power[n.key] ?? ''"
              @change="set({ [n.key]: number($event) ?? n.empty ?? null }, n.changed)"
          /></FormField>
        </div>
        <div v-if="power.rails?.length" class="flex flex-col gap-1">
          <h3 class="font-semibold">Further rails</h3>
          <p v-for="r in power.rails" :key="r.volts" class="flex flex-wrap items-center gap-3">
            <span class="mono">{{ r.volts }} V</span>
            <span>{{ moduleLabel(r.module) }}</span>
            <AppButton small @click="set({ rails: power.rails!.filter((o) => o !== r) }, `Rail of ${r.volts} V removed`)"
              >Remove</AppButton
            >
          </p>
        </div>
        <div class="flex flex-wrap items-end gap-3">
          <FormField v-slot="{ id }" label="Add a rail, V"
            ><input :id="id" v-model.number="railVolts" class="field mono w-24" type="number" step="any" min="0.8" max="30"
          /></FormField>
          <FormField v-slot="{ id }" label="Through"
            ><SelectBox :id="id" v-model="railModule" :options="railModules" label="Converter of the rail"
          /></FormField>
          <AppButton
            :disabled="!railVolts || !railModule"
            @click="
              set({ rails: [...(power.rails ?? []), { volts: railVolts!, module: railModule! }] }, `Rail of ${railVolts} V added`)
            "
            >Add the rail</AppButton
          >
        </div>
        <label v-for="t in ticks" :key="t.key" class="flex min-h-9 items-center gap-2">
          <input
            type="checkbox"
            class="size-4"
            :checked="power[t.key] as boolean"
            @change="set({ [t.key]: ($event.target as HTMLInputElement).checked }, t.label)"
          />
          {{ t.label }}
        </label>
      </fieldset>
    </section>
  </div>
</template>

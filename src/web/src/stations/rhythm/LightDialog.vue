<script setup lang="ts">
/** A light cell: its size, its light, and the capacitor it fills. */
import { computed, ref } from "vue";
import type { HarvestDesign, NodeDesign } from "@/api/client";
import { useSite } from "@/app/site";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import { setNode } from "../bench/node-edits";
import { plainHarvest } from "../bench/power";

const props = defineProps<{ node: NodeDesign }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const start = props.node.power.harvest ?? plainHarvest;
/** A number as typed, or an empty field. */
type Typed = number | string;
const form = ref({
  area: start.areaSquareCm as Typed,
  efficiency: start.efficiencyPercent as Typed,
  light: start.light,
  latitude: (start.latitudeDegrees ?? "") as Typed,
  clearness: (start.clearness ?? "") as Typed,
  lux: (start.lux ?? "") as Typed,
  hours: (start.hoursPerDay ?? "") as Typed,
  table: start.wattHoursPerSquareMetre?.join(" ") ?? "",
  capacitor: (start.capacitorMicrofarads ?? "") as Typed,
  startVolts: start.startVolts as Typed,
  stopVolts: start.stopVolts as Typed,
});
const fault = ref("");
const stored = computed(() => props.node.power.kind === "capacitor");
const lights = [
  { value: "sun" as const, label: "the sun" },
  { value: "lamp" as const, label: "a lamp indoors" },
  { value: "table" as const, label: "a table by month" },
];
const numeric = (v: Typed) => (typeof v === "number" ? v : null);

async function save() {
  const f = form.value;
  const words = f.table.split(/[\s;]+/).filter(Boolean);
  const harvest: HarvestDesign = {
    areaSquareCm: numeric(f.area) ?? 0,
    efficiencyPercent: numeric(f.efficiency) ?? 0,
    light: f.light,
    latitudeDegrees: f.light === "sun" ? numeric(f.latitude) : null,
    clearness: f.light === "sun" ? numeric(f.clearness) : null,
    lux: f.light === "lamp" ? numeric(f.lux) : null,
    hoursPerDay: f.light === "lamp" ? numeric(f.hours) : null,
    wattHoursPerSquareMetre: f.light === "table" ? words.map((w) => Number(w.replace(",", "."))) : null,
    capacitorMicrofarads: stored.value ? numeric(f.capacitor) : null,
    startVolts: numeric(f.startVolts) ?? 0,
    stopVolts: numeric(f.stopVolts) ?? 0,
  };
  if (harvest.wattHoursPerSquareMetre?.some(Number.isNaN)) {
    fault.value = "The table holds something that is no number; write twelve values with a space between, January first.";
    return;
  }
  const done = await site.apply("Light cell set", [setNode(props.node, { power: { ...props.node.power, harvest } })], true);
  if (done.ok) emit("close");
  else fault.value = done.reasons.join(" ");
}
</script>

<template>
  <DialogForm title="Light cell" save="Save" :busy="site.busy.value" @close="$emit('close')" @save="save">
    <div class="grid gap-3 sm:grid-cols-2">
      <TextField v-model="form.area" label="Area, cm²" number />
      <TextField v-model="form.efficiency" label="Efficiency at that light, %" number />
    </div>
    <FormField v-slot="{ id }" label="Lit by"
      ><SelectBox :id="id" v-model="form.light" :options="lights" label="Lit by"
    /></FormField>
    <div v-if="form.light === 'sun'" class="grid gap-3 sm:grid-cols-2">
      <TextField v-model="form.latitude" label="Latitude, degrees north" number hint="South is negative." />
      <TextField
        v-model="form.clearness"
        label="Part of the sunlight that reaches it"
        number
        hint="0 to 1; empty: 0.4, a cloudy open place."
      />
    </div>
    <div v-else-if="form.light === 'lamp'" class="grid gap-3 sm:grid-cols-2">
      <TextField v-model="form.lux" label="Light on the cell, lx" number hint="A desk has about 500, a shelf 100 to 200." />
      <TextField v-model="form.hours" label="Lit, hours a day" number />
    </div>
    <TextField
      v-else
      v-model="form.table"
      label="Wh/m² on a day, January to December"
      mono
      hint="Twelve values with a space between."
    />
    <template v-if="stored">
      <TextField v-model="form.capacitor" label="Storage capacitor, µF" number hint="1 F is 1000000 µF." />
      <div class="grid gap-3 sm:grid-cols-2">
        <TextField v-model="form.startVolts" label="Node starts at, V" number />
        <TextField v-model="form.stopVolts" label="Node stops below, V" number />
      </div>
    </template>
    <p v-if="fault" class="text-sm text-stop" role="alert">{{ fault }}</p>
  </DialogForm>
</template>

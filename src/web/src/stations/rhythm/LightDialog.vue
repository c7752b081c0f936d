<script setup lang="ts">
/** A light cell: its size, its light, and the capacitor it fills. */
import { computed, ref } from "vue";
import type { HarvestDesign, NodeDesign } from "@/api/client";
import { useSite } from "@/app/site";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import type { Fault } from "@/kit/faults";
import { setNode } from "../bench/node-edits";

const props = defineProps<{ node: NodeDesign }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const start = props.node.power.harvest ?? site.usual.value.harvest;
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
const faults = ref<Fault[]>([]);
const stored = computed(() => props.node.power.kind === "capacitor");
const lights = [
  { value: "sun" as const, label: "the sun" },
  { value: "lamp" as const, label: "a lamp indoors" },
  { value: "table" as const, label: "a table by month" },
];
const numeric = (v: Typed) => (typeof v === "number" ? v : null);

async function save() {
  faults.value = [];
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
    faults.value = [
      {
        says: "The table holds something that is no number; write twelve values with a space between, January first.",
        field: "power.harvest.wattHoursPerSquareMetre",
      },
    ];
    return;
  }
  const done = await site.apply("Light cell set", [setNode(props.node, { power: { ...props.node.power, harvest } })], true);
  if (done.ok) emit("close");
  else faults.value = done.faults;
}
</script>

<template>
  <DialogForm title="Light cell" save="Save" :busy="site.busy.value" :faults="faults" @close="$emit('close')" @save="save">
    <div class="grid gap-3 sm:grid-cols-2">
      <TextField v-model="form.area" label="Area, cm²" field="power.harvest.areaSquareCm" number />
      <TextField v-model="form.efficiency" label="Efficiency at that light, %" field="power.harvest.efficiencyPercent" number />
    </div>
    <FormField v-slot="{ id }" label="Lit by"
      ><SelectBox :id="id" v-model="form.light" :options="lights" label="Lit by"
    /></FormField>
    <div v-if="form.light === 'sun'" class="grid gap-3 sm:grid-cols-2">
      <TextField
        v-model="form.latitude"
        label="Latitude, degrees north"
        field="power.harvest.latitudeDegrees"
        number
        hint="South is negative."
      />
      <TextField
        v-model="form.clearness"
        label="Part of the sunlight that reaches it"
        field="power.harvest.clearness"
        number
        hint="0 to 1; empty: 0.4, a cloudy open place."
      />
    </div>
    <div v-else-if="form.light === 'lamp'" class="grid gap-3 sm:grid-cols-2">
      <TextField
        v-model="form.lux"
        label="Light on the cell, lx"
        field="power.harvest.lux"
        number
        hint="A desk has about 500, a shelf 100 to 200."
      />
      <TextField v-model="form.hours" label="Lit, hours a day" field="power.harvest.hoursPerDay" number />
    </div>
    <TextField
      v-else
      v-model="form.table"
      label="Wh/m² on a day, January to December"
      field="power.harvest.wattHoursPerSquareMetre"
      mono
      hint="Twelve values with a space between."
    />
    <template v-if="stored">
      <TextField
        v-model="form.capacitor"
        label="Storage capacitor, µF"
        field="power.harvest.capacitorMicrofarads"
        number
        hint="1 F is 1000000 µF."
      />
      <div class="grid gap-3 sm:grid-cols-2">
        <TextField v-model="form.startVolts" label="Node starts at, V" field="power.harvest.startVolts" number />
        <TextField v-model="form.stopVolts" label="Node stops below, V" field="power.harvest.stopVolts" number />
      </div>
    </template>
  </DialogForm>
</template>

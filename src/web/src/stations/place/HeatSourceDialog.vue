<script setup lang="ts">
/** A heater or a vent: what it is and where it stands. */
import { computed, ref } from "vue";
import type { HeatSource } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import MetresField from "@/kit/MetresField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import type { Fault } from "@/kit/faults";
import { heatSourceNames, onFloor, planBox } from "@/kit/plan";
import { round } from "./outline";

/** @prop floor Key of the floor on which a new one stands; empty for the ground. */
const props = defineProps<{ source?: HeatSource; floor: string }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const place = computed(() => site.design.value!.place);
const box = planBox(
  onFloor(place.value, props.floor || null).rooms.flatMap((r) => r.corners),
  0,
);
const form = ref({
  label: props.source?.label ?? "",
  kind: props.source?.kind ?? ("heater" as const),
  x: props.source?.x ?? round(box.x + box.w / 2),
  y: props.source?.y ?? round(box.y + box.h / 2),
});
const kinds = Object.entries(heatSourceNames).map(([value, label]) => ({ value: value as HeatSource["kind"], label }));
const faults = ref<Fault[]>([]);

async function save() {
  faults.value = [];
  if (!isFinite(form.value.x) || !isFinite(form.value.y)) {
    faults.value = [{ says: "Places are numbers of metres." }];
    return;
  }
  const sources = place.value.heatSources ?? [];
  const label = form.value.label.trim();
  const key =
    props.source?.key ??
    keyFrom(
      label || "heater",
      sources.map((h) => h.key),
    );
  const heatSource: HeatSource = {
    ...form.value,
    label,
    key,
    floor: (props.source ? props.source.floor : props.floor) || null,
  };
  const done = await site.apply(`${label} ${props.source ? "changed" : "added"}`, [{ kind: "putHeatSource", heatSource }], true);
  if (done.ok) emit("close");
  else faults.value = done.faults;
}
</script>

<template>
  <DialogForm
    :title="source ? source.label : 'New heater or vent'"
    :save="source ? 'Save' : 'Add it'"
    :busy="site.busy.value"
    :faults="faults"
    @close="$emit('close')"
    @save="save"
  >
    <TextField v-model="form.label" label="Name" field="heatSource.label" hint="Like Radiator in the hall." />
    <div class="grid grid-cols-2 gap-3 sm:grid-cols-3">
      <FormField v-slot="{ id }" label="It is" class="col-span-2 sm:col-span-1"
        ><SelectBox :id="id" v-model="form.kind" :options="kinds" label="It is" class="w-full"
      /></FormField>
      <MetresField v-model="form.x" label="From left, m" field="heatSource.x" />
      <MetresField v-model="form.y" label="From top, m" field="heatSource.y" />
    </div>
    <p class="text-sm text-faint">
      Motion sensors that work by heat should not look at it, and no thermometer hang beside it. On the plan it can be dragged.
    </p>
  </DialogForm>
</template>

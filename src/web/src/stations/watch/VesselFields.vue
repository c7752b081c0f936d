<script setup lang="ts">
/** The shape and measures of a vessel. */
import CheckBox from "@/kit/CheckBox.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import type { VesselForm } from "./derived";

/** The field of the edit that the vessel lies in. */
defineProps<{ field?: string }>();
const vessel = defineModel<VesselForm>({ required: true });
const shapes = [
  { value: "upright" as const, label: "upright cylinder" },
  { value: "lying" as const, label: "lying cylinder" },
  { value: "box" as const, label: "box" },
];
</script>

<template>
  <div class="grid gap-3 sm:grid-cols-2">
    <FormField v-slot="{ id }" label="Shape"
      ><SelectBox :id="id" v-model="vessel.shape" :options="shapes" label="Shape"
    /></FormField>
    <CheckBox v-model="vessel.down" class="self-end" label="The sensor looks down on the water" />
    <TextField
      v-if="vessel.down"
      v-model="vessel.sensorCm"
      label="Sensor above the bottom, cm"
      :field="field && `${field}.sensorCm`"
      number
    />
    <TextField
      v-model="vessel.widthCm"
      :label="vessel.shape === 'box' ? 'Inner width, cm' : 'Inner diameter, cm'"
      :field="field && `${field}.widthCm`"
      number
    />
    <TextField
      v-if="vessel.shape !== 'upright'"
      v-model="vessel.lengthCm"
      label="Inner length, cm"
      :field="field && `${field}.lengthCm`"
      number
    />
    <TextField
      v-if="vessel.shape !== 'lying'"
      v-model="vessel.heightCm"
      label="Inner height, cm"
      :field="field && `${field}.heightCm`"
      number
    />
  </div>
</template>

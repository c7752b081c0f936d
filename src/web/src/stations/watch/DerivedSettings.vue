<script setup lang="ts">
/** The settings of a formula beside its readings. */
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import type { PulsesDesign } from "@/api/client";
import type { DerivedForm } from "./derived";

const props = defineProps<{ pulses: PulsesDesign[] }>();
const form = defineModel<DerivedForm>({ required: true });
const pulseKinds = [
  { value: "none" as const, label: "no pulses: its rise an hour" },
  { value: "litre" as const, label: "pulses of litres: L/min" },
  { value: "revolution" as const, label: "pulses of turns: turns a minute" },
  { value: "kilowattHour" as const, label: "pulses of kWh: kW" },
  { value: "millimetreOfRain" as const, label: "pulses of rain: mm/h" },
];

function count(of: DerivedForm["pulsesOf"]) {
  form.value.pulsesOf = of;
  form.value.pulsesEach = props.pulses.find((p) => p.of === of)?.each ?? "";
}
</script>

<template>
  <FormField v-if="form.kind === 'vessel'" v-slot="{ id: f }" label="As"
    ><SelectBox
      :id="f"
      v-model="form.measure"
      :options="[
        { value: 'litres' as const, label: 'volume, L' },
        { value: 'level' as const, label: 'level, cm' },
        { value: 'share' as const, label: 'fullness, %' },
      ]"
      label="As"
  /></FormField>
  <FormField v-if="form.kind === 'mouldIndex'" v-slot="{ id: f }" label="On"
    ><SelectBox
      :id="f"
      v-model="form.ground"
      :options="[
        { value: 'wood' as const, label: 'bare wood' },
        { value: 'stone' as const, label: 'stone, plaster' },
      ]"
      label="On"
  /></FormField>
  <template v-if="form.kind === 'degreeDays'">
    <FormField v-slot="{ id: f }" label="Counts"
      ><SelectBox
        :id="f"
        v-model="form.side"
        :options="[
          { value: 'below' as const, label: 'below (heating)' },
          { value: 'above' as const, label: 'above (cooling)' },
        ]"
        label="Counts"
    /></FormField>
    <TextField v-model="form.base" label="Base, °C" field="derived.from.baseCelsius" number />
  </template>
  <TextField v-if="form.kind === 'runningHours'" v-model="form.above" label="While above" field="derived.from.above" number />
  <TextField
    v-if="form.kind === 'conductivityAt25' || form.kind === 'dissolvedSolids'"
    v-model="form.percent"
    label="Rises, % a °C"
    field="derived.from.percentPerKelvin"
    number
  />
  <TextField
    v-if="form.kind === 'dissolvedSolids'"
    v-model="form.factor"
    label="mg/L each µS/cm"
    field="derived.from.factor"
    number
  />
  <TextField
    v-if="form.kind === 'rate' || form.kind === 'lostShare'"
    v-model="form.within"
    label="Over the last"
    field="derived.from.withinMs"
    mono
  />
  <template v-if="form.kind === 'rate'">
    <FormField v-slot="{ id: f }" label="It counts"
      ><SelectBox :id="f" :model-value="form.pulsesOf" :options="pulseKinds" label="It counts" @update:model-value="count"
    /></FormField>
    <TextField
      v-if="form.pulsesOf !== 'none'"
      v-model="form.pulsesEach"
      label="Pulses for one"
      field="derived.from.pulses.each"
      number
    />
  </template>
  <TextField v-if="form.kind === 'presence'" v-model="form.hold" label="Off when quiet for" field="derived.from.holdMs" mono />
</template>

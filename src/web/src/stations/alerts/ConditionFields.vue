<script setup lang="ts">
/** One condition of a rule: a reading, and what it does. */
import { computed, watch } from "vue";
import type { ReadingView } from "@/api/client";
import CheckBox from "@/kit/CheckBox.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import { isSequence, lastingFor, whatsOf, type ConditionForm } from "./condition";

const props = defineProps<{
  label: string;
  readings: { value: string; label: string }[];
  /** Readings that happen, for sequences. */
  events: ReadingView[];
  unit: string;
  isState: boolean;
  faults: Record<string, string>;
  /** The path of the condition in the edit. */
  field: string;
}>();
const reading = defineModel<string>("reading", { required: true });
const condition = defineModel<ConditionForm>("condition", { required: true });
watch(
  () => condition.value.what,
  (what) => (condition.value.lasting = lastingFor(what, condition.value.lasting)),
);
const whats = computed(() => whatsOf(props.isState));
/** Another reading may not do what the one before did. */
watch(whats, (can) => {
  if (!can.some((w) => w.value === condition.value.what)) condition.value.what = can[0]!.value;
});
const what = computed(() => condition.value.what);
const oneSided = computed(() => what.value === "above" || what.value === "below");
/** A label with its unit, where there is one. */
const inUnit = (word: string) => (props.unit ? `${word}, ${props.unit}` : word);
const first = computed(() => {
  switch (what.value) {
    case "above":
    case "below":
      return inUnit("Limit");
    case "outside":
      return inUnit("From");
    case "events":
      return "Times";
    case "silent":
    case "on":
    case "off":
    case "both":
    case "firstAlone":
    case "secondAlone":
      return undefined;
    default:
      return inUnit("By");
  }
});
/** Where a field of the form lies in the condition as it is sent. */
const at = computed(() => {
  const of = (member: string) => `${props.field}.${member}`;
  const band = what.value === "outside";
  const within = ["rises", "falls", "events"].includes(what.value) || isSequence(what.value);
  return {
    first: of(band ? "low" : what.value === "events" ? "count" : oneSided.value ? "limit" : "by"),
    second: of(band ? "high" : "clear"),
    lasting: of(within ? "withinMs" : "forMs"),
    times: of("times"),
    inside: of("clearBy"),
    other: of("other"),
  };
});
const lasting = computed(() => (["rises", "falls", "events"].includes(what.value) || isSequence(what.value) ? "within" : "for"));
const others = computed(() =>
  props.events
    .filter((r) => `${r.node}/${r.key}` !== reading.value)
    .map((r) => ({ value: `${r.node}/${r.key}`, label: `${r.label} (${r.nodeLabel})` })),
);
</script>

<template>
  <div class="flex flex-col gap-3">
    <FormField v-slot="{ id }" :label="label"
      ><SelectBox :id="id" v-model="reading" :options="readings" :label="label"
    /></FormField>
    <div class="grid gap-3 sm:grid-cols-[1.7fr_1fr_1fr]">
      <FormField v-slot="{ id }" label="What it does">
        <SelectBox :id="id" v-model="condition.what" :options="whats" label="What it does" />
      </FormField>
      <TextField v-if="first" v-model="condition.first" :label="first" number :fault="faults.first" :field="at.first" />
      <TextField
        v-if="oneSided || what === 'outside'"
        v-model="condition.second"
        :label="inUnit(oneSided ? 'Over at' : 'to')"
        number
        :fault="faults.second"
        :field="at.second"
      />
      <FormField
        v-if="isSequence(what)"
        v-slot="{ id }"
        label="The other"
        :fault="faults.other"
        :field="at.other"
        class="sm:col-span-2"
        ><SelectBox :id="id" v-model="condition.other" :options="others" label="The other"
      /></FormField>
    </div>
    <div class="grid gap-3 sm:grid-cols-2">
      <TextField
        v-model="condition.lasting"
        :label="lasting"
        mono
        :fault="faults.lasting"
        :field="at.lasting"
        :disabled="oneSided && Number(condition.times) > 1"
        :hint="lasting === 'for' && what !== 'silent' ? '0 s: at once' : undefined"
      />
      <TextField v-if="oneSided" v-model="condition.times" label="Values in a row" :field="at.times" number min="1" max="100" />
      <TextField
        v-if="what === 'outside'"
        v-model="condition.inside"
        :label="inUnit('Over when inside by')"
        :field="at.inside"
        number
        min="0"
      />
      <CheckBox v-if="isSequence(what)" v-model="condition.inOrder" class="self-end" label="The other must not come first" />
    </div>
    <p v-if="what === 'unlike'" class="text-sm text-faint">
      Usual is what 98 of 100 values were at this hour of this weekday in the eight weeks before. Until it has seen seven days it
      stays quiet.
    </p>
  </div>
</template>

<script setup lang="ts">
/** Whom a rule or a zone tells, in which order, and when again. */
import { computed } from "vue";
import { useSite } from "@/app/site";
import CheckBox from "@/kit/CheckBox.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import type { TellForm } from "./tell";

const form = defineModel<TellForm>({ required: true });
const site = useSite();
const people = computed(() => site.design.value?.people ?? []);
const step = (key: string) => form.value.steps.find((s) => s.person === key);

function toggle(key: string, on: boolean) {
  const steps = form.value.steps.filter((s) => s.person !== key);
  form.value = { ...form.value, steps: on ? [...steps, { person: key, after: "0 s" }] : steps };
}
const often = [
  { value: "auto" as const, label: "tell it when it lasts 10 min; moments each time" },
  { value: "lasting" as const, label: "tell it only when it lasts 10 min" },
  { value: "each" as const, label: "tell it each time" },
];
</script>

<template>
  <fieldset class="flex flex-col gap-1 border-t border-rule pt-2">
    <legend class="caps">Whom to tell</legend>
    <p v-if="!people.length" class="text-sm text-faint">
      Nobody yet: add people with their ways under People. Pages that are open are told by themselves.
    </p>
    <div v-for="p in people" :key="p.key" class="flex flex-wrap items-center gap-x-4">
      <CheckBox class="min-w-40" :label="p.name" :model-value="!!step(p.key)" @update:model-value="toggle(p.key, !!$event)" />
      <label v-if="step(p.key)" class="flex items-center gap-2 text-sm text-faint"
        >after
        <input v-model="step(p.key)!.after" class="field mono w-24" :aria-label="`Wait before telling ${p.name}`" /> without an
        acknowledgement</label
      >
    </div>
    <template v-if="form.steps.length">
      <div class="grid gap-3 sm:grid-cols-2">
        <TextField v-model="form.remind" label="Remind every" mono hint="Empty tells once. It ends with an acknowledgement." />
        <FormField v-slot="{ id: f }" label="Raised more than three times an hour"
          ><SelectBox :id="f" v-model="form.often" :options="often" label="Raised more than three times an hour"
        /></FormField>
      </div>
      <CheckBox v-model="form.throughQuiet" label="Urgent: quiet hours do not hold it back" />
      <CheckBox v-model="form.whenOver" label="Tell also when it is over" />
    </template>
  </fieldset>
</template>

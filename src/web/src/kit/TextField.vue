<script setup lang="ts">
/** A labelled input with the sentence beside it. With `number` it gives a number, or an empty string when there is none. */
import FormField from "./FormField.vue";

defineOptions({ inheritAttrs: false });
defineProps<{ label: string; fault?: string; hint?: string; field?: string; number?: boolean; mono?: boolean }>();
const model = defineModel<string | number | undefined>();
</script>

<template>
  <FormField v-slot="{ id, described, invalid }" :label="label" :fault="fault" :hint="hint" :field="field">
    <input
      v-if="number"
      :id="id"
      v-model.number="model"
      type="number"
      step="any"
      class="field mono w-full"
      v-bind="$attrs"
      :aria-describedby="described"
      :aria-invalid="invalid"
    />
    <input
      v-else
      :id="id"
      v-model="model"
      class="field w-full"
      :class="{ mono }"
      v-bind="$attrs"
      :aria-describedby="described"
      :aria-invalid="invalid"
    />
  </FormField>
</template>

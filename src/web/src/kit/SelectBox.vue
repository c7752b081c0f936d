<script setup lang="ts" generic="T extends string | number | null | undefined">
/** A choice from a short list (Headless UI listbox). */
import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from "@headlessui/vue";
import { computed } from "vue";

const props = defineProps<{
  modelValue: T;
  options: { value: T; label: string }[];
  label: string;
  id?: string;
  disabled?: boolean;
}>();
defineEmits<{ "update:modelValue": [value: T] }>();
const shown = computed(() => props.options.find((o) => o.value === props.modelValue)?.label ?? "choose");
</script>

<template>
  <Listbox
    :model-value="modelValue"
    :disabled="disabled"
    as="div"
    class="relative inline-block"
    @update:model-value="$emit('update:modelValue', $event)"
  >
    <ListboxButton
      :id="id"
      class="field flex w-full items-center justify-between gap-2 text-left disabled:opacity-60"
      :aria-label="`${label}: ${shown}`"
    >
      <span>{{ shown }}</span>
      <svg viewBox="0 0 10 6" class="w-2.5 shrink-0" aria-hidden="true">
        <path d="m1 1 4 4 4-4" fill="none" stroke="currentColor" stroke-width="1.5" />
      </svg>
    </ListboxButton>
    <ListboxOptions
      class="absolute z-20 mt-1 max-h-72 min-w-full overflow-auto border border-rule bg-sheet py-1 whitespace-nowrap shadow-lg focus:outline-none"
    >
      <ListboxOption v-for="o in options" :key="String(o.value)" v-slot="{ active, selected }" :value="o.value" as="template">
        <li class="px-3 py-1.5" :class="[active ? 'bg-act text-onact' : '', selected ? 'font-semibold' : '']">{{ o.label }}</li>
      </ListboxOption>
    </ListboxOptions>
  </Listbox>
</template>

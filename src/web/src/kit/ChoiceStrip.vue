<script setup lang="ts" generic="T extends string | number">
/** A few choices side by side, of which one is taken or none. */
defineProps<{
  label: string;
  /** `name` is what is spoken where the label alone does not say enough. */
  options: readonly { value: T; label: string; name?: string }[];
  disabled?: boolean;
  /** Wider buttons, for what must not be missed with a thumb. */
  wide?: boolean;
}>();
const model = defineModel<T>();
</script>

<template>
  <span class="flex border border-faint" role="group" :aria-label="label">
    <button
      v-for="o in options"
      :key="o.value"
      type="button"
      class="min-h-11"
      :class="[wide ? 'min-w-16 px-3' : 'min-w-11 px-2.5', model === o.value ? 'bg-act text-onact' : 'hover:text-act']"
      :aria-pressed="model === o.value"
      :aria-label="o.name"
      :disabled="disabled"
      @click="model = o.value"
    >
      {{ o.label }}
    </button>
  </span>
</template>

<script setup lang="ts">
/** A labelled tick. */
defineProps<{ label: string; disabled?: boolean; hint?: string }>();
const model = defineModel<boolean>();
</script>

<template>
  <label class="flex min-h-9 items-center gap-2">
    <input v-model="model" type="checkbox" class="size-4 shrink-0" :disabled="disabled" />
    <span
      >{{ label }}<span v-if="hint" class="block text-sm text-faint">{{ hint }}</span></span
    >
  </label>
</template>

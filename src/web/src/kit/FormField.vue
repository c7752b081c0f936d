<script setup lang="ts">
/** A label, its field, and the sentence beside it that says what is wrong and what would be right. */
import { useId } from "vue";

defineProps<{ label: string; fault?: string; hint?: string }>();
const id = useId();
</script>

<template>
  <div class="flex flex-col gap-1">
    <label :for="id" class="caps">{{ label }}</label>
    <slot :id="id" :described="fault || hint ? `${id}-say` : undefined" :invalid="fault ? true : undefined" />
    <p v-if="fault" :id="`${id}-say`" class="text-sm text-stop" role="alert">{{ fault }}</p>
    <p v-else-if="hint" :id="`${id}-say`" class="text-sm text-faint">{{ hint }}</p>
  </div>
</template>

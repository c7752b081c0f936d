<script setup lang="ts">
/** A label, its field, and the sentence beside it that says what is wrong and what would be right. */
import { computed, useId } from "vue";
import { useFault } from "./faults";

/** `field` is its path in the edit: what the server refuses there is shown here. */
const props = defineProps<{ label: string; fault?: string; hint?: string; field?: string }>();
const id = useId();
const refused = useFault(() => props.field);
const wrong = computed(() => props.fault || refused.value);
</script>

<template>
  <div class="flex flex-col gap-1">
    <label :for="id" class="caps">{{ label }}</label>
    <slot :id="id" :described="wrong || hint ? `${id}-say` : undefined" :invalid="wrong ? true : undefined" />
    <p v-if="wrong" :id="`${id}-say`" class="text-sm text-stop" role="alert">{{ wrong }}</p>
    <p v-else-if="hint" :id="`${id}-say`" class="text-sm text-faint">{{ hint }}</p>
  </div>
</template>

<script setup lang="ts">
/** A field in a table cell: it is taken when left or on Enter; what cannot be taken stays as typed, with the reason under it. */
import { ref } from "vue";

const props = defineProps<{
  text: string;
  label: string;
  disabled?: boolean;
  placeholder?: string;
  /** Takes what was typed: undefined when it was taken, else the sentence that says why not. */
  take: (typed: string) => Promise<string | undefined> | string | undefined;
}>();
const typed = ref<string>();
const fault = ref<string>();

async function leave() {
  if (typed.value === undefined) return;
  if (typed.value.trim() === props.text) {
    typed.value = fault.value = undefined;
    return;
  }
  fault.value = await props.take(typed.value.trim());
  if (!fault.value) typed.value = undefined;
}
function escape() {
  typed.value = fault.value = undefined;
}
</script>

<template>
  <input
    class="field mono w-full"
    :value="typed ?? text"
    :disabled="disabled"
    :placeholder="placeholder"
    :aria-label="label"
    :aria-invalid="fault ? true : undefined"
    @input="typed = ($event.target as HTMLInputElement).value"
    @change="leave"
    @keydown.escape="escape"
  />
  <p v-if="fault" class="mt-1 max-w-60 text-sm text-stop" role="alert">{{ fault }}</p>
</template>

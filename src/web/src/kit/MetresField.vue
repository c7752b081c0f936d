<script setup lang="ts">
/** A length, typed in metres or as it was measured: "3.6", "360 cm", "12 ft 4 in". It gives metres, or an empty string for none. */
import { ref, watch } from "vue";
import TextField from "./TextField.vue";
import { parseMetres } from "./format";

const props = defineProps<{ label: string; hint?: string; field?: string; fault?: string }>();
const model = defineModel<number | "" | null | undefined>();
const shown = (metres: typeof model.value) => (typeof metres === "number" && isFinite(metres) ? String(metres) : "");
const text = ref(shown(model.value));
const wrong = ref("");

watch(model, (metres) => {
  // What is being typed and is no length yet stays as it is.
  if (!Number.isNaN(metres) && metres !== parsed()) text.value = shown(metres);
});
watch(text, () => {
  const metres = parsed();
  wrong.value = metres === undefined ? "A length: 3.6, 360 cm, or 12 ft 4 in." : "";
  model.value = metres ?? NaN;
});

/** Metres; an empty string for nothing, undefined for what is no length. */
function parsed(): number | "" | undefined {
  return text.value.trim() ? parseMetres(text.value) : "";
}
</script>

<template>
  <TextField v-model="text" :label="label" :hint="hint" :field="field" :fault="wrong || props.fault" mono inputmode="text" />
</template>

<script setup lang="ts">
/** What to do while a room is drawn: how, the length of the side that is drawn, and the ways to end it. */
import { ref } from "vue";
import AppButton from "@/kit/AppButton.vue";
import MetresField from "@/kit/MetresField.vue";

defineProps<{ corners: number }>();
const emit = defineEmits<{ length: [metres: number]; close: []; stop: [] }>();
const length = ref<number | "">("");

function put() {
  if (typeof length.value !== "number" || !(length.value > 0)) return;
  emit("length", length.value);
  length.value = "";
}
</script>

<template>
  <div class="mb-2 flex flex-wrap items-end gap-x-4 gap-y-2">
    <p class="max-w-prose text-sm text-faint" role="status">
      <template v-if="!corners">
        Drag from corner to corner for a rectangle, or click corner by corner for another shape. By keys: arrows move the cross,
        Shift by a metre, Enter sets a corner.
      </template>
      <template v-else>
        {{ corners }} {{ corners === 1 ? "corner" : "corners" }} set. Click on for the next, or type how long the side is.
        Backspace takes the last one back.
      </template>
    </p>
    <form v-if="corners" class="flex items-end gap-2" @submit.prevent="put">
      <MetresField v-model="length" label="Side, m" class="w-28" />
      <AppButton type="submit">Set the corner</AppButton>
    </form>
    <AppButton v-if="corners > 2" kind="lead" @click="$emit('close')">Close the outline</AppButton>
    <AppButton @click="$emit('stop')">{{ corners ? "Start again" : "Stop drawing" }}</AppButton>
  </div>
</template>

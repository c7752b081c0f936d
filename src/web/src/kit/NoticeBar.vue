<script setup lang="ts">
/** The notices at the foot of the page, with undo where there is one. */
import { dismiss, notices } from "./notices";
import AppButton from "./AppButton.vue";

defineEmits<{ undo: [] }>();
</script>

<template>
  <div
    class="pointer-events-none fixed inset-x-0 bottom-28 z-40 flex justify-center px-3 md:bottom-4"
    role="status"
    aria-live="polite"
  >
    <div
      v-for="n in notices"
      :key="n.id"
      class="pointer-events-auto flex max-w-xl items-center gap-3 border bg-sheet px-3 py-2 shadow-lg"
      :class="n.bad ? 'border-stop' : 'border-rule'"
    >
      <span>{{ n.text }}</span>
      <AppButton v-if="n.undo" kind="bare" small @click="(dismiss(n.id), $emit('undo'))">Undo</AppButton>
      <AppButton kind="bare" small aria-label="Put this notice away" @click="dismiss(n.id)">✕</AppButton>
    </div>
  </div>
</template>

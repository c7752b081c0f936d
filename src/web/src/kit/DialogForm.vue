<script setup lang="ts">
/** A dialog with a form: one thing to do, and a way out that loses nothing but what was typed here. */
import AppButton from "./AppButton.vue";
import AppDialog from "./AppDialog.vue";

defineProps<{ title: string; save: string; busy: boolean; wide?: boolean }>();
defineEmits<{ close: []; save: [] }>();
</script>

<template>
  <AppDialog open :title="title" :wide="wide" @close="$emit('close')">
    <form class="flex flex-col gap-3" novalidate @submit.prevent="$emit('save')">
      <slot />
      <div class="flex gap-2">
        <AppButton kind="lead" type="submit" :disabled="busy">{{ save }}</AppButton>
        <AppButton @click="$emit('close')">Cancel</AppButton>
      </div>
    </form>
  </AppDialog>
</template>

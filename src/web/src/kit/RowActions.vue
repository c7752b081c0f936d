<script setup lang="ts">
/** What a row of a table can have done to it: changed, or removed. */
import AppButton from "./AppButton.vue";

defineProps<{ name: string }>();
defineEmits<{ edit: []; remove: [] }>();
</script>

<template>
  <AppButton kind="bare" small @click="$emit('edit')">Edit</AppButton>
  <AppButton kind="bare" small :aria-label="`Remove ${name}`" @click="$emit('remove')">Remove</AppButton>
</template>

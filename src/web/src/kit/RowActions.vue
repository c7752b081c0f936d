<script setup lang="ts">
/** What a row of a table can have done to it: changed, duplicated where that is offered, or removed. */
import AppButton from "./AppButton.vue";

defineProps<{ name: string; duplicates?: boolean }>();
defineEmits<{ edit: []; remove: []; duplicate: [] }>();
</script>

<template>
  <AppButton kind="bare" small @click="$emit('edit')">Edit</AppButton>
  <AppButton v-if="duplicates" kind="bare" small :aria-label="`Duplicate ${name}`" @click="$emit('duplicate')"
    >Duplicate</AppButton
  >
  <AppButton kind="bare" small :aria-label="`Remove ${name}`" @click="$emit('remove')">Remove</AppButton>
</template>

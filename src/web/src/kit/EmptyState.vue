<script setup lang="ts">
/** What to do next where there is nothing yet. */
defineProps<{ title: string; text: string }>();
</script>

<template>
  <div class="flex flex-col items-start gap-2 border border-dashed border-rule p-6">
    <h3 class="text-lg font-semibold">{{ title }}</h3>
    <p class="max-w-prose text-faint">{{ text }}</p>
    <slot />
  </div>
</template>

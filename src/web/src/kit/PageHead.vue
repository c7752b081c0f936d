<script setup lang="ts">
/** The head of a station: its name, the question it answers, and what can be done here. */
defineProps<{ title: string; asks: string }>();
</script>

<template>
  <header class="mb-3 flex flex-wrap items-end justify-between gap-x-6 gap-y-2">
    <div>
      <h1 class="text-2xl font-semibold">{{ title }}</h1>
      <p class="text-faint">{{ asks }}</p>
    </div>
    <div class="flex flex-wrap items-center gap-2"><slot /></div>
  </header>
</template>

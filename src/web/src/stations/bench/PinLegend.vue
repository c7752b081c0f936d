<script setup lang="ts">
/** What the signs of a comb mean, and how a wire is moved. */
defineProps<{ form: string }>();
</script>

<template>
  <figcaption class="flex flex-wrap gap-x-4 gap-y-1 px-1 pt-1 text-sm text-faint">
    <span>{{ form }}.</span>
    <span
      ><svg viewBox="0 0 10 10" class="mr-1 inline size-2.5"><path d="M1 9h8L5 1z" fill="var(--risk)" /></svg>hazard</span
    >
    <span
      ><svg viewBox="0 0 10 10" class="mr-1 inline size-2.5">
        <circle cx="5" cy="5" r="4" fill="var(--faint)" stroke="var(--ink)" /></svg
      >soldered</span
    >
    <span
      ><svg viewBox="0 0 10 10" class="mr-1 inline size-2.5">
        <rect x="1.5" y="1.5" width="7" height="7" fill="var(--sheet)" stroke="var(--ink)" /></svg
      >fixed by you</span
    >
    <span
      >Choose a wire to see which pins fit it; drag it onto another pin to see what that costs. By keyboard: M takes it in hand,
      arrows go from pin to pin, Enter lays it down.</span
    >
  </figcaption>
</template>
